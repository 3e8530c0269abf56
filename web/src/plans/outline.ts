// The outline of a part around its fasteners, as a plan draws it.

/** How far it reaches beyond them, as a share of how far they reach, and at least so much, mm. */
const BEYOND = 0.1
const LEAST = 14

/** One rounded rectangle around places. */
export function outline(places: [number, number][]): string {
  const [xs, ys] = [places.map((p) => p[0]), places.map((p) => p[1])]
  const [x, y, right, bottom] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)]
  const beyond = Math.max(LEAST, BEYOND * Math.max(right - x, bottom - y))
  const mm = (value: number) => Math.round(value * 10) / 10
  const from = `[${mm(x - beyond)}, ${mm(y - beyond)}]`
  const to = `[${mm(right + beyond)}, ${mm(bottom + beyond)}]`
  return `{ kind = "rect", from = ${from}, to = ${to}, round = ${mm(beyond / 2)} }`
}
