<script setup lang="ts">
// One operation on the sheet: its signature, signatures that lapsed, and what was done.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { dated } from '../ui/units'
import CountSheet from './CountSheet.vue'
import ItemSheet from './ItemSheet.vue'
import JointSheet from './JointSheet.vue'
import MeasureSheet from './MeasureSheet.vue'
import PartSheet from './PartSheet.vue'
import TurnSheet from './TurnSheet.vue'
import { t } from './texts'

const props = defineProps<{ section: Schemas['SheetSection']; drawings: Schemas['Drawing'][]; only: boolean }>()
const signed = computed(() => ({ by: props.section.signed_by?.name, at: props.section.signed_at }))
const emit = defineEmits<{ story: [joint: string, fastener: string] }>()
</script>

<template>
  <section :id="section.id" class="mt-7 scroll-mt-4 print:mt-4" :data-test="`section-${section.id}`">
    <div class="flex flex-wrap items-baseline justify-between gap-x-4 border-b border-ink break-after-avoid">
      <h2 class="text-2xl font-semibold print:text-lg">{{ section.name }}</h2>
      <p :class="section.signed_by ? '' : 'text-dim'">
        {{
          section.signed_by
            ? t(section.skipped ? 'sheet-skipped-by' : 'sheet-signed-by', {
                person: section.signed_by.name,
                time: dated(section.signed_at),
              })
            : t('sheet-not-signed')
        }}<template v-if="section.signed_with.length">{{
          t('common-as-one-with-others', { count: section.signed_with.length })
        }}</template>
      </p>
    </div>
    <p v-if="section.skipped" class="mt-2 font-semibold">{{ t('sheet-skipped', { skipped: section.skipped }) }}</p>
    <p v-for="old in section.lapsed" :key="`${old.at}${old.ended_by}`" class="text-dim" data-test="lapsed">
      {{
        t('sheet-lapsed-by-entry', {
          work: old.left_out ? t('common-skipped') : t('common-signed'),
          by: old.by,
          time: dated(old.at),
          ended: dated(old.ended_at),
          entry: old.ended_by,
        })
      }}
    </p>
    <ItemSheet v-if="section.work === 'items'" :items="section.items" :signed="signed" />
    <PartSheet v-else-if="section.work === 'parts'" :parts="section.parts" :signed="signed" />
    <CountSheet v-else-if="section.work === 'count'" :counts="section.counts" :signed="signed" />
    <TurnSheet v-else-if="section.work === 'turn'" :turns="section.turns" />
    <MeasureSheet v-else-if="section.work === 'measure' && section.readings.length" :section="section" />
    <template v-else-if="section.work === 'tighten'">
      <JointSheet
        v-for="joint in section.joints"
        :key="joint.name"
        :joint="joint"
        :named="section.joints.length > 1"
        :drawing="drawings.find((d) => d.id === joint.drawing)"
        :only="only"
        :signed="signed"
        @story="(fastener) => emit('story', joint.id, fastener)"
      />
    </template>
  </section>
</template>
