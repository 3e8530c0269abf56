<script setup lang="ts">
// What is the shop's own: its instruments, its people and benches, and what was done here. Only a lead changes it.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, Refused, take, type Problem, type Schemas } from '../api/client'
import { useShopFaults } from '../api/queries'
import { isLead, loadSession, session } from '../api/session'
import ShopFaults from '../shop/ShopFaults.vue'
import { person } from '../ui/preferences'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import DialogActions from '../ui/DialogActions.vue'
import InstrumentList from './InstrumentList.vue'
import LanguageChoice from '../ui/LanguageChoice.vue'
import LetterheadSetting from './LetterheadSetting.vue'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import { t } from './texts'

type Member = Schemas['PersonView']
const client = useQueryClient()
const { data: people } = useQuery({
  queryKey: ['people'],
  queryFn: async () => take(await api.GET('/api/people')),
  enabled: isLead,
})
const { data: benches } = useQuery({
  queryKey: ['benches'],
  queryFn: async () => take(await api.GET('/api/benches')),
  enabled: isLead,
})
const { data: shares } = useQuery({
  queryKey: ['shares'],
  queryFn: async () => take(await api.GET('/api/shares')),
  enabled: isLead,
})
const { data: faults } = useShopFaults()
const { data: doings } = useQuery({
  queryKey: ['doings'],
  queryFn: async () => take(await api.GET('/api/doings')),
  enabled: isLead,
})
const { wrong, error, busy, ask } = useAsk()
const roles = { viewer: t('people-view-only'), bench: t('people-builder'), lead: t('people-lead') } as const
const editing = ref<Member | 'new'>()
const form = reactive({ name: '', role: 'bench' as Schemas['Role'], password: '', pin: '' })
const bench = ref('')
function open(of: Member | 'new') {
  ;[wrong.value, error.value] = [{}, '']
  editing.value = of
  Object.assign(
    form,
    of === 'new'
      ? { name: '', role: 'bench', password: '', pin: '' }
      : { name: of.name, role: of.role, password: '', pin: '' },
  )
}
const again = () =>
  Promise.all(
    ['people', 'benches', 'doings', 'shares', 'shop'].map((key) => client.invalidateQueries({ queryKey: [key] })),
  )
async function done(what: () => Promise<unknown>) {
  if (!(await ask(what))) return
  editing.value = undefined
  await again()
}
const change = (id: string, body: Schemas['PersonEdit']) => async () =>
  take(await api.PUT('/api/people/{person}', { params: { path: { person: id } }, body }))
const keep = () =>
  done(async () => {
    const of = editing.value
    if (of === 'new')
      return take(
        await api.POST('/api/people', { body: { name: form.name, role: form.role, password: form.password } }),
      )
    if (of)
      return change(of.id, {
        name: form.name,
        role: form.role,
        password: form.password || undefined,
        pin: form.pin || undefined,
      })()
  })
const enrol = () =>
  done(async () => {
    take(await api.POST('/api/benches', { body: { name: bench.value } }))
    bench.value = ''
    await loadSession()
  })
/** The file that is being imported. */
const importing = ref('')
const came = ref<Schemas['ImportedBuild']>()
async function takeIn(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  came.value = undefined
  importing.value = file.name
  await done(async () => {
    const response = await fetch('/api/archives', {
      method: 'POST',
      body: file,
      headers: { 'content-type': 'application/zip', 'x-rigore-as': person.value },
    })
    if (!response.ok) throw new Refused((await response.json()) as Problem)
    came.value = (await response.json()) as Schemas['ImportedBuild']
  })
  importing.value = ''
}
const endShare = (id: string) =>
  done(async () => take(await api.DELETE('/api/shares/{share}', { params: { path: { share: id } } })))
const retire = (id: string) =>
  done(async () => take(await api.DELETE('/api/benches/{bench}', { params: { path: { bench: id } } })))
</script>

<template>
  <main class="mx-auto grid w-full max-w-5xl grid-cols-[minmax(0,1fr)] content-start gap-8 px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-shop-settings') }}</h1>
    <InstrumentList />
    <template v-if="isLead">
      <section class="max-w-xl">
        <h2 class="text-2xl font-semibold">{{ t('people-this-screen') }}</h2>
        <LanguageChoice class="mt-3 block" />
      </section>
      <LetterheadSetting />
      <section>
        <div class="flex flex-wrap items-baseline gap-x-6">
          <h2 class="text-2xl font-semibold">{{ t('common-people') }}</h2>
          <button class="quiet-key min-h-11" data-test="add-person" @click="open('new')">
            {{ t('people-add-person') }}
          </button>
        </div>
        <ul data-test="people">
          <li v-for="of in people" :key="of.id" class="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1">
            <button
              class="min-h-11 font-semibold underline underline-offset-4"
              :class="!of.active && 'line-through'"
              :data-test="`person-row-${of.id}`"
              @click="open(of)"
            >
              <bdi>{{ of.name }}</bdi>
            </button>
            <span>{{ roles[of.role] }}</span>
            <span class="text-dim">{{
              of.active
                ? [
                    of.has_password ? '' : t('people-no-password'),
                    of.has_pin ? t('people-pin') : t('people-no-pin'),
                    of.set_by_others.length ? t('people-to-choose-their-own') : '',
                  ]
                    .filter(Boolean)
                    .join(', ')
                : t('people-deactivated')
            }}</span>
          </li>
        </ul>
      </section>
      <section>
        <h2 class="text-2xl font-semibold">{{ t('people-benches') }}</h2>
        <p class="text-dim">{{ t('people-on-an-enrolled-bench-people-change') }}</p>
        <ul data-test="benches">
          <li
            v-for="of in benches"
            :key="of.id"
            class="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1"
          >
            <b>{{ of.name }}</b><span v-if="of.here">{{ t('people-this-browser') }}</span
            ><span class="text-dim">{{
              t('people-enrolled-by', { enrolled_by: of.enrolled_by, time: when(of.enrolled_at) })
            }}</span>
            <button
              class="quiet-key ml-auto min-h-11"
              :aria-label="t('people-remove-bench-2', { name: of.name })"
              @click="retire(of.id)"
            >
              {{ t('people-remove-bench') }}
            </button>
          </li>
        </ul>
        <form
          v-if="!session?.demonstration && !benches?.some((of) => of.here)"
          class="mt-2 flex flex-wrap items-end gap-3"
          @submit.prevent="enrol"
        >
          <TextField
            v-model="bench"
            :label="t('people-name-of-this-bench')"
            name="bench"
            autocomplete="off"
            :placeholder="t('people-tablet-at-the-stand')"
            :wrong="wrong.name"
          />
          <button class="key" :disabled="busy" data-test="enrol">{{ t('people-enrol-this-browser') }}</button>
        </form>
      </section>
      <section>
        <h2 class="text-2xl font-semibold">{{ t('people-shared-sheets') }}</h2>
        <p class="text-dim">{{ t('people-anyone-with-the-link-can-read') }}</p>
        <ul data-test="shares">
          <li v-for="of in shares" :key="of.id" class="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1">
            <RouterLink class="font-semibold underline underline-offset-4" :to="`/engines/${of.build}/sheet`">{{
              of.engine
            }}</RouterLink>
            <span class="text-dim"
              >{{ t('people-made-by') }} <bdi>{{ of.by }}</bdi><template v-if="!of.by_active">{{
                t('common-deactivated')
              }}</template
              >{{ t('common-ends', { made: when(of.at), ends: when(of.ends) }) }}</span
            >
            <button
              class="quiet-key ml-auto min-h-11"
              :aria-label="t('people-remove-the-link-to', { engine: of.engine })"
              @click="endShare(of.id)"
            >
              {{ t('common-remove-link') }}
            </button>
          </li>
        </ul>
        <p v-if="shares && !shares.length" class="text-dim">
          {{ t('people-no-links-a-lead-makes-one') }}
        </p>
      </section>
      <section>
        <h2 class="text-2xl font-semibold">{{ t('people-backups') }}</h2>
        <p v-if="session?.demonstration" class="text-dim">{{ t('people-the-demonstration-is-not-backed-up') }}</p>
        <p v-else-if="faults?.proven" data-test="backup-proven">
          {{ t('people-last-verified-backup', { time: when(faults.proven) }) }}
          <span class="break-all">{{ faults.file }}</span>
        </p>
        <p v-else-if="faults" data-test="backup-proven">
          {{ t('people-no-verified-backup-yet-one-is') }}
        </p>
        <ShopFaults />
      </section>
      <section>
        <h2 class="text-2xl font-semibold">{{ t('people-import-engine') }}</h2>
        <p class="text-dim">
          {{ t('people-an-engine-is-exported-from-its') }}
        </p>
        <label class="key mt-2 inline-flex cursor-pointer items-center"
          >{{ t('people-import-from-file')
          }}<input type="file" class="sr-only" accept=".zip" name="archive-file" @change="takeIn"
        /></label>
        <p v-if="importing" class="mt-2 flex items-center gap-3" role="status">
          <progress class="w-40" :aria-label="t('people-importing')" />
          {{ t('people-importing-every-entry-is-checked', { importing }) }}
        </p>
        <p v-if="wrong.archive" class="mt-2 font-semibold text-wrong" role="alert">{{ wrong.archive }}</p>
        <p v-if="came" class="mt-2 font-semibold" role="status" data-test="came-in">
          {{
            t('people-with-entries', {
              engine: came.name,
              how: came.was_here ? t('people-is-already-here') : t('common-imported'),
              entries: came.entries,
            })
          }}
          <template v-if="came.signed_by"
            >{{ t('people-signed-by-the-shop-with-the') }}
            <span class="break-all">{{ came.signed_by }}</span>.</template
          ><template v-else>{{ t('people-not-signed-by-a-shop-it') }}</template>
          <RouterLink class="underline underline-offset-4" :to="`/engines/${came.build}`">{{
            t('common-open-engine')
          }}</RouterLink>
        </p>
      </section>
      <section>
        <h2 class="text-2xl font-semibold">{{ t('people-activity') }}</h2>
        <ol data-test="doings">
          <li v-for="of in doings" :key="of.id" class="border-b border-rule py-1">
            <span class="text-dim">{{ when(of.at) }}</span> <bdi class="font-semibold">{{ of.by }}</bdi>:
            <bdi>{{ of.what }}</bdi>
          </li>
        </ol>
        <p v-if="doings && !doings.length" class="text-dim">{{ t('people-no-activity-yet') }}</p>
      </section>
      <p v-if="error && !editing" class="font-semibold text-wrong" role="alert">{{ error }}</p>
    </template>
    <SheetDialog
      v-if="editing"
      open
      :title="editing === 'new' ? t('people-add-person') : editing.name"
      @close="editing = undefined"
    >
      <form class="mt-3 grid gap-3" @submit.prevent="keep">
        <TextField
          v-model="form.name"
          :label="t('people-name-as-on-the-build-sheet')"
          name="member-name"
          autocomplete="off"
          :wrong="wrong.name"
        />
        <label
          ><span class="label-text">{{ t('people-role') }}</span
          ><select v-model="form.role" class="field mt-1" name="member-role">
            <option v-for="(words, key) in roles" :key="key" :value="key">{{ words }}</option>
          </select></label
        >
        <TextField
          v-model="form.password"
          :label="editing === 'new' ? t('people-first-password-to-be-changed') : t('people-new-password-optional')"
          type="password"
          name="member-password"
          autocomplete="new-password"
          :wrong="wrong.password"
        />
        <TextField
          v-if="editing !== 'new'"
          v-model="form.pin"
          :label="t('people-new-pin-optional')"
          type="password"
          inputmode="numeric"
          name="member-pin"
          autocomplete="off"
          :wrong="wrong.pin"
        />
        <DialogActions
          :action="t('common-save')"
          :error="error"
          :disabled="busy"
          test="keep-person"
          @close="editing = undefined"
        >
          <button
            v-if="editing !== 'new'"
            type="button"
            class="key mr-auto"
            data-test="active"
            @click="done(change(editing.id, { active: !editing.active }))"
          >
            {{ editing.active ? t('people-deactivate') : t('common-reactivate') }}
          </button>
        </DialogActions>
      </form>
    </SheetDialog>
  </main>
</template>
