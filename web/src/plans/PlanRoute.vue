<script setup lang="ts">
// The build sequence of a plan: what comes after what, and what can be done in parallel. In a draft a step is dragged
// to another place by its handle, or moved by keys.
import { GripVertical } from 'lucide-vue-next'
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import RouteCard from '../ui/RouteCard.vue'
import { t } from './texts'

type Row = Schemas['LineRow']
/** How near to an edge of the window the page goes along, and how far with each movement, px. */
const EDGE = 80
const PACE = 16
type Where = 'before' | 'after' | 'beside'
const props = defineProps<{ line: Row[]; changeable?: boolean }>()
const emit = defineEmits<{ change: [row: Row]; move: [path: string, place: Schemas['StepPlace']] }>()
/** The step in hand, and where it would go. */
const drag = ref<{ row: Row; target?: string; where?: Where }>()
const words: Record<Where, string> = {
  before: t('plans-before'),
  after: t('plans-after'),
  beside: t('plans-in-parallel'),
}
function take(event: PointerEvent, row: Row) {
  drag.value = { row }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
/** The upper third of a step is before it, the lower one behind it, what is between in parallel with it. */
function carry(event: PointerEvent) {
  if (!drag.value) return
  // Towards an edge of the window the page goes along.
  if (event.clientY < EDGE * 2) window.scrollBy(0, -PACE)
  else if (event.clientY > window.innerHeight - EDGE) window.scrollBy(0, PACE)
  const under = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-step-path]')
  const path = under?.dataset.stepPath
  if (!under || !path || path === drag.value.row.path) return void (drag.value = { row: drag.value.row })
  const { top, height } = under.getBoundingClientRect()
  const share = (event.clientY - top) / height
  const last = props.line.find((of) => of.path === path)?.kind === 'sign'
  const where: Where = share < 1 / 3 || last ? 'before' : share > 2 / 3 ? 'after' : 'beside'
  if (drag.value.target !== path || drag.value.where !== where)
    drag.value = { row: drag.value.row, target: path, where }
}
function drop() {
  const { row, target, where } = drag.value ?? {}
  drag.value = undefined
  if (row && target && where) emit('move', row.path, { [where]: target } as unknown as Schemas['StepPlace'])
}
/** By keys a step goes before the one above it, or behind the one below. */
function key(event: KeyboardEvent, row: Row) {
  if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
  event.preventDefault()
  const at = props.line.findIndex((of) => of.path === row.path)
  const up = event.key === 'ArrowUp'
  const other = props.line[at + (up ? -1 : 1)]
  if (!other || other.kind === 'sign' || row.kind === 'sign') return
  emit('move', row.path, up ? { before: other.path } : { after: other.path })
}
const kinds: Record<Schemas['OperationKind'], string> = {
  'take-in': t('plans-log-in'),
  prepare: t('plans-prepare'),
  fit: t('plans-fit'),
  check: t('plans-check'),
  seal: t('plans-seal'),
  tighten: t('plans-tighten-2'),
  loosen: t('plans-take-apart'),
  measure: t('plans-measure'),
  count: t('plans-count'),
  turn: t('plans-turn'),
  sign: t('plans-sign'),
}
</script>

<template>
  <RouteCard v-slot="{ row }" :rows="line" data-test="line">
    <div
      class="relative flex break-inside-avoid items-start gap-1"
      :class="{
        'opacity-40': drag?.row.path === row.path,
        'border-t-4 border-t-layout': drag?.target === row.path && drag.where === 'before',
        'border-b-4 border-b-layout': drag?.target === row.path && drag.where === 'after',
        'border-r-4 border-r-layout': drag?.target === row.path && drag.where === 'beside',
      }"
      :data-test="`line-${row.id}`"
      :data-step-path="changeable ? row.path : undefined"
    >
      <!-- Moved by keys from the name of the step, and by its form. -->
      <span
        v-if="changeable && row.kind !== 'sign'"
        class="grid size-8 shrink-0 cursor-grab touch-none place-items-center text-dim"
        aria-hidden="true"
        :title="t('plans-drag-to-another-place')"
        :data-test="`grip-${row.id}`"
        @pointerdown="take($event, row)"
        @pointermove="carry"
        @pointerup="drop"
        @pointercancel="drag = undefined"
        ><GripVertical class="size-5"
      /></span>
      <span
        v-if="drag?.target === row.path && drag.where"
        class="absolute right-0 bg-layout px-2 text-plate"
        :class="drag.where === 'after' ? 'bottom-0' : 'top-0'"
        >{{ words[drag.where] }}</span
      >
      <div class="flex grow flex-wrap items-baseline gap-x-3 py-1">
        <button
          v-if="changeable"
          class="min-h-6 text-left font-semibold underline underline-offset-4"
          :data-test="`step-${row.id}`"
          @click="emit('change', row)"
          @keydown="key($event, row)"
        >
          {{ row.name }}
        </button>
        <span v-else class="font-semibold">{{ row.name }}</span>
        <span class="text-dim"
          ><template v-if="row.kind">{{ kinds[row.kind] }}</template
          ><template v-if="row.repeat">{{
            t('plans-by-times', { by: row.repeat.by, times: row.repeat.times })
          }}</template></span
        >
        <span v-if="row.earliest < row.place" class="basis-full text-dim">{{
          t('plans-can-be-done-from-on', { earliest: row.earliest })
        }}</span>
        <span v-if="row.steps.length" class="basis-full text-dim">{{ row.steps.join(' · ') }}</span>
      </div>
    </div>
  </RouteCard>
</template>
