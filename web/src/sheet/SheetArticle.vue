<script setup lang="ts">
// The build sheet itself: the same on screen, on paper, and to whoever has a link to it.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { dated, say } from '../ui/units'
import FindingList from '../ui/FindingList.vue'
import PaperHead from '../papers/PaperHead.vue'
import { usePaper } from '../papers/usePaper'
import SheetRecord from './SheetRecord.vue'
import SheetContents from './SheetContents.vue'
import SheetSection from './SheetSection.vue'
import SheetSummary from './SheetSummary.vue'
import { t } from './texts'

const props = defineProps<{ sheet: Schemas['SheetAnswer']; by: 'order' | 'joint'; only: boolean; code?: string }>()
const emit = defineEmits<{ story: [joint: string, fastener: string] }>()
const words = {
  'taken-in': t('common-taken-in'),
  'in-work': t('common-in-work'),
  held: t('common-blocked'),
  finished: t('sheet-finished-and-signed'),
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

usePaper(() => {
  const { name, identity, entries } = props.sheet
  return t('sheet-entries-until', { engine: identity ? `${name}, ${identity}` : name, entry: entries })
}, t('common-build-sheet'))
</script>

<template>
  <article class="bg-face p-6 sm:p-10 print:p-0">
    <PaperHead :shop="sheet.shop" :title="t('common-build-sheet')" :code="code" />
    <header class="mt-4">
      <h1 class="text-4xl font-semibold tracking-tight">{{ sheet.name }}</h1>
      <dl class="mt-2 grid grid-cols-[5.5rem_1fr] gap-y-0.5 sm:grid-cols-[8rem_1fr]">
        <dt class="text-dim">{{ t('sheet-status') }}</dt>
        <dd class="font-semibold">{{ words[sheet.status] }}</dd>
        <template v-if="sheet.identity">
          <dt class="text-dim">{{ t('common-engine-no') }}</dt>
          <dd>{{ sheet.identity }}</dd>
        </template>
        <template v-if="sheet.owner">
          <dt class="text-dim">{{ t('common-customer') }}</dt>
          <dd>{{ sheet.owner }}</dd>
        </template>
        <dt class="text-dim">{{ t('sheet-built-to') }}</dt>
        <dd>
          {{ sheet.plan.name
          }}<template v-if="sheet.use_for">{{ t('common-clearances-for', { use_for: sheet.use_for }) }}</template>
        </dd>
        <dt class="text-dim">{{ t('sheet-assembled') }}</dt>
        <dd>
          {{ t('sheet-to', { from: dated(sheet.begun_at).slice(0, 10), to: dated(sheet.touched).slice(0, 10) }) }}
        </dd>
        <dt class="text-dim">{{ t('sheet-by') }}</dt>
        <dd>{{ sheet.people.map((p) => p.name).join(', ') }}</dd>
      </dl>
    </header>
    <SheetSummary v-if="!only" :sheet="sheet" />
    <section v-if="sheet.issues.length" class="mt-5 border-l-4 border-wrong pl-4">
      <h2 class="text-xl font-semibold text-wrong">{{ t('common-open-issues') }}</h2>
      <p v-for="issue in sheet.issues" :key="`${issue.seq}${say(issue.text)}`">
        {{ say(issue.text) }}. {{ say(issue.to_do) }}.
      </p>
    </section>
    <section v-if="sheet.findings.length" class="mt-6" data-test="sheet-findings">
      <h2 class="border-b border-ink text-xl font-semibold">{{ t('sheet-problems') }}</h2>
      <FindingList class="mt-2" :findings="sheet.findings" />
    </section>
    <section v-if="sheet.aids.length" class="mt-6">
      <h2 class="border-b border-ink text-xl font-semibold">{{ t('common-temporary-items') }}</h2>
      <div class="print:columns-2 print:gap-x-6">
        <p v-for="aid in sheet.aids" :key="aid.seq" class="flex flex-wrap gap-x-3 break-inside-avoid py-0.5 print:py-0">
          <span class="font-semibold">{{ aid.count > 1 ? `${aid.count} × ` : '' }}{{ aid.what }}</span>
          <span class="text-dim">{{
            t('sheet-in-2', {
              by: aid.by,
              time: dated(aid.at),
              out_by: aid.out_at
                ? t('sheet-out', { out_by: aid.out_by, time: dated(aid.out_at) })
                : t('sheet-not-removed'),
            })
          }}</span>
        </p>
      </div>
    </section>
    <SheetContents class="print:hidden" :sections="sections" :by="by" />
    <p v-if="only && !sections.length" class="mt-6 text-lg">{{ t('sheet-no-deviations') }}</p>
    <SheetSection
      v-for="section in sections"
      :key="section.id"
      :section="section"
      :drawings="sheet.drawings"
      :only="only"
      @story="(joint, fastener) => emit('story', joint, fastener)"
    />
    <SheetRecord :sheet="sheet" />
  </article>
</template>
