<script setup lang="ts">
// Every fastener of a joint with every stage.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import ScrollBox from '../ui/ScrollBox.vue'
import { dated, digits, figure, say } from '../ui/units'

import JointPlace from './JointPlace.vue'
import { common, sameDay, type Stamp } from './stamps'
import { t } from './texts'

const props = defineProps<{
  joint: Schemas['JointSection']
  named: boolean
  drawing?: Schemas['Drawing']
  only: boolean
  signed?: Stamp
}>()
const emit = defineEmits<{ story: [fastener: string] }>()
/** Where only what deviates is wanted, fasteners that have a word against them. */
const rows = computed(() =>
  props.joint.rows.filter(
    (row) => !props.only || row.pulls.some((pull) => pull && (pull.deviates || pull.remarks.length)),
  ),
)
type Stage = Schemas['SheetStage']
/** Each group has stages of its own; rows of one or two stages stand in two columns where there are many. */
const groups = computed(() =>
  [...new Set(rows.value.map((row) => row.group_id))].map((id) => {
    const [of, stages] = [
      rows.value.filter((row) => row.group_id === id),
      props.joint.stages.filter((stage) => stage.group_id === id),
    ]
    const wide = of.some((row) => row.pulls.some((pull) => pull?.torque_nm)) ? 1 : 0
    const half = stages.length + wide <= 2 && of.length >= 4 ? Math.ceil(of.length / 2) : of.length
    return {
      id,
      name: of[0]?.group ?? '',
      stages,
      halves: [of.slice(0, half), of.slice(half)].filter((rows) => rows.length),
    }
  }),
)
const wanted = ({ target }: Stage) =>
  target.dimension === 'count' ? '' : ` ${figure(target.wanted, target.dimension)}`
/** Its limits, the clamp load to expect, and what all of its pulls have in common. */
function said({ target, forecast, stage }: Stage): string {
  const { by, day, method } = heads.value.get(stage) ?? {}
  const load = forecast ? figure(forecast.typical_kn, 'force') : ''
  const asSigned = by === props.signed?.by && sameDay(day, props.signed)
  return [
    t('common-to', { low: digits(target.low, target.dimension), high: figure(target.high, target.dimension) }),
    load,
    asSigned ? '' : by,
    asSigned ? '' : day,
    method && methods[method],
  ]
    .filter(Boolean)
    .join(', ')
}
/** What was read, in the unit that its stage has above; an angle has its sign, a torque at its end its own unit. */
function value(pull: Schemas['PullView'], stage?: Stage): string {
  const same = stage?.target.dimension === pull.dimension && pull.dimension !== 'angle'
  const value = same ? digits(pull.value, pull.dimension) : figure(pull.value, pull.dimension)
  const verdict = pull.verdict === 'good' ? '' : ` ${pull.says}`
  return value + verdict + (pull.torque_nm ? `, ${figure(pull.torque_nm, 'torque')}` : '')
}
/** What all pulls of a stage have in common is said once, at its head. */
function shared(stage: number) {
  const pulls = rows.value.flatMap((row) => row.pulls.filter((pull) => pull?.stage === stage).map((pull) => pull!))
  return {
    by: common(pulls.map((pull) => pull.by)),
    day: common(pulls.map((pull) => dated(pull.at).slice(0, 10))),
    method: common(pulls.map((pull) => pull.method)),
  }
}
const heads = computed(() => new Map(props.joint.stages.map((stage) => [stage.stage, shared(stage.stage)])))
/** What is to be said of one pull besides. */
function besides(pull: Schemas['PullView']): string {
  const { by, day, method } = heads.value.get(pull.stage) ?? {}
  return [by ? '' : pull.by, day ? dated(pull.at).slice(11) : dated(pull.at), method ? '' : methods[pull.method]]
    .filter(Boolean)
    .join(', ')
}
const methods = {
  typed: t('common-typed'),
  device: t('sheet-sent-by-the-tool'),
  imported: t('common-imported'),
  simulated: t('common-simulated'),
  clicked: t('sheet-clicked-at-its-setting'),
  seen: t('common-by-eye'),
} as const
</script>

<template>
  <h3 v-if="named" class="mt-4 text-xl font-semibold break-after-avoid">{{ joint.name }}</h3>
  <p v-if="joint.task === 'loosen'" class="mt-2 font-semibold break-after-avoid print:mt-0">
    {{ t('sheet-taken-apart') }}
  </p>
  <p v-else-if="joint.purpose === 'trial'" class="mt-2 font-semibold break-after-avoid print:mt-0">
    {{
      t('sheet-trial-tightening-taken-apart-again', {
        fasteners: joint.fasteners ? t('sheet-with', { fasteners: joint.fasteners }) : '',
      })
    }}
  </p>
  <p v-if="(joint.uses ?? 1) > 1" class="mt-2 break-after-avoid print:mt-0">
    {{ t('sheet-use-no-of-its-fasteners', { uses: joint.uses }) }}
  </p>
  <JointPlace
    v-if="drawing && joint.rows.length && !only"
    class="mt-3 break-inside-avoid break-after-avoid"
    :drawing="drawing"
    :rows="joint.rows"
    @story="(fastener) => emit('story', fastener)"
  />
  <div
    v-for="(group, order) in groups"
    :key="group.name"
    class="mt-3 print:mt-0.5"
    :class="order > 0 && 'print:clear-both'"
  >
    <p v-for="stage in group.stages" :key="stage.stage" class="break-after-avoid">
      <span class="font-semibold">{{ stage.name }}{{ wanted(stage) }}</span>
      <span class="text-dim">{{ said(stage) }}</span>
    </p>
    <div class="print:clear-both" :class="group.halves.length > 1 && 'grid gap-x-6 sm:grid-cols-2 print:flow-root'">
      <ScrollBox
        v-for="(half, at) in group.halves"
        :key="at"
        :class="group.halves.length > 1 && ['print:float-left print:w-1/2', at ? 'print:pl-2' : 'print:pr-2']"
        :label="`${joint.name}, ${group.name}`"
      >
        <table class="w-full border-collapse text-left">
          <thead :class="at > 0 && 'max-sm:hidden print:table-header-group'">
            <tr class="align-bottom text-dim">
              <th class="border-b border-ink pr-2 font-normal">{{ t('common-no') }}</th>
              <th class="border-b border-ink pr-2 font-normal">{{ group.name }}</th>
              <th v-for="stage in group.stages" :key="stage.stage" class="border-b border-ink pr-2 font-normal">
                {{ stage.name }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in half" :key="row.fastener" class="break-inside-avoid" :data-test="`row-${row.fastener}`">
              <td class="border-b border-rule py-1 pr-2 print:py-0 text-dim">{{ row.number }}</td>
              <td class="border-b border-rule py-1 pr-2 print:py-0 font-semibold whitespace-nowrap">
                <button
                  class="underline-offset-4 hover:underline"
                  :aria-label="`${row.fastener} ${row.group}`"
                  @click="emit('story', row.fastener)"
                >
                  {{ row.fastener }}
                </button>
              </td>
              <td v-for="(pull, place) in row.pulls" :key="place" class="border-b border-rule py-1 pr-2 print:py-0">
                <template v-if="pull">
                  <span class="font-semibold" :class="pull.deviates && 'text-wrong'">{{
                    value(pull, group.stages[place])
                  }}</span>
                  <span class="ml-2 text-[0.875rem] text-dim print:ml-1">{{ besides(pull) }}</span>
                </template>
                <span v-else class="text-dim">{{ t('common-open') }}</span>
                <span
                  v-if="place === row.pulls.length - 1 && row.climb.length"
                  class="ml-2 text-[0.875rem]"
                  data-test="climbed"
                >
                  {{
                    row.climb
                      .map((step) => `${figure(step.torque_nm, 'torque')} ${figure(step.stretch_mm, 'clearance')}`)
                      .join(', ')
                  }}
                </span>
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
    </div>
  </div>
  <div class="print:text-[0.9375rem]">
    <p v-if="joint.actions.length" class="mt-2 print:mt-0">
      <span class="text-dim">{{ t('sheet-between-stages') }}</span> {{ joint.actions.map(say).join('; ') }}
    </p>
    <p v-if="joint.lubricants.length" class="print:mr-2 print:inline">
      <span class="text-dim">{{ t('sheet-lubricants-asked-for') }}</span> {{ joint.lubricants.join('; ') }}
    </p>
    <p v-if="joint.instruments.length" class="print:inline">
      <span class="text-dim">{{ t('sheet-instruments') }}</span> {{ joint.instruments.join('; ') }}
    </p>
    <ul v-if="joint.notes.length" class="mt-2 print:mt-0">
      <li v-for="note in joint.notes.map(say)" :key="note" class="break-inside-avoid print:mr-2 print:inline">
        {{ note }}<span class="hidden print:inline">.</span>
      </li>
    </ul>
  </div>
</template>
