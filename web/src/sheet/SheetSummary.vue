<script setup lang="ts">
// The summary of an engine: its main figures with their limits, what deviates and who approved it, and who signed.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { dated, digits, figure, say } from '../ui/units'
import { ends } from '../ui/windows'
import ScrollBox from '../ui/ScrollBox.vue'
import { t } from './texts'

const props = defineProps<{ sheet: Schemas['SheetAnswer'] }>()
/** Room beside a window, in shares of it. */
const BESIDE = 0.35
const place = (at: number) => ((Math.max(-BESIDE, Math.min(1 + BESIDE, at)) + BESIDE) / (1 + 2 * BESIDE)) * 100

/** Where a figure lies in a window, from 0 to 1; one that allows a single figure has it in its middle. */
function share(figure: number, low: number, high: number): number {
  if (high > low) return (figure - low) / (high - low)
  return figure === low ? 0.5 : figure < low ? -BESIDE : 1 + BESIDE
}

/** What a clearance has to lie in; there is no room for what is aimed at. */
function limits({ window, window_words, dimension }: Schemas['ClearanceView']): string {
  if (window?.low == null || window.high == null) return say(window_words)
  return t('common-to', { low: digits(window.low, dimension), high: figure(window.high, dimension) })
}

/** From the smallest to the largest of some figures; one figure where they read the same. */
function range(low: number, high: number, dimension: Schemas['Dimension']): string {
  const [from, to] = [digits(low, dimension), figure(high, dimension)]
  return to.startsWith(`${from}\u00a0`) ? to : t('common-to', { low: from, high: to })
}

/** The computed clamp loads of a joint, from the smallest to the largest. */
const computedLoads = (of: { loads: { kn: number }[] }) =>
  of.loads.length
    ? range(Math.min(...of.loads.map((load) => load.kn)), Math.max(...of.loads.map((load) => load.kn)), 'force')
    : t('common-open')

/** Each clearance by its members, as it was judged last. */
const clearances = computed(() => {
  const all = new Map<string, Map<number, Schemas['ClearanceView']>>()
  for (const section of props.sheet.sections) {
    for (const view of section.work === 'measure' ? section.clearances : []) {
      if (!view.window || !view.span) continue
      const members = all.get(view.id) ?? new Map<number, Schemas['ClearanceView']>()
      all.set(view.id, members.set(view.number, view))
    }
  }
  return [...all.values()].map((members) => {
    const views = [...members.values()].sort((a, b) => a.number - b.number)
    const { low, high } = ends(
      views[0]!.window!,
      views.flatMap((view) => view.span ?? []),
    )
    const marks = views.map((view) => ({
      number: view.number,
      from: place(share(view.span![0]!, low, high)),
      to: place(share(view.span![2]!, low, high)),
      odd: view.decision !== 'inside',
    }))
    const spans = views.flatMap((view) => view.span ?? [])
    return {
      id: views[0]!.id,
      name: views[0]!.name,
      asks: limits(views[0]!),
      measured: range(Math.min(...spans), Math.max(...spans), views[0]!.dimension),
      dimension: views[0]!.dimension,
      marks,
      odd: marks.filter((mark) => mark.odd),
    }
  })
})

/** Each group of a joint by its bolts, as it was tightened last for good. */
const joints = computed(() => {
  const uncomputed = new Set<string>()
  const all = new Map<
    string,
    { id: string; name: string; wanted: number; loads: { fastener: string; kn: number; at: number }[]; open: number }
  >()
  for (const section of props.sheet.sections) {
    for (const joint of section.work === 'tighten' ? section.joints : []) {
      if (joint.task !== 'tighten' || joint.purpose !== 'final') continue
      for (const group of new Set(joint.rows.map((row) => row.group_id))) {
        const wanted = joint.stages.filter((stage) => stage.group_id === group).at(-1)?.forecast?.typical_kn
        if (!wanted) {
          uncomputed.add(joint.name)
          continue
        }
        const rows = joint.rows.filter((row) => row.group_id === group)
        const loads = rows.flatMap((row) =>
          row.clamp_kn
            ? [{ fastener: row.fastener, kn: row.clamp_kn, at: place((row.clamp_kn / wanted - 0.75) / 0.5) }]
            : [],
        )
        const name =
          new Set(joint.rows.map((row) => row.group_id)).size > 1
            ? `${joint.name}, ${rows[0]?.group ?? group}`
            : joint.name
        all.set(`${joint.id}/${group}`, {
          id: `${joint.id}/${group}`,
          name,
          wanted,
          loads,
          open: rows.length - loads.length,
        })
      }
    }
  }
  return { loads: [...all.values()], uncomputed: [...uncomputed] }
})

/** What is open, what leads approved, what was left out and what was found. */
const deviations = computed(() => [
  ...props.sheet.issues.map((issue) => ({ what: say(issue.text), stands: t('common-open'), open: true })),
  ...props.sheet.stood_for.map((of) => ({
    what: t('sheet-stood-for', { operation: of.operation, reason: of.reason, seq: of.seq }),
    stands: t('sheet-approved-by', { by: of.by, time: dated(of.at) }),
    open: false,
  })),
  ...props.sheet.sections.flatMap((section) =>
    section.skipped
      ? [
          {
            what: t('sheet-section-skipped', { section: section.name, reason: section.skipped }),
            stands: section.signed_by?.name ?? '',
            open: false,
          },
        ]
      : [],
  ),
  // One that is open is among what is open.
  ...props.sheet.findings
    .filter((finding) => finding.standing === 'settled')
    .map((finding) => ({ what: finding.text, stands: t('sheet-closed'), open: false })),
])
/** Operations in which something was not as planned or was done twice, whoever approved it. */
const odd = computed(() => props.sheet.sections.filter((section) => section.deviates).map((section) => section.name))
/** Who signed how much, and the last signature. */
const signers = computed(() => {
  const by = new Map<string, number>()
  for (const section of props.sheet.sections)
    if (section.signed_by) by.set(section.signed_by.name, (by.get(section.signed_by.name) ?? 0) + 1)
  return [...by]
})
const unsigned = computed(() => props.sheet.sections.filter((section) => !section.signed_by).length)
const whole = computed(() => props.sheet.sections.at(-1))
</script>

<template>
  <section
    class="mt-6 grid grid-cols-[minmax(0,1fr)] gap-6 print:mt-3 print:block"
    :aria-label="t('sheet-summary')"
    data-test="first-page"
  >
    <div v-if="clearances.length">
      <h2 class="border-b border-ink text-xl font-semibold">{{ t('common-clearances') }}</h2>
      <ScrollBox :label="t('common-clearances')">
        <table class="w-full text-left">
          <thead class="text-dim">
            <tr>
              <th scope="col" class="pr-3 font-normal">{{ t('common-clearance') }}</th>
              <th scope="col" class="pr-3 font-normal">{{ t('sheet-limits') }}</th>
              <th scope="col" class="pr-3 font-normal">{{ t('common-measured') }}</th>
              <th scope="col" class="w-1/3 font-normal max-sm:sr-only">{{ t('sheet-each-between-its-limits') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="of in clearances"
              :key="of.id"
              class="break-inside-avoid border-t border-rule"
              :data-test="`first-${of.id}`"
            >
              <th scope="row" class="py-1 pr-3 font-semibold print:py-0.5">{{ of.name }}</th>
              <td class="pr-3">{{ of.asks }}</td>
              <td class="pr-3">
                {{ of.measured }}
                <span v-if="of.odd.length" class="block font-semibold text-wrong">{{
                  t('sheet-no-out-of-spec', { odd: of.odd.map((mark) => mark.number).join(', ') })
                }}</span>
              </td>
              <td class="max-sm:hidden">
                <svg
                  class="w-full"
                  :viewBox="`0 0 100 ${4 + of.marks.length * 3}`"
                  preserveAspectRatio="none"
                  :style="{ height: `${0.5 + of.marks.length * 0.22}rem` }"
                  role="img"
                  :aria-label="t('sheet-of-ok', { good: of.marks.length - of.odd.length, all: of.marks.length })"
                >
                  <rect
                    :x="place(0)"
                    y="0"
                    :width="place(1) - place(0)"
                    :height="4 + of.marks.length * 3"
                    fill="var(--layout)"
                    opacity="0.14"
                  />
                  <path
                    v-for="limit in [0, 1]"
                    :key="limit"
                    :d="`M${place(limit)} 0V${4 + of.marks.length * 3}`"
                    stroke="var(--layout)"
                    vector-effect="non-scaling-stroke"
                  />
                  <path
                    v-for="(mark, at) in of.marks"
                    :key="mark.number"
                    :d="`M${Math.min(mark.from, mark.to - 1.2)} ${3.5 + at * 3}H${Math.max(mark.to, mark.from + 1.2)}`"
                    :stroke="mark.odd ? 'var(--wrong)' : 'var(--ink)'"
                    :stroke-width="mark.odd ? 4 : 3"
                    :stroke-dasharray="mark.odd ? '3 2' : undefined"
                    vector-effect="non-scaling-stroke"
                  />
                </svg>
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
    </div>
    <div v-if="joints.loads.length || joints.uncomputed.length" class="print:mt-3">
      <h2 class="border-b border-ink text-xl font-semibold">{{ t('sheet-clamp-loads') }}</h2>
      <ScrollBox :label="t('sheet-clamp-loads')">
        <table class="w-full text-left">
          <thead class="text-dim">
            <tr>
              <th scope="col" class="pr-3 font-normal">{{ t('common-joint') }}</th>
              <th scope="col" class="pr-3 font-normal">{{ t('common-target') }}</th>
              <th scope="col" class="pr-3 font-normal">{{ t('sheet-computed') }}</th>
              <th scope="col" class="w-1/3 font-normal max-sm:sr-only">{{ t('sheet-each-bolt-75-to-125-of') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="of in joints.loads"
              :key="of.id"
              class="break-inside-avoid border-t border-rule"
              :data-test="`load-${of.id}`"
            >
              <th scope="row" class="py-1 pr-3 font-semibold print:py-0.5">{{ of.name }}</th>
              <td class="pr-3">{{ figure(of.wanted, 'force') }}</td>
              <td class="pr-3">
                {{ computedLoads(of)
                }}<template v-if="of.open && of.loads.length">{{ t('sheet-open', { open: of.open }) }}</template>
              </td>
              <td class="max-sm:hidden">
                <svg class="h-5 w-full print:h-4" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                  <path d="M0 9.5H100" stroke="var(--rule)" vector-effect="non-scaling-stroke" />
                  <path
                    :d="`M${place(0.5)} 0V10`"
                    stroke="var(--layout)"
                    stroke-width="2"
                    vector-effect="non-scaling-stroke"
                  />
                  <path
                    v-for="load in of.loads"
                    :key="load.fastener"
                    :d="`M${load.at} 2V9`"
                    stroke="var(--ink)"
                    stroke-width="2"
                    vector-effect="non-scaling-stroke"
                  />
                </svg>
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
      <p class="text-dim">
        {{ t('sheet-clamp-loads-are-estimates-computed-from')
        }}<template v-if="joints.uncomputed.length">
          {{ ' ' }}{{ t('sheet-none-computed-for', { uncomputed: joints.uncomputed.join(', ') }) }}</template
        >
      </p>
    </div>
    <div class="print:mt-3">
      <h2 class="border-b border-ink text-xl font-semibold">{{ t('sheet-deviations') }}</h2>
      <p v-if="!deviations.length && !odd.length">{{ t('sheet-none') }}</p>
      <ul v-if="deviations.length">
        <li v-for="(of, at) in deviations" :key="at" class="break-inside-avoid border-b border-rule py-1 print:py-0.5">
          <span :class="of.open && 'font-semibold text-wrong'">{{ of.what }}</span>.
          <span class="text-dim">{{ of.stands }}</span>
        </li>
      </ul>
      <p v-if="odd.length" data-test="odd">{{ t('sheet-deviations-or-repeated-work-in', { odd: odd.join(', ') }) }}</p>
    </div>
    <div class="break-inside-avoid print:mt-3">
      <h2 class="border-b border-ink text-xl font-semibold">{{ t('sheet-signatures') }}</h2>
      <p v-if="whole?.signed_by" class="font-semibold">
        {{ t('sheet-utc', { whole: whole.name, signed_by: whole.signed_by.name, time: dated(whole.signed_at) }) }}
      </p>
      <p v-for="[name, count] in signers" :key="name">
        {{ t('sheet-operations', { name, count }) }}
      </p>
      <p v-if="unsigned" class="font-semibold text-wrong">
        {{ t('sheet-operations-not-signed', { unsigned }) }}
      </p>
      <p class="hidden pt-10 print:block">
        <span class="inline-block w-80 border-t border-ink pt-1">{{ t('sheet-signature-and-date') }}</span>
      </p>
    </div>
  </section>
</template>
