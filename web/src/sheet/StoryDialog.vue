<script setup lang="ts">
// One fastener from its first entry to its last.
import { useQuery } from '@tanstack/vue-query'
import { api, take } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import { dated, say } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ build: string; joint: string; fastener: string }>()
const emit = defineEmits<{ close: [] }>()
const { data: story, error } = useQuery({
  queryKey: ['build', props.build, 'story', props.joint, props.fastener],
  queryFn: async () =>
    take(
      await api.GET('/api/builds/{build}/joints/{joint}/{fastener}', {
        params: { path: { build: props.build, joint: props.joint, fastener: props.fastener } },
      }),
    ),
})
</script>

<template>
  <SheetDialog open :title="story?.name ?? fastener" @close="emit('close')">
    <p v-if="error" class="mt-2">{{ error.message }}</p>
    <template v-if="story">
      <p class="text-dim">{{ story.fastener }}</p>
      <p v-if="!story.lines.length" class="mt-3">{{ t('sheet-no-work-recorded-yet') }}</p>
      <ol
        class="mt-3 max-h-[60vh] overflow-y-auto border-l-2 border-rule pl-3"
        data-test="story"
        tabindex="0"
        :aria-label="t('sheet-history')"
      >
        <li v-for="line in story.lines" :key="line.seq" class="py-1" :class="line.voided && 'text-dim line-through'">
          <span class="font-semibold" :class="line.wrong && 'text-wrong'">{{ say(line.what) }}</span>
          <span class="block text-[0.9375rem] text-dim"
            >{{ dated(line.at) }}, {{ line.by }}, {{ line.operation
            }}<template v-if="line.with">; {{ line.with }}</template
            >{{ t('sheet-entry', { seq: line.seq })
            }}<template v-if="line.voided">{{ t('sheet-voided', { voided: line.voided }) }}</template></span
          >
        </li>
      </ol>
    </template>
    <div class="mt-5 text-right">
      <button class="key" @click="emit('close')">{{ t('common-close') }}</button>
    </div>
  </SheetDialog>
</template>
