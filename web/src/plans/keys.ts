/** A key made of words that nothing else has yet. */
export function freeKey(words: string, taken: Iterable<string>): string {
  const known = new Set(taken)
  const plain = words.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'step'
  let free = plain
  for (let n = 2; known.has(free); n++) free = `${plain}-${n}`
  return free
}
