<script setup lang="ts">
// Items to confirm one by one, each with what right and wrong look like.
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { vFocus } from '../ui/focus'
import StateMark from '../ui/StateMark.vue'
import { when } from '../ui/units'
import type { WorkOf } from './benches'
import { useHand } from './hand'
import ItemSketch from './ItemSketch.vue'
import VoidButton from './VoidButton.vue'

defineProps<{ work: WorkOf<'items'> }>()
const { bench, busy, act } = useHand()
const next = computed(() => (bench.value.step.kind === 'confirm' ? bench.value.step.item : null))

/** An item that is looked at besides the next one. */
const looked = ref('')
const shown = (item: Schemas['ItemView']) => item.id === next.value || item.id === looked.value

const confirm = (item: string) => act({ type: 'confirm', operation: bench.value.operation.id, item })

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== 'Enter' || !next.value) return
  if ((event.target as HTMLElement).closest('button, a, select, [role=dialog]')) return
  event.preventDefault()
  void confirm(next.value)
})
</script>

<template>
  <ol class="mt-2">
    <li
      v-for="item in work.items"
      :key="item.id"
      class="grid grid-cols-[2.5rem_minmax(0,1fr)] gap-x-3 border-b border-rule py-4"
      :data-test="item.id"
    >
      <StateMark :status="item.seq ? 'done' : item.id === next ? 'in-work' : 'waiting'" class="size-9" />
      <div>
        <p v-if="item.id === next" class="text-3xl leading-tight font-semibold">{{ item.text }}</p>
        <button
          v-else
          class="min-h-9 text-left text-lg underline-offset-4 hover:underline"
          :class="item.seq ? 'text-dim' : ''"
          :aria-expanded="shown(item)"
          @click="looked = shown(item) ? '' : item.id"
        >
          {{ item.text }}
        </button>
        <p v-if="item.seq" class="text-dim">
          {{ item.by?.name }}, {{ when(item.at) }}
          <VoidButton :seq="item.seq" :about="item.text" :usual="['Confirmed by mistake', 'To be done again']" />
        </p>
        <template v-if="shown(item)">
          <div class="mt-3 grid gap-x-8 gap-y-2 text-xl sm:grid-cols-2">
            <p v-if="item.right"><span class="block text-base text-dim">Right</span>{{ item.right }}</p>
            <p v-if="item.wrong"><span class="block text-base text-dim">Wrong</span>{{ item.wrong }}</p>
          </div>
          <ItemSketch v-if="item.sketch" :sketch="item.sketch" class="mt-3" />
        </template>
        <div v-if="item.id === next" class="mt-4 flex items-center gap-4">
          <button
            v-focus
            class="key key-main min-h-16 px-10 text-2xl"
            :disabled="busy"
            data-test="confirm"
            @click="confirm(item.id)"
          >
            Confirm
          </button>
          <span class="text-dim">or Enter</span>
        </div>
      </div>
    </li>
  </ol>
</template>
