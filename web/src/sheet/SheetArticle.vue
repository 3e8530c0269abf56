<script setup lang="ts">
// The build sheet itself: the same on screen, on paper, and to whoever has a link to it.
import { computed, onUnmounted, watchEffect } from 'vue'
import type { Schemas } from '../api/client'
import { dated, say } from '../ui/units'
import FindingList from '../ui/FindingList.vue'
import SheetFirst from './SheetFirst.vue'
import SheetContents from './SheetContents.vue'
import SheetSection from './SheetSection.vue'

const props = defineProps<{ sheet: Schemas['SheetAnswer']; by: 'order' | 'joint'; only: boolean; code?: string }>()
const emit = defineEmits<{ story: [joint: string, fastener: string] }>()
const words = {
  'taken-in': 'Taken in',
  'in-work': 'In work',
  held: 'Blocked',
  finished: 'Finished and signed',
} as const
/** By joint, the operations of a joint stand together. */
const sections = computed(() => {
  const all = props.sheet.sections
  const shown = props.only ? all.filter((section) => section.deviates) : all
  if (props.by === 'order') return shown
  const joints = [
    ...new Set(shown.flatMap((section) => (section.work === 'tighten' ? section.joints.map((joint) => joint.id) : []))),
  ]
  const first = (section: (typeof shown)[number]) =>
    section.work === 'tighten' ? joints.indexOf(section.joints[0]?.id ?? '') : joints.length
  return [...shown].sort((a, b) => first(a) - first(b))
})

// Every page says which engine it is of.
const pages = new CSSStyleSheet()
document.adoptedStyleSheets.push(pages)
watchEffect(() => {
  const { name, identity, entries } = props.sheet
  const head = `${identity ? `${name}, ${identity}` : name}. Entry ${entries}`
  const font = "font: 9pt 'Barlow', sans-serif"
  pages.replaceSync(
    `@page { @top-left { content: ${JSON.stringify(head)}; ${font} } @top-right { content: 'Build sheet'; ${font} } }`,
  )
})
onUnmounted(() => (document.adoptedStyleSheets = document.adoptedStyleSheets.filter((of) => of !== pages)))
</script>

<template>
  <article class="bg-face p-6 sm:p-10 print:p-0">
    <header class="border-b-2 border-ink pb-4">
      <img v-if="code" :src="code" alt="Code that leads to this sheet" class="float-right size-20 sm:size-28" />
      <p class="text-dim">Build sheet</p>
      <h1 class="text-4xl font-semibold tracking-tight">{{ sheet.name }}</h1>
      <dl class="mt-3 grid grid-cols-[5.5rem_1fr] gap-y-0.5 max-sm:clear-both sm:grid-cols-[8rem_1fr]">
        <dt class="text-dim">Status</dt>
        <dd class="font-semibold">{{ words[sheet.status] }}</dd>
        <dt class="text-dim">Plan</dt>
        <dd>
          {{ sheet.plan.name }}, <span class="break-all">version {{ sheet.plan.hash.slice(0, 12) }}</span>
          <ul v-if="sheet.versions.length > 1" data-test="versions">
            <li v-for="(of, at) in sheet.versions" :key="at">
              <template v-if="at">then {{ of.plan.hash.slice(0, 12) }}: {{ of.reason }}</template
              ><template v-else>begun by {{ of.plan.hash.slice(0, 12) }}</template
              >, {{ of.by }}, {{ dated(of.at) }}
            </li>
          </ul>
        </dd>
        <template v-if="sheet.identity">
          <dt class="text-dim">Engine</dt>
          <dd>{{ sheet.identity }}</dd>
        </template>
        <template v-if="sheet.owner">
          <dt class="text-dim">Customer</dt>
          <dd>{{ sheet.owner }}</dd>
        </template>
        <template v-if="sheet.use_for">
          <dt class="text-dim">Use</dt>
          <dd>{{ sheet.use_for }}</dd>
        </template>
        <dt class="text-dim">Record</dt>
        <dd>
          {{ sheet.entries }} entries, {{ dated(sheet.begun_at) }} to {{ dated(sheet.touched) }}; all times are UTC. The
          last entry has the hash <span class="break-all" data-test="last-hash">{{ sheet.last_hash }}</span>
        </dd>
        <template v-if="sheet.signed">
          <dt class="text-dim">Signed by the shop</dt>
          <dd data-test="signed-head">
            entry {{ sheet.signed.seq }}, {{ dated(sheet.signed.at) }}, by the key
            <span class="break-all">{{ sheet.signed.key }}</span>
          </dd>
        </template>
        <dt class="text-dim">People</dt>
        <dd>{{ sheet.people.map((p) => p.name).join(', ') }}</dd>
      </dl>
    </header>
    <SheetFirst v-if="!only" :sheet="sheet" />
    <section v-if="sheet.issues.length" class="mt-5 border-l-4 border-wrong pl-4">
      <h2 class="text-xl font-semibold text-wrong">Open issues</h2>
      <p v-for="issue in sheet.issues" :key="`${issue.seq}${say(issue.text)}`">
        {{ say(issue.text) }}. {{ say(issue.to_do) }}.
      </p>
    </section>
    <section v-if="sheet.findings.length" class="mt-6" data-test="sheet-findings">
      <h2 class="border-b border-ink text-xl font-semibold">Problems</h2>
      <FindingList class="mt-2" :findings="sheet.findings" />
    </section>
    <section v-if="sheet.aids.length" class="mt-6">
      <h2 class="border-b border-ink text-xl font-semibold">Temporary items</h2>
      <div class="print:columns-2 print:gap-x-6">
        <p v-for="aid in sheet.aids" :key="aid.seq" class="flex flex-wrap gap-x-3 break-inside-avoid py-0.5 print:py-0">
          <span class="font-semibold">{{ aid.count > 1 ? `${aid.count} × ` : '' }}{{ aid.what }}</span>
          <span class="text-dim"
            >in {{ aid.by }}, {{ dated(aid.at) }};
            {{ aid.out_at ? `out ${aid.out_by}, ${dated(aid.out_at)}` : 'not removed' }}</span
          >
        </p>
      </div>
    </section>
    <SheetContents class="print:hidden" :sections="sections" :by="by" />
    <p v-if="only && !sections.length" class="mt-6 text-lg">No deviations.</p>
    <div class="print:columns-2 print:gap-x-6">
      <SheetSection
        v-for="section in sections"
        :key="section.id"
        :section="section"
        :drawings="sheet.drawings"
        :only="only"
        @story="(joint, fastener) => emit('story', joint, fastener)"
      />
      <footer
        :class="[
          'mt-8 grid grid-cols-2 gap-8 break-inside-avoid print:grid-cols-1',
          'print:gap-0 border-t border-rule pt-4 text-dim print:mt-3 print:pt-2',
        ]"
      >
        <p>
          Clamp loads are computed estimates. c: clicked at its setting, t: typed, e: by eye, d: sent by an instrument,
          i: imported, s: simulated; a time without name and day is the signer’s, that day. Clearances: bar, min to max;
          line, with its guard band ({{ sheet.decision_rule }}); diamond, plastic strip; struck out, another counts.
        </p>
        <p class="pt-8 print:pt-5"><span class="block border-t border-ink pt-1">Signature and date</span></p>
      </footer>
    </div>
  </article>
</template>
