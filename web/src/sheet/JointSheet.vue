<script setup lang="ts">
// Every fastener of a joint with every stage.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import ScrollBox from '../ui/ScrollBox.vue'
import { dated, figure } from '../ui/units'

import JointPlace from './JointPlace.vue'

const props = defineProps<{ joint: Schemas['JointSection']; named: boolean; drawing?: Schemas['Drawing']; only: boolean }>()
const emit = defineEmits<{ story: [fastener: string] }>()
/** Where only what deviates is wanted, fasteners that have a word against them. */
const rows = computed(() =>
  props.joint.rows.filter((row) => !props.only || row.pulls.some((pull) => pull && (pull.wrong || pull.verdict !== 'good' || pull.remarks.length))),
)
/** Each group has stages of its own. */
const groups = computed(() => [...new Set(rows.value.map((row) => row.group))])
/** What all pulls of a stage have in common is said once, at its head. */
function shared(stage: number) {
  const pulls = rows.value.flatMap((row) => row.pulls.filter((pull) => pull?.stage === stage).map((pull) => pull!))
  const one = <T,>(values: T[]) => (new Set(values).size === 1 ? values[0] : undefined)
  return { by: one(pulls.map((pull) => pull.by)), day: one(pulls.map((pull) => dated(pull.at).slice(0, 10))), method: one(pulls.map((pull) => pull.method)) }
}
const heads = computed(() => new Map(props.joint.stages.map((stage) => [stage.stage, shared(stage.stage)])))
/** What is to be said of one pull besides. */
function besides(pull: Schemas['PullView']): string {
  const { by, day, method } = heads.value.get(pull.stage) ?? {}
  return [by ? '' : pull.by, day ? dated(pull.at).slice(11) : dated(pull.at), method ? '' : methods[pull.method]].filter(Boolean).join(', ')
}
const methods = { typed: 't', device: 'd', imported: 'i', simulated: 's', clicked: 'c', seen: 'e' } as const
</script>

<template>
  <h3 v-if="named" class="mt-4 text-xl font-semibold break-after-avoid">{{ joint.name }}</h3>
  <p v-if="joint.task === 'loosen'" class="mt-2 font-semibold">Taken apart</p>
  <p v-else-if="joint.purpose === 'trial'" class="mt-2 font-semibold">
    Tightened for a trial, to be taken apart again{{ joint.fasteners ? `, with ${joint.fasteners}` : '' }}
  </p>
  <p v-if="(joint.uses ?? 1) > 1" class="mt-2">Use no. {{ joint.uses }} of its fasteners</p>
  <div :class="drawing && !!joint.rows.length && !only && 'break-inside-avoid'">
  <JointPlace v-if="drawing && joint.rows.length && !only" class="mt-3 break-inside-avoid" :drawing="drawing" :rows="joint.rows" @story="(fastener) => emit('story', fastener)" />
  <div class="min-w-0">
  <ScrollBox v-for="group in groups" :key="group" :label="`${joint.name}, ${group}`">
    <table class="mt-3 w-full print:mt-1 border-collapse text-left">
      <thead>
        <tr class="align-bottom">
          <th class="border-b border-ink py-1 pr-3 font-semibold text-dim">No.</th>
          <th class="border-b border-ink py-1 pr-3 font-semibold text-dim">Fastener</th>
          <th v-for="stage in joint.stages.filter((s) => s.group === group)" :key="stage.stage" class="border-b border-ink py-1 pr-3">
            {{ stage.name }}{{ stage.target.dimension === 'count' ? '' : ` ${figure(stage.target.wanted, stage.target.dimension)}` }}
            <span class="block text-[0.9375rem] font-normal text-dim">
              {{ figure(stage.target.low, stage.target.dimension) }} to {{ figure(stage.target.high, stage.target.dimension)
              }}<template v-if="stage.forecast">, {{ stage.forecast.typical_kn.toFixed(1) }} kN</template>
              <span v-if="heads.get(stage.stage)?.by" class="block">{{ heads.get(stage.stage)!.by }}<template v-if="heads.get(stage.stage)!.day">, {{ heads.get(stage.stage)!.day }}</template><template v-if="heads.get(stage.stage)!.method">, {{ methods[heads.get(stage.stage)!.method!] }}</template></span>
            </span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows.filter((r) => r.group === group)" :key="row.fastener" class="break-inside-avoid" :data-test="`row-${row.fastener}`">
          <td class="border-b border-rule py-1 pr-3 print:py-0 text-dim">{{ row.number }}</td>
          <td class="border-b border-rule py-1 pr-3 print:py-0 font-semibold whitespace-nowrap"><button class="underline-offset-4 hover:underline" @click="emit('story', row.fastener)">{{ row.fastener }} {{ row.group }}</button></td>
          <td v-for="(pull, at) in row.pulls" :key="at" class="border-b border-rule py-1 pr-3 print:py-0">
            <template v-if="pull">
              <span class="font-semibold" :class="pull.wrong && 'text-wrong'">
                {{ figure(pull.value, pull.dimension) }}{{ pull.verdict === 'good' ? '' : ` ${pull.says}` }}{{ pull.torque_nm ? `, ${figure(pull.torque_nm, 'torque')}` : '' }}
              </span>
              <span class="ml-2 text-[0.875rem] text-dim">{{ besides(pull) }}</span>
            </template>
            <span v-else class="text-dim">open</span>
          </td>
        </tr>
      </tbody>
    </table>
  </ScrollBox>
  </div>
  </div>
  <p v-if="joint.actions.length" class="mt-2"><span class="text-dim">Between stages:</span> {{ joint.actions.join('; ') }}</p>
  <p v-if="joint.lubricants.length"><span class="text-dim">Lubricants:</span> {{ joint.lubricants.join('; ') }}</p>
  <p v-if="joint.instruments.length"><span class="text-dim">Instruments:</span> {{ joint.instruments.join('; ') }}</p>
  <ul v-if="joint.notes.length" class="mt-2 print:mt-0">
    <li v-for="note in joint.notes" :key="note" class="break-inside-avoid print:mr-2 print:inline">{{ note }}<span class="hidden print:inline">.</span></li>
  </ul>
</template>
