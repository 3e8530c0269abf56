<script setup lang="ts">
// The build sheet, on paper and on screen the same.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useLive } from '../api/live'
import { useSheet } from '../api/queries'
import { torqueUnit } from '../ui/preferences'
import { torque, when } from '../ui/units'
import JointSheet from './JointSheet.vue'
import MeasureSheet from './MeasureSheet.vue'
import PartSheet from './PartSheet.vue'

const route = useRoute()
const build = computed(() => String(route.params.build))
const { data: sheet, error } = useSheet(build)
useLive(build)
const words = { 'taken-in': 'Taken in', 'in-work': 'In work', held: 'Held', finished: 'Finished and signed' } as const
const print = () => window.print()
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <p v-if="error && !sheet" class="py-8">{{ error.message }}</p>
    <template v-if="sheet">
      <div class="no-print mb-4 flex flex-wrap items-center gap-3">
        <RouterLink :to="`/engines/${build}`" class="mr-auto text-dim underline-offset-4 hover:underline">{{ sheet.name }}</RouterLink>
        <a class="key" :href="`/api/builds/${build}/sheet.csv`">Pulls, CSV</a>
        <a class="key" :href="`/api/builds/${build}/readings.csv`">Readings, CSV</a>
        <a class="key" :href="`/api/builds/${build}/sheet`" download="build-sheet.json">JSON</a>
        <button class="key key-main" @click="print">Print</button>
      </div>
      <article class="bg-face p-6 sm:p-10 print:p-0">
        <header class="border-b-2 border-ink pb-4">
          <p class="text-dim">Build sheet</p>
          <h1 class="text-4xl font-semibold tracking-tight">{{ sheet.name }}</h1>
          <dl class="mt-3 grid grid-cols-[8rem_1fr] gap-y-0.5">
            <dt class="text-dim">Status</dt>
            <dd class="font-medium">{{ words[sheet.status] }}</dd>
            <dt class="text-dim">Plan</dt>
            <dd>
              {{ sheet.plan?.name }}, <span class="break-all">version {{ sheet.plan?.hash.slice(0, 12) }}</span>
            </dd>
            <template v-if="sheet.identity">
              <dt class="text-dim">Engine</dt>
              <dd>{{ sheet.identity }}</dd>
            </template>
            <template v-if="sheet.owner">
              <dt class="text-dim">Owner</dt>
              <dd>{{ sheet.owner }}</dd>
            </template>
            <template v-if="sheet.use_for">
              <dt class="text-dim">Use</dt>
              <dd>{{ sheet.use_for }}</dd>
            </template>
            <dt class="text-dim">Record</dt>
            <dd>{{ sheet.entries }} entries, {{ when(sheet.begun_at) }} to {{ when(sheet.touched) }}</dd>
            <dt class="text-dim">People</dt>
            <dd>{{ sheet.people.map((p) => p.name).join(', ') }}</dd>
          </dl>
        </header>
        <section v-if="sheet.matters.length" class="mt-5 border-l-4 border-wrong pl-4">
          <h2 class="text-xl font-semibold text-wrong">Open</h2>
          <p v-for="matter in sheet.matters" :key="matter.seq">{{ matter.what }}. {{ matter.now }}.</p>
        </section>
        <section v-for="section in sheet.sections" :key="section.id" class="mt-7">
          <div class="flex flex-wrap items-baseline justify-between gap-x-4 border-b border-ink break-after-avoid">
            <h2 class="text-2xl font-semibold">{{ section.name }}</h2>
            <p :class="section.signed_by ? '' : 'text-dim'">
              {{ section.signed_by ? `Signed ${section.signed_by.name}, ${when(section.signed_at)}` : 'Not signed' }}
            </p>
          </div>
          <ul v-if="section.items.length" class="mt-2">
            <li v-for="item in section.items" :key="item.id" class="grid grid-cols-[1.5rem_1fr_auto] gap-x-2 py-0.5 break-inside-avoid">
              <span aria-hidden="true">{{ item.seq ? '✓' : '–' }}</span>
              <span>{{ item.text }}</span>
              <span class="text-dim">{{ item.seq ? `${item.by?.name}, ${when(item.at)}` : 'open' }}</span>
            </li>
          </ul>
          <PartSheet v-if="section.parts.length" :parts="section.parts" />
          <ul v-if="section.counts.length" class="mt-2">
            <li v-for="line in section.counts" :key="line.id" class="grid grid-cols-[1fr_auto_auto] gap-x-4 py-0.5 break-inside-avoid" :data-test="`count-${line.id}`">
              <span>{{ line.name }}<span v-if="line.difference" class="block font-medium">▲ {{ line.difference }}<template v-if="line.accepted">; accepted: {{ line.accepted }}</template></span></span>
              <span>{{ line.count ?? 'open' }} of {{ line.expected }}{{ line.back ? ' back' : '' }}</span>
              <span class="text-dim">{{ line.by ? `${line.by}, ${when(line.at)}` : '' }}</span>
            </li>
          </ul>
          <p v-if="section.skipped" class="mt-2 font-medium">Left out: {{ section.skipped }}</p>
          <p v-for="turn in section.turns" :key="turn.seq" class="mt-2">
            {{ turn.free ? 'Turned freely' : 'Bound' }}<template v-if="turn.torque_nm != null">, {{ torque(turn.torque_nm) }} {{ torqueUnit }}</template>.
            <span class="text-dim">{{ turn.by }}, {{ when(turn.at) }}</span>
          </p>
          <MeasureSheet v-if="section.readings.length" :section="section" />
          <JointSheet v-if="section.joint" :joint="section.joint" />
        </section>
        <footer class="mt-8 grid grid-cols-2 gap-8 break-inside-avoid border-t border-rule pt-4 text-dim">
          <p>Clamp loads are computed estimates. s: simulated, t: typed, d: sent by an instrument.</p>
          <p class="pt-8"><span class="block border-t border-ink pt-1">Signature and date</span></p>
        </footer>
      </article>
    </template>
  </main>
</template>
