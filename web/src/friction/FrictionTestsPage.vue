<script setup lang="ts">
// Friction tests: bolts in the vice, without an engine (C-64).
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { mayRecord } from '../api/session'
import ReasonDialog from '../ui/ReasonDialog.vue'
import { digits, say, unitOf, when } from '../ui/units'
import FrictionPicture from './FrictionPicture.vue'
import FrictionTestForm from './FrictionTestForm.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import { listed } from '../ui/catalog'
import { t } from './texts'

const client = useQueryClient()
const { data: tests, error: away } = useQuery({
  queryKey: ['friction-tests'],
  queryFn: async () => take(await api.GET('/api/friction/tests')),
})
const adding = ref(false)
const voiding = ref<Schemas['FrictionTestView']>()
const message = ref('')
const counting = computed(() => (tests.value ?? []).filter((of) => !of.voided))
const voided = computed(() => (tests.value ?? []).filter((of) => of.voided))

function detailsOf(test: Schemas['FrictionTestView']) {
  const batch = test.batch ? t('friction-batch', { batch: test.batch }) : ''
  const resilience = t('friction-own-resilience-um-kn-2', {
    resilience_um_per_kn: test.resilience_um_per_kn.toFixed(2),
  })
  return `${when(test.at)}, ${test.by}${batch}; ${listed(test.instruments)}; ${resilience}`
}

async function voidTest(reason: string) {
  const of = voiding.value
  voiding.value = undefined
  message.value = ''
  if (!of) return
  try {
    take(await api.POST('/api/friction/tests/{id}/void', { params: { path: { id: of.id } }, body: { reason } }))
  } catch (caught) {
    message.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  }
  await Promise.all(['friction-tests', 'friction'].map((key) => client.invalidateQueries({ queryKey: [key] })))
}
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">{{ t('common-friction-tests') }}</h1>
      <button v-if="mayRecord && !adding" class="key key-main" data-test="new-test" @click="adding = true">
        {{ t('friction-new-test') }}
      </button>
    </div>
    <p class="mt-2 max-w-prose text-dim">
      {{ t('friction-a-bolt-in-the-vice-without') }}
      <RouterLink class="underline underline-offset-4" to="/friction">{{
        t('friction-friction-of-this-shop')
      }}</RouterLink>
    </p>
    <p v-if="away" role="alert" class="mt-4 font-semibold">{{ t('friction-no-connection-tests-are-shown-when') }}</p>
    <FrictionTestForm v-if="adding" @close="adding = false" />
    <p v-if="message" class="said-wrong mt-3" role="alert">{{ message }}</p>
    <p v-if="tests && !tests.length && !adding" class="mt-6 text-lg">
      {{ t('friction-no-tests-yet-one-bolt-one') }}
    </p>
    <article v-for="test in counting" :key="test.id" class="mt-8 border-t border-rule pt-3" data-test="friction-test">
      <div class="flex flex-wrap items-baseline gap-x-5">
        <h2 class="text-2xl font-semibold">{{ test.fastener }}</h2>
        <span class="text-dim">{{ detailsOf(test) }}</span>
        <button v-if="mayRecord" class="quiet-key ml-auto min-h-11" @click="voiding = test">
          {{ t('common-void') }}
        </button>
      </div>
      <p v-if="test.note">{{ test.note }}</p>
      <div class="mt-2 grid gap-6 lg:grid-cols-[1fr_24rem]">
        <FrictionPicture :runs="test.runs" :name="test.fastener" />
        <ScrollBox :label="t('common-readings')">
          <table class="w-full text-left">
            <thead class="text-dim">
              <tr>
                <th scope="col" class="pr-3 font-normal">{{ t('friction-torque', { unit: unitOf('torque') }) }}</th>
                <th scope="col" class="pr-3 font-normal">{{ t('friction-stretch', { unit: unitOf('clearance') }) }}</th>
                <th scope="col" class="pr-3 font-normal">{{ t('friction-clamp', { unit: unitOf('force') }) }}</th>
                <th scope="col" class="font-normal">K</th>
              </tr>
            </thead>
            <tbody v-for="(run, at) in test.runs" :key="at" class="border-t border-rule">
              <tr>
                <th colspan="4" scope="rowgroup" class="pt-1 text-left">
                  {{ at + 1 }}. {{ run.lubricant }}: K {{ run.k?.toFixed(3) ?? '–'
                  }}<span v-if="run.error != null" class="font-normal text-dim"> ± {{ run.error.toFixed(3) }}</span>
                </th>
              </tr>
              <tr v-for="(of, n) in run.readings" :key="n">
                <td>{{ digits(of.torque_nm, 'torque') }}</td>
                <td>{{ digits(of.stretch_mm, 'clearance') }}</td>
                <td>{{ digits(of.clamp_kn, 'force') }}</td>
                <td>{{ of.k.toFixed(3) }}<template v-if="(of.utilisation ?? 0) > 1"> ▲</template></td>
              </tr>
              <tr v-for="(remark, n) in run.remarks" :key="`remark ${n}`">
                <td colspan="4" class="font-semibold">▲ {{ say(remark) }}</td>
              </tr>
            </tbody>
          </table>
        </ScrollBox>
      </div>
    </article>
    <details v-if="voided.length" class="mt-8">
      <summary class="min-h-11 cursor-pointer content-center text-lg underline underline-offset-4">
        {{ t('friction-voided', { count: voided.length }) }}
      </summary>
      <p v-for="test in voided" :key="test.id" class="border-b border-rule py-1">
        <s
          >{{ test.fastener }}, {{ when(test.at) }},
          {{ test.runs.map((run) => `${run.lubricant} K ${run.k?.toFixed(3) ?? '–'}`).join(', ') }}</s
        >
        <span class="text-dim">{{
          t('friction-voided-by', { by: test.voided!.by, time: when(test.voided!.at), reason: test.voided!.reason })
        }}</span>
      </p>
    </details>
    <ReasonDialog
      :open="!!voiding"
      :title="t('friction-void-this-test')"
      :about="t('friction-it-stays-on-the-record-and', { fastener: voiding?.fastener ?? '' })"
      :action="t('common-void')"
      :usual="[t('friction-misread'), t('friction-wrong-bolt'), t('friction-wrong-lubricant')]"
      @close="voiding = undefined"
      @reason="voidTest"
    />
  </main>
</template>
