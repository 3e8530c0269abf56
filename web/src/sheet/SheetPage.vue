<script setup lang="ts">
// The build sheet, on paper and on screen the same.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useLive } from '../api/live'
import { useSheet } from '../api/queries'
import { dated } from '../ui/units'
import SheetSection from './SheetSection.vue'

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
        <RouterLink :to="`/engines/${build}`" class="way-back mr-auto">{{ sheet.name }}</RouterLink>
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
              {{ sheet.plan.name }}, <span class="break-all">version {{ sheet.plan.hash.slice(0, 12) }}</span>
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
            <dd>{{ sheet.entries }} entries, {{ dated(sheet.begun_at) }} to {{ dated(sheet.touched) }}; all times are UTC</dd>
            <dt class="text-dim">People</dt>
            <dd>{{ sheet.people.map((p) => p.name).join(', ') }}</dd>
          </dl>
        </header>
        <section v-if="sheet.matters.length" class="mt-5 border-l-4 border-wrong pl-4">
          <h2 class="text-xl font-semibold text-wrong">Open</h2>
          <p v-for="matter in sheet.matters" :key="`${matter.seq}${matter.what}`">{{ matter.what }}. {{ matter.now }}.</p>
        </section>
        <SheetSection v-for="section in sheet.sections" :key="section.id" :section="section" />
        <footer class="mt-8 grid grid-cols-2 gap-8 break-inside-avoid border-t border-rule pt-4 text-dim">
          <p>Clamp loads are computed estimates. c: clicked at its setting, t: typed, e: by eye, d: sent by an instrument, s: simulated.</p>
          <p class="pt-8"><span class="block border-t border-ink pt-1">Signature and date</span></p>
        </footer>
      </article>
    </template>
  </main>
</template>
