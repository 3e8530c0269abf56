<script setup lang="ts">
// Why the target is what it is: every step from the plan's figure, fastener, lubricant, clamp load.
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { digits, figure, say, short } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ why: Schemas['TargetReasons']; target: Schemas['StageTarget'] | null }>()
const open = defineModel<boolean>('open', { required: true })
// The picture comes when it is opened.
const ClampPicture = defineAsyncComponent(() => import('../ui/ClampPicture.vue'))
const { data: load } = useQuery({
  queryKey: ['clamp-load', computed(() => props.why.plan), computed(() => props.why.spec), {}],
  enabled: computed(() => open.value && !!props.why.forecast),
  retry: false,
  queryFn: async () =>
    take(
      await api.GET('/api/plans/{plan}/clamp-load/{fastener}', {
        params: { path: { plan: props.why.plan, fastener: props.why.spec } },
      }),
    ),
})
const percent = (share: number) => `${Math.round(share * 100)} %`

/** One step from the plan's figure to the one that is shown. */
function step(reason: Schemas['Correction']): [name: string, text: string] {
  const text = (value: number) => figure(value, props.target!.dimension)
  switch (reason.kind) {
    case 'planned':
      return [
        t('common-plan'),
        t('bench-target-within', { target: text(reason.target), low: text(reason.low), high: text(reason.high) }),
      ]
    case 'lubricant':
      return [
        t('bench-converted'),
        t('bench-instead-of', {
          used: reason.used,
          from: reason.from === reason.used ? t('bench-the-table') : reason.from,
          source: reason.source,
        }) +
          t('bench-for-the-same-clamp-load-give', { to: text(reason.to), least: percent(1 - reason.least) }) +
          t('bench-to-more', { most: percent(reason.most - 1) }),
      ]
    case 'shown':
      return [
        t('bench-measured-friction'),
        t('bench-target-at-the-friction-of-this', { to: text(reason.to), most: text(reason.most) }),
      ]
    case 'turned':
      return [
        t('bench-so-far'),
        t('bench-turned-already-so-more', { so_far: text(reason.so_far), shown: text(props.target!.shown) }),
      ]
    case 'adapter':
      return [
        t('bench-adapter'),
        t('bench-adapter-at', {
          adapter: reason.name,
          length: short(reason.length_mm, 'length'),
          angle: reason.angle_deg,
        }) + t('bench-on-a-wrench-of-set', { reach_mm: short(reason.reach_mm, 'length'), to: text(reason.to) }),
      ]
    case 'step':
      return [
        t('bench-scale'),
        t('bench-steps-of-set', {
          step: reason.step,
          unit: reason.unit,
          to: figure(reason.to, props.target!.dimension, reason.unit),
        }),
      ]
  }
}
</script>

<template>
  <div class="border-t border-rule pt-2">
    <button class="flex min-h-11 w-full items-center gap-2 py-1 text-left" :aria-expanded="open" @click="open = !open">
      <span class="text-dim">{{ t('bench-how-this-target-was-set-2') }}</span>
      <span v-if="why.forecast" class="font-semibold">
        {{ figure(why.forecast.typical_kn, 'force') }},
        <template v-if="why.forecast.past_yield_deg > 0">{{
          t('bench-past-yield', { past_yield_deg: Math.round(why.forecast.past_yield_deg) })
        }}</template>
        <template v-else>{{ t('bench-of-yield-2', { utilisation: percent(why.forecast.utilisation) }) }}</template>
      </span>
      <span class="ml-auto text-dim" aria-hidden="true">{{ open ? '−' : '+' }}</span>
    </button>
    <dl v-if="open" class="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1">
      <template v-for="reason in target?.because" :key="reason.kind">
        <dt class="text-dim">{{ step(reason)[0] }}</dt>
        <dd>{{ step(reason)[1] }}</dd>
      </template>
      <dt class="text-dim">{{ t('common-fastener') }}</dt>
      <dd>{{ why.fastener }}</dd>
      <dt class="text-dim">{{ t('common-lubricant') }}</dt>
      <dd>{{ why.lubricant }}</dd>
      <template v-if="why.forecast">
        <dt class="text-dim">{{ t('common-clamp-load') }}</dt>
        <dd v-if="why.forecast.low_kn === why.forecast.high_kn">
          {{ t('bench-at-any-friction', { typical_kn: figure(why.forecast.typical_kn, 'force') }) }}
        </dd>
        <dd v-else>
          {{
            t('bench-to-over-the-friction-range', {
              low_kn: digits(why.forecast.low_kn, 'force'),
              high_kn: figure(why.forecast.high_kn, 'force'),
            })
          }}
        </dd>
        <template v-if="why.forecast.longer_mm > 0">
          <dt class="text-dim">{{ t('common-bolt') }}</dt>
          <dd>
            {{ t('bench-permanent-stretch-single-use', { longer_mm: figure(why.forecast.longer_mm, 'clearance') }) }}
          </dd>
        </template>
        <dt class="text-dim">{{ t('bench-torque-split') }}</dt>
        <dd>
          {{
            t('bench-into-stretch-thread-head-k', {
              pitch_share: percent(why.forecast.pitch_share),
              thread_share: percent(why.forecast.thread_share),
              bearing_share: percent(why.forecast.bearing_share),
              nut_factor: why.forecast.nut_factor.toFixed(3),
            })
          }}
        </dd>
      </template>
      <template v-for="line in why.running" :key="line.what">
        <dt class="text-dim">{{ line.what }}</dt>
        <dd :class="line.verdict && line.verdict !== 'holds' && 'font-semibold'" :data-test="`running-${line.part}`">
          {{ line.verdict === 'does-not-hold' ? '▲ ' : '' }}{{ say(line.value)
          }}<span v-if="line.margin != null" class="whitespace-nowrap text-dim">{{
            t('bench-margin', { margin: line.margin.toFixed(2) })
          }}</span>
        </dd>
      </template>
      <template v-if="why.running.length">
        <dt class="text-dim">{{ t('common-joint') }}</dt>
        <dd>
          <RouterLink class="underline underline-offset-4" :to="`/plans/${why.plan}/joints/${why.joint}`">{{
            t('bench-joint-sheet')
          }}</RouterLink>
        </dd>
      </template>
      <template v-if="why.source">
        <dt class="text-dim">{{ t('common-source') }}</dt>
        <dd data-test="source">{{ why.source }}</dd>
      </template>
      <dt class="text-dim">{{ t('common-note') }}</dt>
      <dd class="text-dim">{{ t('bench-computed-figures-are-estimates-the-makers') }}</dd>
    </dl>
    <figure v-if="open && load" class="mt-3" data-test="clamp-picture">
      <ClampPicture :load="load" />
      <figcaption class="text-dim">
        {{ t('bench-compare-torque-angle-and-stretch-for') }}
        <RouterLink
          class="underline underline-offset-4"
          :to="{ path: '/clamp-load', query: { plan: why.plan, fastener: why.spec } }"
          >{{ t('common-clamp-load') }}</RouterLink
        >
      </figcaption>
    </figure>
  </div>
</template>
