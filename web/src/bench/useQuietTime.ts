// A key that bounces, or was meant for the operation or stage before, says nothing: for a while after something came up
// it is not listened to.
import { onUnmounted, ref } from 'vue'

/** How long what has just come up is looked at before a key means it. */
export const ARRIVED_MS = 800

export function useQuietTime() {
  const listens = ref(false)
  let timer: number | undefined
  /** Does not listen for a while. */
  function hush(ms: number) {
    listens.value = false
    window.clearTimeout(timer)
    timer = window.setTimeout(() => (listens.value = true), ms)
  }
  hush(ARRIVED_MS)
  onUnmounted(() => window.clearTimeout(timer))
  return { listens, hush }
}
