// Every text of the interface, by its id: the messages of a language, with the trade's words as a country has them.
// They come with the page that shows them; a page is drawn once its texts are there.
import { FluentBundle, FluentNumber, FluentResource } from '@fluent/bundle'
import { nextTick } from 'vue'
import { chosenLanguage } from './preferences'

/** Messages by folder of the language and place, terms by folder of the country. */
const files = import.meta.glob<string>('../../../texts/*/*.ftl', { query: '?raw', import: 'default' })

export type Language = 'en-US' | 'en-GB'
/** Languages by their own name; each has a folder of terms, and one of messages for all its countries. */
export const languages: Record<Language, string> = { 'en-US': 'English (US)', 'en-GB': 'English (UK)' }

/** A language of the tests: accents on every vowel. */
const ACCENTED = 'en-XA'

/** What was chosen in this browser, else what the browser speaks. */
const choice = chosenLanguage.value || (/^en-(GB|IE|AU|NZ|ZA|IN)/.test(navigator.language) ? 'en-GB' : 'en-US')
/** The language of this page. */
export const language: Language = choice in languages ? (choice as Language) : 'en-US'

/** Chooses another language; the page is opened again in it. */
export async function setLanguage(to: Language) {
  chosenLanguage.value = to
  await nextTick()
  window.location.reload()
}

/** A text that a page shows without accents does not come from the catalog. */
const accent = (text: string) => text.replace(/[aeiou]/g, (letter) => 'àéîöû'['aeiou'.indexOf(letter)]!)

const bundle = new FluentBundle(language, {
  useIsolating: false,
  transform: choice === ACCENTED ? accent : undefined,
})

/** Adds a file. A page whose texts are not here waits for them: one that failed would not open again by itself. */
async function add(folder: string, name: string) {
  const load = files[`../../../texts/${folder}/${name}.ftl`]
  while (load) {
    try {
      return bundle.addResource(new FluentResource(await load()))
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 1000))
    }
  }
}

document.documentElement.lang = language
// What the server says is in the same language: issues, refusals, the sheet.
const spoken = choice === ACCENTED ? ACCENTED : language
document.cookie = `rigore-language=${spoken}; path=/; max-age=31536000; SameSite=Strict`
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

const conjunction = new Intl.ListFormat(language, { type: 'conjunction' })
/** Several names in one: “a and b”. */
export const listed = (names: Iterable<string>) => conjunction.format(names)
