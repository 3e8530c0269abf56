<script setup lang="ts">
// The last pulls, and voiding one with a reason.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import ReasonDialog from '../ui/ReasonDialog.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import { figure, say } from '../ui/units'
import { useHand } from './hand'
import { t } from './texts'

type Pull = Schemas['PullView']
const props = defineProps<{ pulls: Pull[]; count: number; joints: Schemas['JointView'][] }>()
/** Where joints are worked together, a pull says which one it was on. */
const of = (pull: Pull) =>
  props.joints.length > 1 ? `${props.joints.find((j) => j.id === pull.joint)?.name ?? ''} ` : ''
const { act } = useHand()
const SHOWN = 5
const all = ref(false)
const chosen = ref<Pull | null>(null)
const rows = computed(() => (all.value ? props.pulls : props.pulls.slice(0, SHOWN)))
const methods = {
  typed: t('common-typed'),
  device: t('bench-sent'),
  imported: t('common-imported'),
  simulated: t('common-simulated'),
  clicked: t('bench-clicked'),
  seen: t('common-by-eye'),
} as const

async function voidIt(reason: string) {
  const seq = chosen.value?.seq
  chosen.value = null
  if (seq) await act({ type: 'void', seq, reason })
}

defineExpose({
  voidLast: () => (chosen.value = props.pulls.find((p) => !p.voided) ?? null),
  voidEntry: (seq: number) => (chosen.value = props.pulls.find((p) => p.seq === seq && !p.voided) ?? null),
})
</script>

<template>
  <div>
    <ScrollBox v-if="pulls.length" :label="t('bench-last-pulls')">
      <table class="w-full text-left" data-test="pulls">
        <caption class="sr-only">
          {{
            t('bench-last-pulls')
          }}
        </caption>
        <tbody>
          <tr
            v-for="pull in rows"
            :key="pull.seq"
            class="border-b border-rule"
            :class="pull.voided ? 'text-dim line-through decoration-1' : pull.loosened ? 'text-dim' : ''"
          >
            <td class="min-w-12 py-1 pr-2 font-semibold whitespace-nowrap">{{ of(pull) }}{{ pull.fastener }}</td>
            <td class="w-28 font-semibold whitespace-nowrap">{{ figure(pull.read, pull.dimension) }}</td>
            <td class="w-28" :class="pull.wrong && 'font-semibold text-wrong'">
              {{ pull.wrong ? '▲ ' : '' }}{{ pull.says }}
            </td>
            <td class="hidden text-dim sm:table-cell">{{ pull.by }}, {{ methods[pull.method] }}</td>
            <td class="text-dim">
              {{
                [
                  pull.torque_nm && t('bench-reached', { torque_nm: figure(pull.torque_nm, 'torque') }),
                  ...pull.remarks.map(say),
                  pull.loosened && !pull.voided && t('bench-loosened-since'),
                  pull.voided && t('bench-voided', { voided: pull.voided }),
                  pull.accepted && t('bench-approved', { accepted: pull.accepted }),
                ]
                  .filter(Boolean)
                  .join('; ')
              }}
            </td>
            <td class="w-14 text-right">
              <button
                v-if="!pull.voided"
                class="quiet-key px-2 py-1"
                :aria-label="t('bench-void-entry', { fastener: pull.fastener, seq: pull.seq })"
                @click="chosen = pull"
              >
                {{ t('common-void') }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
    <button v-if="pulls.length > SHOWN" class="quiet-key py-2" @click="all = !all">
      {{ all ? t('bench-fewer') : t('bench-the-last-of-pulls', { shown: pulls.length, all: count }) }}
    </button>
    <ReasonDialog
      :open="!!chosen"
      :title="t('bench-void-a-pull')"
      :about="
        chosen
          ? t('bench-entry', {
              fastener: chosen.fastener,
              read: figure(chosen.read, chosen.dimension),
              seq: chosen.seq,
            }) + t('bench-it-stays-on-the-record-and')
          : ''
      "
      :action="t('common-void')"
      :usual="[t('bench-typed-wrong'), t('common-wrong-fastener'), t('bench-not-pulled')]"
      @close="chosen = null"
      @reason="voidIt"
    />
  </div>
</template>
