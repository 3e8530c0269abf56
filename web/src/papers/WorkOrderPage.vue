<script setup lang="ts">
// The work that is left on an engine, as a paper for the bench: what to do, to which figures, with room to tick.
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../api/client'
import { useBuild, useSheet } from '../api/queries'
import LoadError from '../ui/LoadError.vue'
import { usePageTitle } from '../ui/pageTitle'
import { dated, day, figure, say } from '../ui/units'
import EnginePaper from './EnginePaper.vue'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

type Section = Schemas['SheetSection']
const build = computed(() => String(useRoute().params.build))
const { data: engine, error } = useBuild(build)
const { data: sheet } = useSheet(build)
usePageTitle(() => engine.value && t('papers-work-order', { engine: engine.value.name }))
/** Finished operations are on the build sheet; here they are shown where somebody asks for them. */
const withFinished = ref(false)

/** The stages of a joint as a builder says them: group by group, each figure with its unit. */
function stages(joint: Schemas['JointSection']): string {
  const count = (group: string) => joint.rows.filter((row) => row.group_id === group).length
  const groups = [...Map.groupBy(joint.stages, (stage) => stage.group_id)]
  const wanted = (stage: Schemas['SheetStage']) =>
    stage.target.dimension === 'count'
      ? stage.name
      : `${stage.name}: ${figure(stage.target.wanted, stage.target.dimension)}`
  return groups
    .map(([id, all]) => {
      const of = groups.length > 1 ? `${all[0]!.group}, ${count(id)}: ` : ''
      return of + all.map(wanted).join(', ')
    })
    .join('; ')
}

/** What is done in an operation, line by line. */
function lines(section: Section): string[] {
  switch (section.work) {
    case 'items':
      return section.items.map((item) => item.text)
    case 'parts':
      return [section.parts.map((slot) => slot.name).join(', ')]
    case 'count':
      return [section.counts.map((line) => `${line.name}: ${line.expected}`).join('; ')]
    case 'measure':
      return [...new Map(section.clearances.map((of) => [of.id, `${of.name}: ${say(of.window_words)}`])).values()]
    case 'tighten':
      return section.joints.flatMap((joint) => {
        if (joint.task === 'loosen') return [t('papers-take-apart-in-reverse-order', { joint: joint.name })]
        const lubricants = joint.lubricants.length
          ? [t('papers-lubricant', { lubricants: joint.lubricants.join('; ') })]
          : []
        const count = t('papers-fasteners', { count: joint.rows.length })
        return [`${joint.name}, ${count}. ${stages(joint)}`, ...lubricants]
      })
    default:
      return []
  }
}

interface Row {
  key: string
  name: string
  lines: string[]
  members: { id: string; label: string; done: string }[]
}
/** Operations in their order; members of a repeated step share a row where the same is done on each. */
const rows = computed(() => {
  const members = new Map(engine.value?.operations.map((of) => [of.id, of.member]))
  const all: Row[] = []
  for (const section of sheet.value?.sections ?? []) {
    if (section.signed_by && !withFinished.value) continue
    const member = members.get(section.id)
    const work = lines(section)
    const key = member ? [member.name, member.step, ...work].join('/') : section.id
    const done = section.signed_by ? `${section.signed_by.name}, ${dated(section.signed_at)}` : ''
    const one = { id: section.id, label: member ? member.member : '', done }
    const row = all.find((of) => of.key === key)
    if (row) row.members.push(one)
    else all.push({ key, name: member ? member.step : section.name, lines: work, members: [one] })
  }
  return all
})
const openParts = computed(() => engine.value?.parts.filter((slot) => !slot.part).map((slot) => slot.name) ?? [])
const waits = computed(() => engine.value?.waits.filter((of) => !of.over_at) ?? [])
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <LoadError v-if="error && !engine" :error="error" :build="build" />
    <LoadingText v-else-if="!engine || !sheet" />
    <EnginePaper v-else :engine="engine" :build="build" :title="t('common-work-order')">
      <template #options>
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="withFinished" type="checkbox" class="size-5 accent-(--layout)" name="with-finished" />
          {{ t('papers-include-finished-operations') }}</label
        >
      </template>
      <template #facts>
        <template v-if="engine.promised">
          <dt class="text-dim">{{ t('common-due') }}</dt>
          <dd>{{ day(engine.promised.by) }}</dd>
        </template>
        <dt class="text-dim">{{ t('papers-left') }}</dt>
        <dd>{{ t('papers-steps-in-operations', { steps: engine.left.steps, operations: engine.left.operations }) }}</dd>
        <template v-if="openParts.length">
          <dt class="text-dim">{{ t('papers-parts-to-log-in') }}</dt>
          <dd>{{ openParts.join(', ') }}</dd>
        </template>
        <template v-if="waits.length">
          <dt class="text-dim">{{ t('papers-waits-for') }}</dt>
          <dd>{{ waits.map((of) => of.what).join('; ') }}</dd>
        </template>
      </template>
      <p v-if="!rows.length" class="mt-6 text-lg">{{ t('papers-all-operations-are-finished-the-build') }}</p>
      <table v-else class="mt-5 w-full text-left" data-test="work-order">
        <thead class="text-dim">
          <tr class="border-b border-ink">
            <th scope="col" class="py-1 pr-3 font-normal">{{ t('papers-operation') }}</th>
            <th scope="col" class="w-2/5 font-normal">{{ t('papers-done-by') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.key" class="break-inside-avoid border-b border-rule align-top">
            <th scope="row" class="py-2 pr-3 font-normal">
              <span class="block font-semibold">{{ row.name }}</span>
              <span v-for="line in row.lines" :key="line" class="block">{{ line }}</span>
            </th>
            <td class="py-2">
              <span v-for="member in row.members" :key="member.id" class="flex items-center gap-2 py-0.5">
                <span class="grid size-5 shrink-0 place-items-center border border-ink" aria-hidden="true">{{
                  member.done ? '✓' : ''
                }}</span>
                <span v-if="member.label" class="font-semibold">{{ member.label }}</span>
                <span v-if="member.done">{{ member.done }}</span>
                <span v-else class="grow border-b border-rule pt-4" :aria-label="t('papers-not-done-yet')" role="img" />
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </EnginePaper>
  </main>
</template>
