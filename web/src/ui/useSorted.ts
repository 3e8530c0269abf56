// A list in the order of a column that was chosen by its heading.
import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'

/** What a row is sorted by; rows that have nothing there come last. */
type Key = string | number | null | undefined

export function useSorted<Row>(
  rows: MaybeRefOrGetter<Row[]>,
  columns: Record<string, (row: Row) => Key>,
  first: { by: string; down: boolean },
) {
  const sort = ref(first)
  const compare = (a: Key, b: Key) =>
    typeof a === 'number' && typeof b === 'number'
      ? a - b
      : String(a).localeCompare(String(b), undefined, { numeric: true })
  const sorted = computed(() => {
    const { by, down } = sort.value
    const key = columns[by]
    if (!key) return toValue(rows)
    const isMissing = (row: Row) => key(row) === null || key(row) === undefined || key(row) === ''
    const has = toValue(rows).filter((row) => !isMissing(row))
    const sign = down ? -1 : 1
    return [...has.sort((a, b) => sign * compare(key(a), key(b))), ...toValue(rows).filter(isMissing)]
  })
  return { sort, sorted }
}
