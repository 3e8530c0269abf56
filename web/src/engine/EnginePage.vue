<script setup lang="ts">
// One engine from its first operation to its last.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../api/client'
import { useLive } from '../api/live'
import { useBuild } from '../api/queries'
import StateMark from '../ui/StateMark.vue'
import ClearanceLines from './ClearanceLines.vue'
import LubricantPolicy from './LubricantPolicy.vue'
import { when } from '../ui/units'

type Operation = Schemas['OperationView']
const route = useRoute()
const build = computed(() => String(route.params.build))
const { data: engine, error, refetch } = useBuild(build)
useLive(build)

function line(operation: Operation): string {
  switch (operation.status) {
    case 'waiting':
      return `Waits for ${operation.waits_for.join(' and ')}`
    case 'done':
      if (operation.skipped) return `Left out by ${operation.signed_by?.name}: ${operation.skipped}`
      return `Signed by ${operation.signed_by?.name}, ${when(operation.signed_at)}`
    case 'held':
      return `${operation.matters} open: mend or accept before signing`
    case 'to-sign':
      return 'All done: sign'
    case 'ready':
      return 'Can be started'
    default:
      return operation.next
  }
}
</script>

<template>
  <main class="mx-auto w-full max-w-7xl px-4 py-6">
    <p v-if="error && !engine" class="py-8">{{ error.message }}</p>
    <template v-if="engine">
      <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
        <div>
          <RouterLink to="/" class="way-back">Shop</RouterLink>
          <h1 class="text-4xl font-semibold tracking-tight">{{ engine.name }}</h1>
          <p class="text-dim">
            <template v-if="engine.identity">{{ engine.identity }}. </template>To plan {{ engine.plan.name }}<template v-if="engine.use_for"> for {{ engine.use_for }}</template>, taken in {{ when(engine.begun_at) }}<template v-if="engine.owner">. {{ engine.owner }}</template>
          </p>
        </div>
        <div class="flex flex-wrap gap-3">
          <RouterLink class="key" :to="`/engines/${build}/sheet`">Build sheet</RouterLink>
          <RouterLink v-if="engine.current" class="key key-main" :to="`/engines/${build}/bench/${engine.current}`">
            To the bench
          </RouterLink>
        </div>
      </div>
      <section v-if="engine.matters.length" aria-label="Open matters" class="mt-5 border-l-4 border-wrong pl-4">
        <div v-for="matter in engine.matters" :key="`${matter.seq}${matter.what}`" class="flex gap-3 py-1">
          <StateMark status="held" />
          <p>
            <span class="font-medium text-wrong">{{ matter.what }}.</span> {{ matter.now }}.
          </p>
        </div>
      </section>
      <div class="mt-6 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1fr)_26rem]">
      <ol aria-label="Order of work">
        <li
          v-for="(operation, at) in engine.operations"
          :key="operation.id"
          class="relative grid grid-cols-[2.5rem_1fr_auto] items-start gap-x-3 pb-5"
          :data-test="operation.id"
          :data-status="operation.status"
        >
          <span
            v-if="at < engine.operations.length - 1"
            class="absolute top-9 bottom-0 left-[1.05rem] border-l-2"
            :class="operation.status === 'done' ? 'border-ink' : 'border-dashed border-rule'"
            aria-hidden="true"
          />
          <StateMark :status="operation.status" class="mt-0.5 size-9" />
          <div>
            <RouterLink
              :to="`/engines/${build}/bench/${operation.id}`"
              class="text-xl underline-offset-4 hover:underline"
              :class="operation.id === engine.current ? 'font-semibold' : operation.status === 'waiting' ? 'text-dim' : 'font-medium'"
            >
              {{ operation.name }}
            </RouterLink>
            <p :class="operation.status === 'held' ? 'text-wrong' : 'text-dim'">{{ line(operation) }}</p>
          </div>
          <span v-if="operation.total" class="text-lg" :class="operation.status === 'waiting' && 'text-dim'">
            {{ operation.done }} / {{ operation.total }}
          </span>
        </li>
      </ol>
      <div class="grid content-start gap-8">
        <section v-if="engine.clearances.length" aria-labelledby="clearances">
          <h2 id="clearances" class="border-b border-ink pb-1 text-xl font-semibold">Clearances</h2>
          <ClearanceLines :lines="engine.clearances" :build="build" />
        </section>
        <LubricantPolicy :build="build" :engine="engine" @changed="refetch()" />
        <section v-if="engine.parts.length" aria-labelledby="parts">
          <h2 id="parts" class="border-b border-ink pb-1 text-xl font-semibold">Parts</h2>
          <ul>
            <li v-for="slot in engine.parts" :key="slot.id" class="grid grid-cols-[9.5rem_1fr] gap-x-3 border-b border-rule py-1">
              <span>{{ slot.name }}</span>
              <span v-if="slot.part">
                <RouterLink v-if="slot.part.serial" :to="`/parts/${encodeURIComponent(slot.part.serial)}`" class="underline-offset-4 hover:underline">{{ slot.part.serial }}</RouterLink>
                <template v-else>{{ slot.part.reference }}</template>
                <span class="text-dim">{{ slot.part.batch && `batch ${slot.part.batch}` }}</span>
              </span>
              <RouterLink v-else :to="`/engines/${build}/bench/${slot.operation}`" class="text-dim underline-offset-4 hover:underline">open</RouterLink>
            </li>
          </ul>
        </section>
      </div>
      </div>
    </template>
  </main>
</template>
