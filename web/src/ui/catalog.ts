// Every text of the interface, by its id: the messages of a language, with the trade's words as a country has them.
// They come with the page that shows them; a page is drawn once its texts are there.
import { FluentBundle, FluentNumber, FluentResource } from '@fluent/bundle'

/** Messages by folder of the language and place, terms by folder of the country. */
const files = import.meta.glob<string>('../../../texts/*/*.ftl', { query: '?raw', import: 'default' })

export type Language = 'en-US' | 'en-GB'
/** Languages by their own name; each has a folder of terms, and one of messages for all its countries. */
export const languages: Record<Language, string> = { 'en-US': 'English (US)', 'en-GB': 'English (UK)' }

const KEY = 'rigore.language'
const ACCENTED = 'en-XA'

/** What was chosen in this browser, else what the browser speaks. */
function chosen(): string {
  try {
    const kept = localStorage.getItem(KEY)
    if (kept) return kept
  } catch {
    // A page without storage speaks as the browser does.
  }
  return /^en-(GB|IE|AU|NZ|ZA|IN)/.test(navigator.language) ? 'en-GB' : 'en-US'
}

const choice = chosen()
/** The language of this page. */
export const language: Language = choice in languages ? (choice as Language) : 'en-US'

/** Chooses another language; the page is opened again in it. */
export function setLanguage(to: Language) {
  localStorage.setItem(KEY, to)
  window.location.reload()
}

/** Accents on every vowel: a text that a page shows without them does not come from the catalog. For tests. */
const accent = (text: string) => text.replace(/[aeiou]/g, (letter) => 'àéîöû'['aeiou'.indexOf(letter)]!)

const bundle = new FluentBundle(language, {
  useIsolating: false,
  transform: choice === ACCENTED ? accent : undefined,
})

async function add(folder: string, name: string) {
  const load = files[`../../../texts/${folder}/${name}.ftl`]
  if (load) bundle.addResource(new FluentResource(await load()))
}

document.documentElement.lang = language
await Promise.all([add(language, 'terms'), add(language.slice(0, 2), 'common')])

/** What a message holds: a figure, a name, a time, as it is to be read. */
export type TextArguments = Record<string, string | number | false | null | undefined>

/** A figure is formatted where its unit is known; a count has no separators. */
const plain = (value: number) => new FluentNumber(value, { useGrouping: false, maximumFractionDigits: 20 })

/** A text by its id, with what it holds. What is missing leaves its place empty. */
export function t(id: string, values: TextArguments = {}): string {
  const message = bundle.getMessage(id)
  if (!message?.value) return id
  const given = Object.entries(values).map(([name, value]) => [
    name,
    typeof value === 'number' ? plain(value) : value || '',
  ])
  return bundle.formatPattern(message.value, Object.fromEntries(given))
}

/** The texts of a place, once they are here. */
export async function textsOf(place: string): Promise<typeof t> {
  await add(language.slice(0, 2), place)
  return t
}
