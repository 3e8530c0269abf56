<script setup lang="ts">
// Items to confirm one by one, each with what right and wrong look like: the one in hand as large as a pull.
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { vFocus } from '../ui/focus'
import { openIssues } from '../ui/issues'
import StateMark from '../ui/StateMark.vue'
import { when } from '../ui/units'
import type { WorkOf } from './benches'
import { useHand } from './hand'
import ItemSketch from './ItemSketch.vue'
import VoidButton from './VoidButton.vue'
import { t } from './texts'

const props = defineProps<{ work: WorkOf<'items'> }>()
const { bench, busy, act } = useHand()
const next = computed(() => (bench.value.step.kind === 'confirm' ? bench.value.step.item : null))
/** An item that is looked at instead of the next one. */
const looked = ref('')
const shown = computed(() => props.work.items.find((item) => item.id === (looked.value || next.value)))
const isNext = computed(() => !!next.value && shown.value?.id === next.value)
const look = (item: string) => (looked.value = item === next.value || item === looked.value ? '' : item)

async function confirm(item: string) {
  looked.value = ''
  await act({ type: 'confirm', operation: bench.value.operation.id, item })
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== 'Enter' || !next.value || !isNext.value) return
  if ((event.target as HTMLElement).closest('button, a, select, [role=dialog]')) return
  event.preventDefault()
  void confirm(next.value)
})
</script>

<template>
  <div class="bench items-bench">
    <section class="bench-main flex flex-col" :aria-label="t('bench-item-in-hand')">
      <template v-if="shown">
        <p class="headline" data-test="item-in-hand" aria-live="polite">{{ shown.text }}</p>
        <div class="mt-4 grid gap-x-8 gap-y-3 text-2xl leading-snug sm:grid-cols-2">
          <p v-if="shown.right" class="border-l-4 border-ink pl-3">
            <span class="block text-lg text-dim">{{ t('common-right') }}</span>{{ shown.right }}
          </p>
          <p v-if="shown.wrong" class="border-l-4 border-wrong pl-3">
            <span class="block text-lg text-dim">{{ t('bench-wrong-2') }}</span>{{ shown.wrong }}
          </p>
        </div>
        <ItemSketch v-if="shown.sketch" :sketch="shown.sketch" class="mt-4 w-full max-w-2xl" />
      </template>
      <p v-else class="headline" data-test="item-in-hand" aria-live="polite">
        {{
          bench.issues.length
            ? t('bench-all-confirmed', { count: openIssues(bench.issues.length) })
            : t('bench-all-confirmed-2')
        }}
      </p>
      <div v-if="shown" class="bench-action mt-6 flex flex-wrap items-center gap-4">
        <button
          v-if="isNext"
          v-focus
          class="key key-main min-h-20 w-full max-w-md text-3xl"
          :disabled="busy"
          data-test="confirm"
          :data-item="shown.id"
          @click="confirm(shown.id)"
        >
          {{ t('common-confirm') }}
        </button>
        <template v-else>
          <p class="text-lg">
            {{
              shown.seq
                ? t('bench-confirmed-by', { by: shown.by?.name, time: when(shown.at) })
                : t('bench-not-its-turn-yet')
            }}
          </p>
          <button class="key min-h-14" data-test="back-to-next" @click="looked = ''">
            {{ t('bench-back-to-the-next-item') }}
          </button>
        </template>
      </div>
    </section>
    <ol class="bench-list" :aria-label="t('bench-items')">
      <li
        v-for="item in work.items"
        :key="item.id"
        class="grid grid-cols-[2rem_minmax(0,1fr)_auto] items-start gap-x-2 border-b border-rule py-1"
        :data-test="item.id"
      >
        <StateMark :status="item.seq ? 'done' : item.id === next ? 'in-work' : 'waiting'" class="mt-2" />
        <button
          class="min-h-11 py-2 text-left underline-offset-4 hover:underline"
          :class="item.id === shown?.id ? 'font-semibold' : item.seq ? 'text-dim' : ''"
          :aria-current="item.id === shown?.id ? 'step' : undefined"
          @click="look(item.id)"
        >
          {{ item.text }}<span v-if="item.seq" class="block text-dim">{{ item.by?.name }}, {{ when(item.at) }}</span>
        </button>
        <VoidButton
          v-if="item.seq"
          :seq="item.seq"
          :about="item.text"
          :usual="[t('bench-confirmed-by-mistake'), t('bench-to-be-done-again')]"
        />
      </li>
    </ol>
  </div>
</template>
