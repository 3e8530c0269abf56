<script setup lang="ts">
// Why the target is what it is: every step from the plan's figure, fastener, lubricant, clamp load.
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { digits, figure, say, short } from '../ui/units'

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
      return ['Plan', `${text(reason.target)}, ${text(reason.low)} to ${text(reason.high)}`]
    case 'lubricant':
      return [
        'Converted',
        `${reason.used} instead of ${reason.from === reason.used ? 'the table' : reason.from} (${reason.source}): ` +
          `${text(reason.to)} for the same clamp load, give or take ${percent(1 - reason.least)} less ` +
          `to ${percent(reason.most - 1)} more`,
      ]
    case 'shown':
      return ['Measured friction', `target at the friction of this bolt ${text(reason.to)}; max ${text(reason.most)}`]
    case 'turned':
      return ['So far', `${text(reason.so_far)} turned already, so ${text(props.target!.shown)} more`]
    case 'adapter':
      return [
        'Adapter',
        `${reason.name}, ${short(reason.length_mm, 'length')} at ${reason.angle_deg}° ` +
          `on a wrench of ${short(reason.reach_mm, 'length')}: set ${text(reason.to)}`,
      ]
    case 'step':
      return [
        'Scale',
        `steps of ${reason.step} ${reason.unit}: set ${figure(reason.to, props.target!.dimension, reason.unit)}`,
      ]
  }
}
</script>

<template>
  <div class="border-t border-rule pt-2">
    <button class="flex min-h-11 w-full items-center gap-2 py-1 text-left" :aria-expanded="open" @click="open = !open">
      <span class="text-dim">How this target was set</span>
      <span v-if="why.forecast" class="font-semibold">
        {{ figure(why.forecast.typical_kn, 'force') }},
        <template v-if="why.forecast.past_yield_deg > 0"
          >{{ Math.round(why.forecast.past_yield_deg) }}° past yield</template
        >
        <template v-else>{{ percent(why.forecast.utilisation) }} of yield</template>
      </span>
      <span class="ml-auto text-dim" aria-hidden="true">{{ open ? '−' : '+' }}</span>
    </button>
    <dl v-if="open" class="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1">
      <template v-for="reason in target?.because" :key="reason.kind">
        <dt class="text-dim">{{ step(reason)[0] }}</dt>
        <dd>{{ step(reason)[1] }}</dd>
      </template>
      <dt class="text-dim">Fastener</dt>
      <dd>{{ why.fastener }}</dd>
      <dt class="text-dim">Lubricant</dt>
      <dd>{{ why.lubricant }}</dd>
      <template v-if="why.forecast">
        <dt class="text-dim">Clamp load</dt>
        <dd v-if="why.forecast.low_kn === why.forecast.high_kn">
          {{ figure(why.forecast.typical_kn, 'force') }}, at any friction
        </dd>
        <dd v-else>
          {{ digits(why.forecast.low_kn, 'force') }} to {{ figure(why.forecast.high_kn, 'force') }} over the friction
          range
        </dd>
        <template v-if="why.forecast.longer_mm > 0">
          <dt class="text-dim">Bolt</dt>
          <dd>{{ figure(why.forecast.longer_mm, 'clearance') }} permanent stretch: single use</dd>
        </template>
        <dt class="text-dim">Torque split</dt>
        <dd>
          {{ percent(why.forecast.pitch_share) }} into stretch, {{ percent(why.forecast.thread_share) }} thread,
          {{ percent(why.forecast.bearing_share) }} head; K {{ why.forecast.nut_factor.toFixed(3) }}
        </dd>
      </template>
      <template v-for="line in why.running" :key="line.what">
        <dt class="text-dim">{{ line.what }}</dt>
        <dd :class="line.verdict && line.verdict !== 'holds' && 'font-semibold'" :data-test="`running-${line.part}`">
          {{ line.verdict === 'does-not-hold' ? '▲ ' : '' }}{{ say(line.value)
          }}<span v-if="line.margin != null" class="whitespace-nowrap text-dim"
            >, margin {{ line.margin.toFixed(2) }}</span
          >
        </dd>
      </template>
      <template v-if="why.running.length">
        <dt class="text-dim">Joint</dt>
        <dd>
          <RouterLink class="underline underline-offset-4" :to="`/plans/${why.plan}/joints/${why.joint}`"
            >Joint sheet</RouterLink
          >
        </dd>
      </template>
      <template v-if="why.source">
        <dt class="text-dim">Source</dt>
        <dd data-test="source">{{ why.source }}</dd>
      </template>
      <dt class="text-dim">Note</dt>
      <dd class="text-dim">Computed figures are estimates. The maker's figures come first.</dd>
    </dl>
    <figure v-if="open && load" class="mt-3" data-test="clamp-picture">
      <ClampPicture :load="load" />
      <figcaption class="text-dim">
        Compare torque, angle and stretch for this bolt.
        <RouterLink
          class="underline underline-offset-4"
          :to="{ path: '/clamp-load', query: { plan: why.plan, fastener: why.spec } }"
          >Clamp load</RouterLink
        >
      </figcaption>
    </figure>
  </div>
</template>
