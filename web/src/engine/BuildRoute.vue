<script setup lang="ts">
// The build sequence of an engine: what comes after what, what can be done in parallel, and who is at what. What is
// repeated is one row that opens.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import RouteCard from '../ui/RouteCard.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import StateMark from '../ui/StateMark.vue'
import { say, when } from '../ui/units'
import { openIssues } from '../ui/issues'
import { listed } from '../ui/catalog'
import { t } from './texts'

type Operation = Schemas['OperationView']
type Row = Schemas['SequenceRow']
const props = defineProps<{ engine: Schemas['BuildView']; build: string }>()

const byId = computed(() => new Map(props.engine.operations.map((of) => [of.id, of])))
const opened = ref<Set<string>>(new Set())
/** A repeat is open where it is in work, until somebody closes it. */
const touched = ref<Set<string>>(new Set())
const isOpen = (row: Row) =>
  touched.value.has(row.id)
    ? opened.value.has(row.id)
    : row.by !== null && (row.status === 'in-work' || row.status === 'held')
function toggle(row: Row) {
  const open = !isOpen(row)
  touched.value.add(row.id)
  if (open) opened.value.add(row.id)
  else opened.value.delete(row.id)
}

/** What is done at the beginning stands back, until somebody wants to see it. */
const KEPT = 2
const begun = computed(() => {
  const { route } = props.engine
  const first = route.findIndex((row) => row.status !== 'done')
  const place = route[Math.max(0, (first < 0 ? route.length : first) - KEPT)]?.place
  // What can be done in parallel stays together.
  return route.findIndex((row) => row.place === place)
})
const all = ref(false)
const folded = computed(() => (all.value || begun.value < 4 ? 0 : begun.value))
const rows = computed(() => props.engine.route.slice(folded.value))
/** Work that could be done before its place on the route says so, as long as that is of use. */
const early = (row: Row) =>
  row.earliest < row.place && row.status === 'waiting' ? t('engine-earliest', { place: row.earliest }) : ''
const stands = {
  upright: t('engine-upright'),
  'upside-down': t('engine-crankcase-up'),
  'front-up': t('engine-front-end-up'),
  'on-its-side': t('engine-on-its-side'),
} as const
const of = (row: Row) => row.operations.map((id) => byId.value.get(id)!).filter(Boolean)
/** The operations of a repeat, step by step, each with its members in order. */
function steps(row: Row): { step: string; operations: Operation[] }[] {
  const list: { step: string; operations: Operation[] }[] = []
  for (const operation of of(row)) {
    const step = operation.member?.step ?? operation.name
    const known = list.find((other) => other.step === step)
    if (known) known.operations.push(operation)
    else list.push({ step, operations: [operation] })
  }
  return list
}
const members = (row: Row) => [...new Set(of(row).map((operation) => operation.member?.member ?? ''))]
/** The operation of a row that says what is going on in it. */
const telling = (row: Row) =>
  of(row).find((operation) => operation.status === row.status) ??
  of(row).find((o) => o.status !== 'done') ??
  of(row)[0]!

function line(row: Row): string {
  const operation = telling(row)
  const which = row.by ? `${operation.name}: ` : ''
  const cures = Date.parse(operation.cure?.until ?? '') > Date.now()
  switch (row.status) {
    case 'waiting':
      return cures && !operation.waits_for.length
        ? t('engine-cures-until', { time: when(operation.cure?.until) })
        : t('engine-waits-for', { waits_for: listed(operation.waits_for) })
    case 'done':
      if (row.by) return t('engine-all-signed', { count: row.operations.length })
      if (operation.skipped)
        return t('engine-skipped-by', { signed_by: operation.signed_by?.name, skipped: operation.skipped })
      return `${operation.signed_by?.name}, ${when(operation.signed_at)}`
    case 'held':
      return t('engine-blocked', { which, issues: openIssues(operation.issues) })
    case 'to-sign':
      return t('engine-all-done-to-sign', { which })
    case 'ready':
      return cures ? t('engine-cures-until', { time: when(operation.cure?.until) }) : t('engine-can-be-started')
    default:
      return (
        which + (operation.again[0] ? t('engine-to-be-done-again', { again: operation.again[0] }) : say(operation.next))
      )
  }
}
const people = (row: Row) => [
  ...new Map(
    of(row).flatMap((operation) =>
      operation.at_it && operation.done > 0 ? [[operation.at_it.by, operation.at_it.at] as const] : [],
    ),
  ).entries(),
]
</script>

<template>
  <div class="min-w-0">
    <button
      v-if="begun >= 4"
      class="quiet-key mb-3 py-1"
      :aria-expanded="!folded"
      data-test="show-done"
      @click="all = !all"
    >
      {{ folded ? t('engine-show-the-first-steps-all-done', { folded }) : t('engine-hide-completed-steps') }}
    </button>
    <RouteCard v-slot="{ row }" :rows="rows">
      <div class="flex h-full gap-3" :data-test="row.id" :data-status="row.status">
        <StateMark :status="row.status" class="mt-2 size-7" />
        <div class="min-w-0 grow">
          <p v-if="row.stand" class="flex h-7 items-center gap-2 text-layout" data-test="stand">
            <svg viewBox="0 0 24 24" class="size-5" aria-hidden="true">
              <path
                d="M4 12a8 8 0 0 1 14-5m0-5v5h-5M20 12a8 8 0 0 1-14 5m0 5v-5h5"
                fill="none"
                stroke="currentColor"
                stroke-width="2"
              />
            </svg>
            {{ t('engine-on-the-stand', { stands: stands[row.stand] }) }}
          </p>
          <div class="flex min-h-11 flex-wrap items-baseline gap-x-4 pt-1">
            <button
              v-if="row.by"
              class="text-left text-xl underline-offset-4 hover:underline"
              :class="row.status === 'waiting' ? 'text-dim' : 'font-semibold'"
              :aria-expanded="isOpen(row)"
              @click="toggle(row)"
            >
              {{ row.name }}
              <span class="text-base font-normal text-dim"
                >{{ t('engine-members', { count: members(row).length, kind: row.by }) }}
                <span aria-hidden="true">{{ isOpen(row) ? '−' : '+' }}</span></span
              >
            </button>
            <RouterLink
              v-else
              :to="`/engines/${build}/bench/${row.id}`"
              class="text-xl underline-offset-4 hover:underline"
              :class="row.status === 'waiting' ? 'text-dim' : 'font-semibold'"
              >{{ row.name }}</RouterLink
            >
            <span v-if="row.total" class="ml-auto text-lg" :class="row.status === 'waiting' && 'text-dim'"
              >{{ row.done }} / {{ row.total }}</span
            >
            <p class="w-full" :class="row.status === 'held' ? 'text-wrong' : 'text-dim'">
              {{ line(row) }}{{ early(row)
              }}<template v-for="[by, at] in people(row)" :key="by"
                >. <span class="font-semibold">{{ by }}</span>, {{ when(at) }}</template
              >
            </p>
            <RouterLink
              v-if="row.signs.length"
              :to="`/engines/${build}/bench/${row.signs.at(-1)}`"
              class="key my-2"
              :data-test="`sign-${row.id}`"
            >
              {{ t('common-sign-as-one', { count: row.signs.length }) }}
            </RouterLink>
          </div>
          <ScrollBox v-if="isOpen(row)" class="mt-1" :label="t('engine-step-by-step', { name: row.name })">
            <table class="border-separate border-spacing-x-2">
              <thead>
                <tr>
                  <th class="sr-only">{{ t('engine-step') }}</th>
                  <th v-for="member in members(row)" :key="member" scope="col" class="min-w-11 font-semibold">
                    {{ member }}
                  </th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="{ step, operations } in steps(row)" :key="step">
                  <th scope="row" class="pr-3 text-left font-normal">{{ step }}</th>
                  <td
                    v-for="operation in operations"
                    :key="operation.id"
                    class="text-center"
                    :data-test="operation.id"
                    :data-status="operation.status"
                  >
                    <RouterLink
                      :to="`/engines/${build}/bench/${operation.id}`"
                      class="inline-flex size-11 items-center justify-center"
                      :aria-label="`${operation.name}: ${operation.status}`"
                    >
                      <StateMark :status="operation.status" class="size-7" />
                    </RouterLink>
                  </td>
                </tr>
              </tbody>
            </table>
          </ScrollBox>
        </div>
      </div>
    </RouteCard>
  </div>
</template>
