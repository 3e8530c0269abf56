<script setup lang="ts">
// The build sheet, on paper and on screen the same.
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useLive } from '../api/live'
import { useSheet } from '../api/queries'
import { dated } from '../ui/units'
import FindingList from '../ui/FindingList.vue'
import SealClock from '../ui/SealClock.vue'
import SheetContents from './SheetContents.vue'
import SheetSection from './SheetSection.vue'

// It comes when it is opened.
const StoryDialog = defineAsyncComponent(() => import('./StoryDialog.vue'))
const route = useRoute()
const build = computed(() => String(route.params.build))
const { data: sheet, error } = useSheet(build)
useLive(build)
const words = { 'taken-in': 'Taken in', 'in-work': 'In work', held: 'Held', finished: 'Finished and signed' } as const
const print = () => window.print()
const by = ref<'order' | 'joint'>('order')
const only = ref(false)
const story = ref<{ joint: string; fastener: string } | null>(null)
/** By joint, the operations of a joint stand together. */
const sections = computed(() => {
  const all = sheet.value?.sections ?? []
  const shown = only.value ? all.filter((section) => section.deviates) : all
  if (by.value === 'order') return shown
  const joints = [...new Set(shown.flatMap((section) => (section.work === 'tighten' ? section.joints.map((joint) => joint.id) : [])))]
  const first = (section: (typeof shown)[number]) => (section.work === 'tighten' ? joints.indexOf(section.joints[0]?.id ?? '') : joints.length)
  return [...shown].sort((a, b) => first(a) - first(b))
})
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <p v-if="error && !sheet" class="py-8">{{ error.message }}</p>
    <template v-if="sheet">
      <div class="no-print mb-4 flex flex-wrap items-center gap-3">
        <RouterLink :to="`/engines/${build}`" class="way-back mr-auto">{{ sheet.name }}</RouterLink>
        <a class="key" :href="`/api/builds/${build}/sheet.csv`">Pulls, CSV</a>
        <a class="key" :href="`/api/builds/${build}/readings.csv`">Readings, CSV</a>
        <a class="key" :href="`/api/builds/${build}/archive`" data-test="archive">All of it, one file</a>
        <a class="key" :href="`/api/builds/${build}/sheet`" download="build-sheet.json">JSON</a>
        <button class="key key-main" @click="print">Print</button>
        <div class="flex w-full flex-wrap items-center gap-x-6 gap-y-2">
          <div class="flex gap-2" role="group" aria-label="Order of the sheet">
            <button class="quiet-key py-1" :class="by === 'order' && 'font-semibold text-ink!'" :aria-pressed="by === 'order'" @click="by = 'order'">By order of work</button>
            <button class="quiet-key py-1" :class="by === 'joint' && 'font-semibold text-ink!'" :aria-pressed="by === 'joint'" data-test="by-joint" @click="by = 'joint'">By joint</button>
          </div>
          <label class="flex items-center gap-2 py-1"><input v-model="only" type="checkbox" class="size-5 accent-(--layout)" name="only" /> Only what deviates</label>
        </div>
        <SealClock v-for="clock in sheet.clocks" :key="clock.since + clock.name" class="w-full" :clock="clock" :build="build" />
      </div>
      <article class="bg-face p-6 sm:p-10 print:p-0">
        <header class="border-b-2 border-ink pb-4">
          <p class="text-dim">Build sheet</p>
          <h1 class="text-4xl font-semibold tracking-tight">{{ sheet.name }}</h1>
          <dl class="mt-3 grid grid-cols-[8rem_1fr] gap-y-0.5">
            <dt class="text-dim">Status</dt>
            <dd class="font-semibold">{{ words[sheet.status] }}</dd>
            <dt class="text-dim">Plan</dt>
            <dd>
              {{ sheet.plan.name }}, <span class="break-all">version {{ sheet.plan.hash.slice(0, 12) }}</span>
              <ul v-if="sheet.versions.length > 1" data-test="versions">
                <li v-for="(of, at) in sheet.versions" :key="at"><template v-if="at">then {{ of.plan.hash.slice(0, 12) }}: {{ of.reason }}</template><template v-else>begun by {{ of.plan.hash.slice(0, 12) }}</template>, {{ of.by }}, {{ dated(of.at) }}</li>
              </ul>
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
        <section v-if="sheet.findings.length" class="mt-6" data-test="sheet-findings">
          <h2 class="border-b border-ink text-xl font-semibold">Found</h2>
          <FindingList class="mt-2" :findings="sheet.findings" />
        </section>
        <section v-if="sheet.aids.length" class="mt-6">
          <h2 class="border-b border-ink text-xl font-semibold">In for the work and out again</h2>
          <p v-for="aid in sheet.aids" :key="aid.seq" class="flex flex-wrap gap-x-3 break-inside-avoid py-0.5">
            <span class="font-semibold">{{ aid.count > 1 ? `${aid.count} × ` : '' }}{{ aid.what }}</span>
            <span class="text-dim">in {{ aid.by }}, {{ dated(aid.at) }}; {{ aid.out_at ? `out ${aid.out_by}, ${dated(aid.out_at)}` : 'still in' }}</span>
          </p>
        </section>
        <SheetContents :sections="sections" :by="by" />
        <p v-if="only && !sections.length" class="mt-6 text-lg">Nothing deviates.</p>
        <SheetSection v-for="section in sections" :key="section.id" :section="section" :drawings="sheet.drawings" :only="only" @story="(joint, fastener) => (story = { joint, fastener })" />
        <footer class="mt-8 grid grid-cols-2 gap-8 break-inside-avoid border-t border-rule pt-4 text-dim">
          <p>Clamp loads are computed estimates. c: clicked at its setting, t: typed, e: by eye, d: sent by an instrument, s: simulated.</p>
          <p class="pt-8"><span class="block border-t border-ink pt-1">Signature and date</span></p>
        </footer>
      </article>
      <StoryDialog v-if="story" :build="build" v-bind="story" @close="story = null" />
    </template>
  </main>
</template>
