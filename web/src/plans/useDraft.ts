// A draft of a plan: what is typed is kept in this browser until the server has it, saved while it is typed, and never
// put over what somebody else saved unseen.
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { t } from './texts'

type Draft = Schemas['Draft']
export type Edit = Schemas['Edit']
/** How long nobody types before what was typed is sent, ms. */
const PAUSE = 40
/** How often it is looked whether somebody else saved it, ms. */
const LOOK = 5000

/** What was typed and is not saved yet, with the revision it was typed on. */
interface Unsaved {
  revision: number
  source: string
}

export function useDraft(id: string, faultsOnly: () => boolean) {
  const draft = ref<Draft>()
  const source = ref('')
  const unsaved = useLocalStorage<Unsaved | null>(`rigore-draft-${id}`, null, {
    serializer: { read: JSON.parse, write: JSON.stringify },
  })
  const error = ref('')
  /** What somebody else saved while this was typed. */
  const theirs = ref<Draft>()
  const busy = ref(0)
  const gone = ref(false)
  const at = { params: { path: { draft: id } } }

  function show(now: Draft) {
    draft.value = now
    source.value = now.source
  }
  async function load() {
    try {
      const now = take(await api.GET('/api/drafts/{draft}', at))
      error.value = ''
      if (unsaved.value && unsaved.value.source !== now.source) {
        show({ ...now, source: unsaved.value.source })
        if (unsaved.value.revision === now.revision) await send()
        else theirs.value = now
      } else {
        unsaved.value = null
        show(now)
      }
    } catch (caught) {
      gone.value = caught instanceof Refused && caught.is('not-there')
      error.value = caught instanceof Error ? caught.message : ''
    }
  }

  /** Whether the page that is shown is of an earlier text. */
  let stale = false
  watch(faultsOnly, (only) => {
    if (!only && stale) void load().then(() => (stale = false))
  })

  /** Sends what was typed; what is typed meanwhile is sent after it. */
  let sending: Promise<void> | undefined
  async function send(): Promise<void> {
    if (sending) return sending
    sending = (async () => {
      while (unsaved.value && draft.value && !theirs.value) {
        const { revision, source: text } = unsaved.value
        busy.value++
        try {
          const saved = take(
            await api.PUT('/api/drafts/{draft}', {
              params: { ...at.params, query: { faults_only: faultsOnly() } },
              body: { seen: revision, source: text },
            }),
          )
          error.value = ''
          draft.value = { ...draft.value, ...saved, page: saved.page ?? draft.value.page, source: text }
          stale = !saved.page
          unsaved.value =
            unsaved.value.source === text ? null : { revision: saved.revision, source: unsaved.value.source }
        } catch (caught) {
          if (caught instanceof Refused && caught.is('stale'))
            theirs.value = take(await api.GET('/api/drafts/{draft}', at))
          else error.value = caught instanceof Refused ? caught.message : t('plans-no-connection-what-you-typed-is')
          return
        } finally {
          busy.value--
        }
      }
    })().finally(() => (sending = undefined))
    return sending
  }
  let timer: ReturnType<typeof setTimeout> | undefined
  function type(text: string) {
    if (!draft.value || text === source.value) return
    source.value = text
    unsaved.value = { revision: unsaved.value?.revision ?? draft.value.revision, source: text }
    clearTimeout(timer)
    timer = setTimeout(() => void send(), PAUSE)
  }

  /** Changes where the text stands, by a form; one after the other. */
  let queue: Promise<unknown> = Promise.resolve()
  /** With a path that has to be sound, an unusable figure changes nothing and is thrown as {@link Refused}. */
  function change(edits: Edit[], sound?: string): Promise<string> {
    const mine = async () => {
      await send()
      if (!draft.value || theirs.value) return t('plans-resolve-the-edit-conflict-first')
      busy.value++
      try {
        const now = take(
          await api.POST('/api/drafts/{draft}/edits', { ...at, body: { seen: draft.value.revision, edits, sound } }),
        )
        show(now)
        error.value = ''
        return ''
      } catch (caught) {
        if (caught instanceof Refused && caught.is('stale')) {
          const now = take(await api.GET('/api/drafts/{draft}', at))
          show(now)
          return t('plans-saved-this-draft-meanwhile-it-is', { by: now.by })
        }
        if (sound && caught instanceof Refused && caught.problem.errors.length) throw caught
        return caught instanceof Refused ? caught.message : t('common-no-connection-what-you-typed-is')
      } finally {
        busy.value--
      }
    }
    const answer = queue.then(mine, mine)
    queue = answer
    return answer
  }

  /** Undoes or redoes a change, by whomever it was made, as long as nobody saved it meanwhile. */
  function step(to: 'undo' | 'redo') {
    const mine = async () => {
      await send()
      if (!draft.value || theirs.value) return
      busy.value++
      try {
        const body = { seen: draft.value.revision }
        const asked =
          to === 'undo'
            ? await api.POST('/api/drafts/{draft}/undo', { ...at, body })
            : await api.POST('/api/drafts/{draft}/redo', { ...at, body })
        show(take(asked))
        error.value = ''
      } catch (caught) {
        if (caught instanceof Refused && caught.is('stale')) show(take(await api.GET('/api/drafts/{draft}', at)))
        error.value = caught instanceof Refused ? caught.message : t('plans-no-connection')
      } finally {
        busy.value--
      }
    }
    queue = queue.then(mine, mine)
  }

  /** Of what was typed twice, one is kept; the other goes on being shown where it was. */
  async function settle(keep: 'mine' | 'theirs') {
    const other = theirs.value
    if (!other) return
    theirs.value = undefined
    if (keep === 'theirs') {
      unsaved.value = null
      show(other)
    } else {
      unsaved.value = { revision: other.revision, source: source.value }
      await send()
    }
  }

  useIntervalFn(async () => {
    if (unsaved.value) return void send()
    if (busy.value || !draft.value || document.hidden || theirs.value) return
    const now = await api.GET('/api/drafts/{draft}', at).then(take, () => undefined)
    if (!now || unsaved.value || busy.value) return
    if (now.revision > draft.value.revision) show(now)
    else draft.value = { ...draft.value, others: now.others }
  }, LOOK)
  void load()
  const state = computed(() =>
    theirs.value ? 'twice' : error.value ? 'away' : unsaved.value || busy.value ? 'saving' : 'saved',
  )
  return { draft, source, state, error, theirs, gone, type, change, step, settle, flush: send }
}
