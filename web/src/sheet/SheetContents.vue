<script setup lang="ts">
// What is on the sheet: in the order of work, or by joint.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { t } from './texts'

type Section = Schemas['SheetSection']
const props = defineProps<{ sections: Section[]; by: 'order' | 'joint' }>()

interface Line {
  id: string
  name: string
  parts: { id: string; name: string; deviates: boolean; signed: boolean }[]
}
const part = (section: Section) => ({
  id: section.id,
  name: section.name,
  deviates: section.deviates,
  signed: !!section.signed_by,
})
/** Operations in their order, those of a repeat as one line. */
const ordered = computed(() => {
  const lines: Line[] = []
  for (const section of props.sections) {
    const last = lines.at(-1)
    if (section.repeat && last?.id === section.repeat) last.parts.push(part(section))
    else lines.push({ id: section.repeat ?? section.id, name: section.repeat ?? section.name, parts: [part(section)] })
  }
  return lines
})
/** Joints with every operation that worked on them. */
const jointed = computed(() => {
  const lines = new Map<string, Line>()
  for (const section of props.sections) {
    for (const joint of section.work === 'tighten' ? section.joints : []) {
      const line = lines.get(joint.id) ?? { id: joint.id, name: joint.name, parts: [] }
      line.parts.push(part(section))
      lines.set(joint.id, line)
    }
  }
  return [...lines.values()]
})
const lines = computed(() => (props.by === 'order' ? ordered.value : jointed.value))
</script>

<template>
  <nav :aria-label="t('sheet-contents')" class="mt-6 break-inside-avoid" data-test="contents">
    <h2 class="border-b border-ink text-xl font-semibold">{{ t('sheet-contents') }}</h2>
    <ul class="mt-1 gap-x-8 sm:columns-2">
      <li v-for="line in lines" :key="line.id" class="break-inside-avoid py-0.5">
        <template v-if="line.parts.length === 1 && by === 'order'">
          <a
            :href="`#${line.parts[0]!.id}`"
            class="underline-offset-4 hover:underline"
            :class="!line.parts[0]!.signed && 'text-dim'"
            >{{ line.name }}</a
          >
          <span v-if="line.parts[0]!.deviates" class="ml-1 text-wrong" :title="t('sheet-deviates')">▲</span>
        </template>
        <template v-else>
          <span class="font-semibold">{{ line.name }}</span>
          <span v-for="of in line.parts" :key="of.id" class="block pl-4">
            <a :href="`#${of.id}`" class="underline-offset-4 hover:underline" :class="!of.signed && 'text-dim'">{{
              of.name
            }}</a>
            <span v-if="of.deviates" class="ml-1 text-wrong" :title="t('sheet-deviates')">▲</span>
          </span>
        </template>
      </li>
    </ul>
  </nav>
</template>
