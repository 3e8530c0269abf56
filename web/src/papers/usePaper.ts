// What stands at the edge of every printed page: which engine it is of, and what paper it is.
import { onUnmounted, toValue, watchEffect, type MaybeRefOrGetter } from 'vue'
import { t } from './texts'

export function usePaper(name: MaybeRefOrGetter<string | undefined>, paper: string) {
  const pages = new CSSStyleSheet()
  document.adoptedStyleSheets.push(pages)
  const font = t('papers-font-9pt-barlow-sans-serif')
  watchEffect(() => {
    const left = JSON.stringify(toValue(name) ?? '')
    pages.replaceSync(
      `@page { @top-left { content: ${left}; ${font} } @top-right { content: ${JSON.stringify(paper)}; ${font} } }`,
    )
  })
  onUnmounted(() => (document.adoptedStyleSheets = document.adoptedStyleSheets.filter((of) => of !== pages)))
}

/** A QR code that opens a page of this server. */
export const codeOf = (path: string) => `/api/code.svg?path=${encodeURIComponent(path)}`
