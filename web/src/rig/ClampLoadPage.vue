<script setup lang="ts">
// What a torque, an angle and a stretch make of the same bolt, for any fastener of a plan: friction and instruments can
// be slid, and the picture follows (M-17).
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '../api/client'
import { usePlans } from '../api/queries'
import ClampPicture from '../ui/ClampPicture.vue'
import { t } from './texts'

const route = useRoute()
const router = useRouter()
const { data: plans } = usePlans()
const one = (value: unknown) => (typeof value === 'string' ? value : '')
const plan = computed(
  () =>
    plans.value?.find((of) => of.hash === one(route.query.plan)) ??
    plans.value?.find((of) => of.fasteners.some((one) => one.stretched)) ??
    plans.value?.find((of) => of.fasteners.length),
)
const fastener = computed(
  () =>
    plan.value?.fasteners.find((of) => of.id === one(route.query.fastener)) ??
    plan.value?.fasteners.find((of) => of.stretched) ??
    plan.value?.fasteners[0],
)

type Supposed = {
  mu?: number
  spread?: number
  measured?: boolean
  accuracy?: number
  angle_deg?: number
  gauge_mm?: number
}
const supposed = reactive<Supposed>({})
const settled = refDebounced(
  computed(() => ({ ...supposed })),
  60,
)
const { data: load, error } = useQuery({
  queryKey: ['clamp-load', computed(() => plan.value?.hash), computed(() => fastener.value?.id), settled],
  enabled: computed(() => !!fastener.value),
  placeholderData: keepPreviousData,
  queryFn: async () =>
    take(
      await api.GET('/api/plans/{plan}/clamp-load/{fastener}', {
        params: { path: { plan: plan.value!.hash, fastener: fastener.value!.id }, query: settled.value },
      }),
    ),
})
const usualSpread = computed(() => {
  const [least, usual, most] = load.value?.mu ?? [0, 1, 0]
  return (most! - least!) / 2 / usual!
})
const sliders = computed(() => [
  {
    key: 'mu' as const,
    name: t('rig-typical-friction'),
    min: 0.04,
    max: 0.32,
    step: 0.005,
    value: supposed.mu ?? load.value?.mu[1] ?? 0.1,
    words: (v: number) => v.toFixed(3),
  },
  {
    key: 'spread' as const,
    name: t('rig-friction-scatter'),
    min: 0,
    max: 0.6,
    step: 0.01,
    value: supposed.spread ?? usualSpread.value,
    words: (v: number) => `${Math.round(v * 100)} %`,
  },
  {
    key: 'accuracy' as const,
    name: t('rig-wrench-accuracy'),
    min: 0,
    max: 0.15,
    step: 0.005,
    value: supposed.accuracy ?? load.value?.accuracy ?? 0.04,
    words: (v: number) => `${(v * 100).toFixed(1)} %`,
  },
  {
    key: 'angle_deg' as const,
    name: t('rig-angle-accuracy'),
    min: 0,
    max: 15,
    step: 0.5,
    value: supposed.angle_deg ?? load.value?.angle_deg ?? 3,
    words: (v: number) => `${v}°`,
  },
  {
    key: 'gauge_mm' as const,
    name: t('rig-gauge-accuracy'),
    min: 0,
    max: 0.02,
    step: 0.0005,
    value: supposed.gauge_mm ?? load.value?.gauge_mm ?? 0.002,
    words: (v: number) => `${(v * 1000).toFixed(1)} µm`,
  },
])
function slide(key: (typeof sliders.value)[number]['key'], value: number) {
  if (key === 'mu' || key === 'spread') {
    supposed.measured = undefined
    supposed.mu ??= load.value?.mu[1]
    supposed.spread ??= Math.min(0.9, usualSpread.value)
  }
  supposed[key] = value
}
function plain() {
  for (const key of Object.keys(supposed) as (keyof Supposed)[]) delete supposed[key]
}
function measured() {
  plain()
  supposed.measured = true
}
watch(() => fastener.value?.id, plain)
const go = (to: { plan?: string; fastener?: string }) =>
  void router.replace({ query: { plan: plan.value?.hash, ...to } })
const times = ref(false)
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">{{ t('common-clamp-load') }}</h1>
      <div class="flex min-w-0 flex-wrap gap-3">
        <label class="flex items-center gap-2"
          ><span class="label-text">{{ t('common-plan') }}</span>
          <select
            class="line-field min-h-11"
            name="plan"
            :value="plan?.hash"
            @change="go({ plan: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="of in plans" :key="of.hash" :value="of.hash">{{ of.name }}</option>
          </select>
        </label>
        <label class="flex min-w-0 items-center gap-2"
          ><span class="label-text">{{ t('common-fastener') }}</span>
          <select
            class="line-field min-h-11 min-w-0"
            name="fastener"
            :value="fastener?.id"
            @change="go({ fastener: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="of in plan?.fasteners" :key="of.id" :value="of.id">{{ of.name }}</option>
          </select>
        </label>
      </div>
    </div>
    <p v-if="error && !load" role="alert" class="py-8">{{ error.message }}</p>
    <div v-else-if="load" class="mt-4 grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <div>
        <ClampPicture :load="load" />
        <p class="mt-2 text-dim">
          {{ t('rig-the-same-bolt-tightened-to-the', { count: (20000).toLocaleString() }) }}
        </p>
      </div>
      <section :aria-label="t('rig-assumptions')" class="grid content-start gap-4">
        <p>
          <span class="text-dim">{{ t('rig-friction') }}</span>
          <span class="font-semibold" data-test="source">{{ load.source }}</span>
          <span class="block text-dim">{{
            t('rig-k-to-typically', {
              least: load.nut_factors[0]!.toFixed(3),
              most: load.nut_factors[2]!.toFixed(3),
              typical: load.nut_factors[1]!.toFixed(3),
            })
          }}</span>
        </p>
        <div class="flex flex-wrap gap-2">
          <button class="key" :disabled="!Object.keys(supposed).length" data-test="as-plan" @click="plain">
            {{ t('rig-plan-values') }}
          </button>
          <button v-if="load.measured" class="key" data-test="as-measured" @click="measured">
            {{ t('rig-measured-on-bolts', { measured: load.measured }) }}
          </button>
        </div>
        <label v-for="slider in sliders" :key="slider.key" class="block">
          <span class="flex justify-between gap-3"
            ><span>{{ slider.name }}</span
            ><span class="font-semibold">{{ slider.words(slider.value) }}</span></span
          >
          <input
            type="range"
            class="mt-1 h-8 w-full accent-[var(--layout)]"
            :name="slider.key"
            :min="slider.min"
            :max="slider.max"
            :step="slider.step"
            :value="slider.value"
            :aria-valuetext="slider.words(slider.value)"
            @input="slide(slider.key, Number(($event.target as HTMLInputElement).value))"
          />
        </label>
        <div>
          <button class="quiet-key py-1" :aria-expanded="times" @click="times = !times">
            {{ times ? t('rig-hide-scatter-by-the-standard') : t('rig-scatter-by-the-standard') }}
          </button>
          <table v-if="times" class="mt-1 w-full">
            <caption class="text-left text-dim">
              {{
                t('rig-max-over-min-clamp-load-vdi')
              }}
            </caption>
            <tbody>
              <tr v-for="of in load.usual" :key="of.method" class="border-b border-rule">
                <th scope="row" class="py-1 text-left font-normal">{{ of.method }}</th>
                <td class="text-right">{{ t('common-to', { low: of.low, high: of.high }) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </div>
  </main>
</template>
