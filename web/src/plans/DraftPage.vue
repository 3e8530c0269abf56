<script setup lang="ts">
// A plan while it is written: as the document that it becomes, as text beside it, and what it changes. Both are
// views of one text; what is typed is saved as it is typed, and becomes a version once it is right.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, Refused, take, type Schemas } from '../api/client'
import { keys } from '../api/queries'
import NothingHere from '../ui/NothingHere.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import ErrorText from '../ui/ErrorText.vue'
import { beginDryRun } from './dryRun'
import DifferenceList from './DifferenceList.vue'
import FaultList from './FaultList.vue'
import PlanDocument from './PlanDocument.vue'
import { useDraft } from './useDraft'
import { isLead } from '../api/session'
import TextField from '../ui/TextField.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'
import { listed } from '../ui/catalog'
import { t } from './texts'

const TextEditor = defineAsyncComponent(() => import('./TextEditor.vue'))
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const id = String(route.params.draft)
const views = { page: t('plans-document'), text: t('plans-text'), changes: t('common-changes') } as const
type View = keyof typeof views
const view = computed<View>(() =>
  route.query.view === 'text' || route.query.view === 'changes' ? route.query.view : 'page',
)
const { draft, source, state, error, theirs, gone, type, change, step, settle, flush } = useDraft(
  id,
  () => view.value === 'text',
)
const editor = ref<{ go: (line: number) => void }>()
/** What is wrong is shown in its form; in the text at its line. */
const opened = ref('')
async function goTo(fault: Schemas['Fault']) {
  if (view.value === 'text' || !draft.value?.page || !/\[\d+\]/.test(fault.path)) return go(fault.line)
  opened.value = ''
  if (view.value !== 'page') await router.replace({ query: {} })
  await nextTick()
  opened.value = fault.path
}
const line = ref<number>()
async function go(to: number) {
  line.value = to
  if (view.value !== 'text') await router.replace({ query: { view: 'text' } })
  await nextTick()
  editor.value?.go(to)
}
const faults = computed(() => draft.value?.faults.filter((of) => of.severity === 'error') ?? [])
const warnings = computed(() => draft.value?.faults.filter((of) => of.severity === 'warning') ?? [])
const showFaults = ref(false)
const says = {
  saved: t('plans-saved'),
  saving: t('common-saving'),
  away: t('plans-saved-in-this-browser'),
  twice: t('plans-edit-conflict'),
}

useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  const types = ['INPUT', 'TEXTAREA', 'SELECT'].includes((event.target as HTMLElement).tagName)
  if (!(event.ctrlKey || event.metaKey) || view.value !== 'page' || types) return
  const key = event.key.toLowerCase()
  if (key !== 'z' && key !== 'y') return
  event.preventDefault()
  step(key === 'y' || event.shiftKey ? 'redo' : 'undo')
})

const compared = ref('')
const base = computed(() => draft.value?.base ?? '')
const { data: differences, error: uncompared } = useQuery({
  queryKey: ['draft', id, 'differences', base, compared, source],
  enabled: () => view.value === 'changes' && (!!base.value || !!compared.value) && !!draft.value?.usable,
  queryFn: async (): Promise<Schemas['Difference'][]> => {
    const old = compared.value || (await fetch(`/api/plans/${base.value}/text`).then((answer) => answer.text()))
    return take(await api.POST('/api/plans/compare', { body: { old, new: source.value } }))
  },
  retry: false,
})
async function compareWith(event: Event) {
  compared.value = (await (event.target as HTMLInputElement).files?.[0]?.text()) ?? ''
}

const keeping = ref(false)
const why = ref('')
const refused = ref('')
/** What a lead approves by keeping it: a figure with a source past yield, a joint that holds by little. */
const forLead = computed(() => [...new Set(warnings.value.flatMap((of) => of.approves ?? []))])
const approved = ref(false)
async function keep() {
  await flush()
  if (!draft.value || state.value !== 'saved') return void (refused.value = t('plans-it-is-not-saved-yet-try'))
  try {
    const version = take(
      await api.POST('/api/drafts/{draft}/keep', {
        params: { path: { draft: id } },
        body: { seen: draft.value.revision, why: why.value, approved: approved.value },
      }),
    )
    await client.invalidateQueries({ queryKey: keys.plans })
    void client.invalidateQueries({ queryKey: ['drafts'] })
    void router.push(`/plans/${version.hash}`)
  } catch (caught) {
    refused.value = caught instanceof Refused ? caught.message : t('plans-no-connection-nothing-is-lost-try')
  }
}
/** Why it could not be tried out at a bench that records nothing. */
const notTried = ref('')
async function tryOut() {
  await flush()
  notTried.value = await beginDryRun(id)
}
async function putAway() {
  try {
    await api.DELETE('/api/drafts/{draft}', { params: { path: { draft: id } } })
    void client.invalidateQueries({ queryKey: ['drafts'] })
    void router.push('/plans')
  } catch {
    refused.value = t('plans-no-connection')
  }
}
function download() {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([source.value], { type: 'application/toml' }))
  link.download = `${draft.value?.page?.id || 'plan'}.toml`
  link.click()
  URL.revokeObjectURL(link.href)
}
usePageTitle(() => draft.value && t('plans-draft', { page: draft.value.page?.name || t('plans-unnamed-plan-2') }))
</script>

<template>
  <NothingHere v-if="gone" />
  <main v-else class="mx-auto w-full max-w-6xl px-4 py-4">
    <div data-sticky-head class="sticky top-0 z-10 -mx-4 border-b-2 border-ink bg-plate px-4 pb-2">
      <RouterLink class="way-back hover:underline" to="/plans">{{ t('common-plans') }}</RouterLink>
      <div class="flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1 class="text-3xl font-semibold tracking-tight">{{ draft?.page?.name || t('plans-unnamed-plan') }}</h1>
        <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
          <span class="text-dim" role="status" data-test="draft-state" :data-state="state">{{ says[state] }}</span>
          <span v-if="draft?.others.length" class="font-semibold" data-test="others">{{
            t('plans-also-open-at', { names: listed(draft.others) })
          }}</span>
          <template v-if="draft && view !== 'changes'">
            <button class="quiet-key min-h-11" data-test="undo" :disabled="!draft.can_undo" @click="step('undo')">
              {{ t('common-undo') }}
            </button>
            <button class="quiet-key min-h-11" data-test="redo" :disabled="!draft.can_redo" @click="step('redo')">
              {{ t('plans-redo') }}
            </button>
          </template>
          <button
            v-if="faults.length || warnings.length"
            class="min-h-11 font-semibold underline underline-offset-4"
            :class="faults.length ? 'text-wrong' : undefined"
            :aria-expanded="showFaults"
            data-test="show-faults"
            @click="showFaults = !showFaults"
          >
            <template v-if="faults.length">{{
              faults.length === 1 ? t('plans-1-error') : t('plans-errors', { count: faults.length })
            }}</template><template v-if="faults.length && warnings.length">, </template
            ><template v-if="warnings.length">{{
              warnings.length === 1 ? t('plans-1-warning') : t('plans-warnings', { count: warnings.length })
            }}</template>
          </button>
          <button v-if="draft" class="max-sm:quiet-key max-sm:min-h-11 sm:key" data-test="dry-run" @click="tryOut">
            {{ t('plans-dry-run') }}
          </button>
          <button class="key key-main" data-test="keep-version" @click="keeping = true">
            {{ t('plans-publish-version') }}
          </button>
        </div>
      </div>
      <nav class="-mb-2 flex flex-wrap gap-x-5" :aria-label="t('plans-views-of-the-plan')">
        <RouterLink
          v-for="(name, key) in views"
          :key="key"
          replace
          :to="{ query: key === 'page' ? {} : { view: key } }"
          class="flex min-h-11 items-center border-b-4"
          :class="key === view ? 'border-layout font-semibold' : 'border-transparent'"
          :data-test="`view-${key}`"
          >{{ name }}</RouterLink
        >
      </nav>
    </div>
    <p v-if="error || notTried" class="mt-3 font-semibold text-wrong" role="alert">{{ error || notTried }}</p>
    <section v-if="theirs" class="mt-3 border-2 border-wrong p-4" role="alert" data-test="twice">
      <p class="text-xl font-semibold">
        {{ t('plans-saved-this-draft-while-you-typed', { by: theirs.by }) }}
      </p>
      <div class="mt-2 flex flex-wrap gap-3">
        <button class="key" data-test="take-theirs" @click="settle('theirs')">{{ t('plans-use-their-text') }}</button>
        <button class="key" data-test="take-mine" @click="settle('mine')">{{ t('plans-use-my-text') }}</button>
        <button class="quiet-key min-h-11" @click="download">{{ t('plans-download-my-text') }}</button>
      </div>
    </section>
    <FaultList v-if="draft && showFaults" class="mt-3" :faults="draft.faults" lines @go="goTo" />
    <LoadingText v-if="!draft && !error" />
    <template v-if="draft">
      <PlanDocument
        v-if="view === 'page' && draft.page"
        class="mt-5"
        :page="draft.page"
        :draft="id"
        :faults="draft.faults"
        :opened="opened"
        :change="change"
      />
      <div v-else-if="view === 'text'" class="mt-4">
        <TextEditor ref="editor" :text="source" :faults="draft.faults" :line="line" @type="type" />
        <FaultList class="mt-3" :faults="draft.faults" lines @go="goTo" />
      </div>
      <section v-else class="mt-4">
        <p v-if="!base && !compared">{{ t('plans-not-based-on-a-version-compare') }}</p>
        <p v-else-if="!draft.usable" class="font-semibold">{{ t('plans-it-can-be-compared-once-it') }}</p>
        <DifferenceList v-else-if="differences" :differences="differences" />
        <p v-if="uncompared" class="font-semibold text-wrong" role="alert">{{ uncompared.message }}</p>
        <label class="quiet-key mt-3 flex min-h-11 cursor-pointer items-center"
          >{{ t('plans-compare-with-a-file')
          }}<input type="file" class="sr-only" accept=".toml,text/plain" @change="compareWith"
        /></label>
      </section>
      <div class="mt-8 flex flex-wrap gap-x-6 border-t border-rule pt-2">
        <button class="quiet-key min-h-11" @click="download">{{ t('plans-download-text') }}</button>
        <button class="quiet-key min-h-11" data-test="put-away" @click="putAway">{{ t('plans-delete-draft') }}</button>
      </div>
    </template>
    <SheetDialog v-if="keeping" open :title="t('plans-publish-version')" @close="keeping = false">
      <form class="mt-3 grid gap-3" @submit.prevent="keep">
        <template v-if="faults.length">
          <p class="font-semibold">{{ t('plans-fix-its-errors-first-it-stays') }}</p>
          <FaultList
            :faults="faults"
            lines
            @go="
              (fault) => {
                keeping = false
                void goTo(fault)
              }
            "
          />
        </template>
        <template v-else>
          <p v-if="draft?.page?.open.length">
            {{
              t('plans-open-what-needs-them-waits-the', {
                count:
                  draft.page.open.length === 1
                    ? t('plans-one-figure-is')
                    : t('plans-figures-are', { count: draft.page.open.length }),
                count2: draft.page.open.length,
              })
            }}
          </p>
          <FaultList :faults="warnings" lines />
          <p v-if="forLead.length && !isLead" class="font-semibold text-wrong">
            {{ t('plans-lead-approval-needed', { what: forLead.join('; ') }) }}
          </p>
          <label v-else-if="forLead.length" class="flex min-h-11 items-center gap-3">
            <input v-model="approved" type="checkbox" class="size-6" name="approved" />
            <span>{{ t('plans-i-approve', { what: forLead.join('; ') }) }}</span>
          </label>
          <TextField
            v-model="why"
            :label="t('common-reason')"
            name="why"
            :placeholder="base ? t('plans-what-was-corrected') : t('plans-the-first-version')"
          />
        </template>
        <ErrorText :text="refused" />
        <div class="flex justify-end gap-3">
          <button type="button" class="key" @click="keeping = false">{{ t('common-cancel') }}</button>
          <button
            v-if="!faults.length"
            class="key key-main"
            data-test="keep-it"
            :disabled="!!forLead.length && (!isLead || !approved)"
          >
            {{ t('plans-publish-version') }}
          </button>
        </div>
      </form>
    </SheetDialog>
  </main>
</template>

<style>
/* What is gone to stands below the head of the page, which stays. */
:root:has([data-test='draft-state']) {
  scroll-padding-top: 10rem;
}
</style>
