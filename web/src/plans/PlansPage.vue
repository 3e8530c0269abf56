<script setup lang="ts">
// The plans of the shop with their versions, what is being written, and a new one from a shape, a file or a text.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { v7 } from 'uuid'
import { api, Refused, take } from '../api/client'
import { keys, usePlans } from '../api/queries'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import DialogActions from '../ui/DialogActions.vue'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const router = useRouter()
const client = useQueryClient()
const { data: plans, isPending, error: away } = usePlans()
const { data: drafts } = useQuery({
  queryKey: ['drafts'],
  queryFn: async () => take(await api.GET('/api/drafts')),
  staleTime: 0,
})
const { data: examples } = useQuery({
  queryKey: ['examples'],
  queryFn: async () => take(await api.GET('/api/plans/examples')),
  enabled: () => plans.value?.length === 0,
})
const find = ref('')
const shown = computed(() => {
  const words = find.value.toLowerCase().split(/\s+/).filter(Boolean)
  return plans.value?.filter((plan) =>
    words.every((word) => `${plan.name} ${plan.about} ${plan.id} ${plan.version.why}`.toLowerCase().includes(word)),
  )
})
const orders = { name: t('common-name'), changed: t('plans-last-changed'), engines: t('plans-engines-built') } as const
const order = ref<keyof typeof orders>('name')
const sorted = computed(() =>
  [...(shown.value ?? [])].sort((a, b) => {
    if (order.value === 'changed') return b.version.at.localeCompare(a.version.at)
    if (order.value === 'engines') return b.engines + b.engines_before - a.engines - a.engines_before
    return a.name.localeCompare(b.name, undefined, { numeric: true })
  }),
)
const error = ref('')
const pasting = ref(false)
const pasted = ref('')

async function begin(body: { base?: string; source?: string }) {
  try {
    const draft = take(await api.POST('/api/drafts', { body: { id: v7(), ...body } }))
    await client.invalidateQueries({ queryKey: ['drafts'] })
    void client.invalidateQueries({ queryKey: keys.plans })
    void router.push(`/plans/drafts/${draft.id}`)
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  }
}
async function fromFile(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) await begin({ source: await file.text() })
  input.value = ''
}
const engines = (count: number) => t('plans-engines', { count })
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">{{ t('common-plans') }}</h1>
      <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
        <label class="quiet-key flex min-h-11 cursor-pointer items-center"
          >{{ t('plans-import-file')
          }}<input type="file" class="sr-only" accept=".toml,text/plain" name="plan-file" @change="fromFile"
        /></label>
        <button class="quiet-key min-h-11" data-test="paste" @click="pasting = true">
          {{ t('plans-paste-text') }}
        </button>
        <RouterLink class="key key-main" to="/plans/new" data-test="new-plan">{{ t('common-new-plan') }}</RouterLink>
      </div>
    </div>
    <div class="flex flex-wrap items-center gap-x-6 border-b border-rule py-2">
      <label class="flex min-w-56 grow items-center gap-2 sm:max-w-md"
        ><span class="label-text">{{ t('common-find') }}</span
        ><input
          v-model="find"
          type="search"
          name="find"
          class="line-field w-full"
          autocomplete="off"
          :placeholder="t('plans-name-description-reason-of-a-change')"
      /></label>
      <label class="flex items-center gap-2"
        ><span class="label-text whitespace-nowrap">{{ t('plans-sort-by') }}</span
        ><select v-model="order" class="line-field" name="order">
          <option v-for="(words, key) in orders" :key="key" :value="key">{{ words }}</option>
        </select></label
      >
    </div>
    <p v-if="error || away" class="mt-3 font-semibold text-wrong" role="alert">
      {{ error || t('plans-no-connection') }}
    </p>
    <section v-if="drafts?.length" class="mt-4">
      <h2 class="text-2xl font-semibold">{{ t('plans-drafts') }}</h2>
      <ul>
        <li
          v-for="draft in drafts"
          :key="draft.id"
          class="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-2"
          data-test="draft"
        >
          <RouterLink class="text-xl font-semibold underline underline-offset-4" :to="`/plans/drafts/${draft.id}`">{{
            draft.name
          }}</RouterLink>
          <span class="text-dim">{{ draft.by }}, {{ when(draft.at) }}</span>
        </li>
      </ul>
    </section>
    <LoadingText v-if="isPending" />
    <div v-else-if="!plans?.length" class="py-8">
      <p>{{ t('plans-no-plans-yet-start-one-from') }}</p>
      <p class="mt-4 text-dim">{{ t('plans-or-look-at-an-example-that') }}</p>
      <ul>
        <li v-for="of in examples" :key="of.name">
          <button
            class="min-h-11 font-semibold underline underline-offset-4"
            :data-test="`example-${of.id}`"
            @click="begin({ source: of.text })"
          >
            {{ of.name }}
          </button>
          <span class="text-dim">{{ of.about }}</span>
        </li>
      </ul>
    </div>
    <p v-else-if="!shown?.length" class="py-8">{{ t('plans-no-plans-match') }}</p>
    <ul class="mt-4">
      <li
        v-for="plan in sorted"
        :key="plan.id"
        class="grid gap-x-8 gap-y-1 border-b border-rule py-3 lg:grid-cols-[minmax(0,1fr)_20rem]"
        :data-test="`plan-${plan.id}`"
      >
        <div class="min-w-0">
          <RouterLink class="text-2xl font-semibold underline-offset-4 hover:underline" :to="`/plans/${plan.hash}`">{{
            plan.name
          }}</RouterLink>
          <p>{{ plan.about }}</p>
          <p class="text-dim">
            {{
              t('plans-joints-fasteners-operations', {
                joints: plan.joints,
                fastened: plan.fastened,
                operations: plan.operations,
              })
            }}<template v-if="plan.uses.length">{{ t('plans-for', { uses: plan.uses.join(', ') }) }}</template>
          </p>
        </div>
        <div>
          <p>
            {{ t('common-version', { version: plan.version.number })
            }}<span class="text-dim"
              >, {{ plan.version.by || t('plans-supplied-with-rigore') }}, {{ when(plan.version.at) }}</span
            >
          </p>
          <p v-if="plan.version.why" class="text-dim">{{ plan.version.why }}</p>
          <p>
            <template v-if="plan.engines">{{
              t('plans-on-this-version', { engines: engines(plan.engines) })
            }}</template><template v-if="plan.engines_before">{{
              t('plans-on-an-earlier-version', {
                begins: plan.engines ? ', ' : '',
                engines_before: engines(plan.engines_before),
              })
            }}</template
            ><template v-if="!plan.engines && !plan.engines_before">{{ t('plans-no-engines-yet') }}</template>
          </p>
          <p v-if="plan.open" class="font-semibold">
            {{ plan.open === 1 ? t('plans-1-missing-spec') : t('plans-missing-specs-2', { open: plan.open }) }}
          </p>
          <p v-if="plan.version.warnings" class="font-semibold">
            {{
              plan.version.warnings === 1
                ? t('plans-1-warning')
                : t('plans-warnings-2', { warnings: plan.version.warnings })
            }}
          </p>
        </div>
      </li>
    </ul>
    <SheetDialog v-if="pasting" open :title="t('plans-paste-plan-text')" @close="pasting = false">
      <form class="mt-3 grid gap-3" @submit.prevent="begin({ source: pasted })">
        <textarea
          v-model="pasted"
          class="field min-h-64 font-mono text-base"
          name="pasted"
          :aria-label="t('plans-text-of-a-plan')"
        />
        <DialogActions :action="t('plans-create-draft')" test="take-pasted" @close="pasting = false" />
      </form>
    </SheetDialog>
  </main>
</template>
