// What the tab of the browser and a screen reader call the page.
import { toValue, watchEffect, type MaybeRefOrGetter } from 'vue'

/** Shows a title now, followed by the name of the program; that alone where there is none. */
export function showTitle(title: string | undefined) {
  document.title = title ? `${title} · Rigore` : 'Rigore'
}

/** Shows the title of a page as soon as it is known, and whenever it changes. */
export function usePageTitle(title: MaybeRefOrGetter<string | undefined>) {
  watchEffect(() => {
    const text = toValue(title)
    if (text) showTitle(text)
  })
}
