<script setup lang="ts">
// What fasteners turn on in this shop: lubricants with their friction, what is done where another one is used, and
// the friction that the shop has measured on its own bolts (C-26, C-28).
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { isLead } from '../api/session'
import LubricantDialog from './LubricantDialog.vue'
import LubricantRow from './LubricantRow.vue'
import MeasuredRow from './MeasuredRow.vue'
import { t } from './texts'

const client = useQueryClient()
const { data, error: away } = useQuery({
  queryKey: ['lubricants'],
  queryFn: async () => take(await api.GET('/api/lubricants')),
})
const { data: measured } = useQuery({
  queryKey: ['friction'],
  queryFn: async () => take(await api.GET('/api/friction')),
})
/** The lubricant that is being changed; `new` while one is added. */
const changing = ref<Schemas['ShopLubricant'] | 'new' | null>(null)
const said = ref('')
const most = computed(() => {
  const all = [...(data.value?.generic ?? []), ...(data.value?.own ?? [])]
  return Math.max(0.3, ...all.flatMap((one) => [one.high.thread, one.high.bearing]))
})
const policies: { value: Schemas['LubricantPolicy']; name: string; says: string }[] = [
  {
    value: 'as-specified',
    name: t('common-only-as-specified-2'),
    says: t('friction-torques-stay-as-specified-lead-approval'),
  },
  {
    value: 'convert',
    name: t('common-convert'),
    says: t('friction-torques-are-converted-at-equal-clamp'),
  },
]

async function decide(lubricants: Schemas['LubricantPolicy']) {
  said.value = ''
  try {
    take(await api.PUT('/api/policy', { body: { lubricants } }))
    said.value = t('friction-saved-it-applies-to-engines-added')
  } catch (caught) {
    said.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  }
  await client.invalidateQueries({ queryKey: ['lubricants'] })
}
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-friction') }}</h1>
    <p v-if="away" role="alert" class="mt-4 font-semibold">{{ t('friction-no-connection-this-is-shown-when') }}</p>

    <section class="mt-6" aria-labelledby="measured">
      <div class="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="measured" class="text-2xl font-semibold">{{ t('friction-measured-here') }}</h2>
        <RouterLink class="quiet-key ml-auto min-h-11 content-center" to="/friction/tests" data-test="tests">{{
          t('friction-friction-tests-a-bolt-in-the')
        }}</RouterLink>
        <a v-if="measured?.length" class="quiet-key flex min-h-11 items-center" href="/api/friction.csv" download>{{
          t('friction-every-bolt-as-csv')
        }}</a>
      </div>
      <p class="max-w-prose text-dim">
        {{ t('friction-from-every-torque-recorded-with-its') }}
      </p>
      <p v-if="measured && !measured.length" class="mt-3">
        {{ t('friction-no-measurements-yet-bolts-tightened-to') }}
      </p>
      <ol v-else class="mt-2 border-t border-rule">
        <MeasuredRow v-for="of in measured" :key="[of.fastener, of.thread, of.bearing].join()" :measured="of" />
      </ol>
    </section>

    <section class="mt-10" aria-labelledby="policy">
      <h2 id="policy" class="text-2xl font-semibold">{{ t('friction-when-another-lubricant-is-used-than') }}</h2>
      <div class="mt-2 grid gap-2 sm:grid-cols-2" role="radiogroup" aria-labelledby="policy">
        <button
          v-for="policy in policies"
          :key="policy.value"
          role="radio"
          class="border-l-4 px-4 py-2 text-left"
          :class="data?.policy === policy.value ? 'border-layout bg-face' : 'border-rule'"
          :aria-checked="data?.policy === policy.value"
          :disabled="!isLead"
          :data-test="`policy-${policy.value}`"
          @click="decide(policy.value)"
        >
          <span class="block text-lg font-semibold"
            >{{ data?.policy === policy.value ? '● ' : '○ ' }}{{ policy.name }}</span
          >
          <span class="text-dim">{{ policy.says }}</span>
        </button>
      </div>
      <p v-if="said" role="status" class="mt-2 font-semibold">{{ said }}</p>
      <p v-else-if="!isLead" class="mt-2 text-dim">{{ t('friction-leads-change-this-setting-and-the') }}</p>
    </section>

    <section class="mt-10" aria-labelledby="own">
      <div class="flex flex-wrap items-end justify-between gap-4">
        <h2 id="own" class="text-2xl font-semibold">{{ t('friction-lubricants-of-this-shop') }}</h2>
        <button v-if="isLead" class="key" data-test="add-lubricant" @click="changing = 'new'">
          {{ t('friction-add-lubricant') }}
        </button>
      </div>
      <p v-if="data && !data.own.length" class="mt-2 text-dim">
        {{ t('friction-no-lubricants-yet-add-those-with') }}
      </p>
      <ul v-else class="mt-2 border-t border-rule">
        <LubricantRow
          v-for="one in data?.own"
          :key="one.id"
          :lubricant="one"
          :most="most"
          :changes="isLead"
          @change="changing = one"
        />
      </ul>
    </section>

    <section class="mt-10" aria-labelledby="generic">
      <h2 id="generic" class="text-2xl font-semibold">{{ t('friction-generic-kinds') }}</h2>
      <p class="text-dim">
        {{ t('friction-friction-classes-after-vdi-2230-1') }}
      </p>
      <ul class="mt-2 border-t border-rule">
        <LubricantRow v-for="one in data?.generic" :key="one.id" :lubricant="one" :most="most" />
      </ul>
    </section>
    <LubricantDialog v-if="changing" :lubricant="changing === 'new' ? null : changing" @close="changing = null" />
  </main>
</template>
