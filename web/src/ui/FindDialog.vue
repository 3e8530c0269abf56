<script setup lang="ts">
// One field that finds anything of the shop, from anywhere: by keyboard, with the first one taken by Enter.
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '../api/client'
import SheetDialog from './SheetDialog.vue'
import { say } from './units'
import { t } from './texts'

const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const typed = ref('')
const settled = refDebounced(typed, 120)
const words = computed(() => settled.value.trim())
const { data, isFetching } = useQuery({
  queryKey: ['find', words],
  queryFn: async () => take(await api.GET('/api/find', { params: { query: { find: words.value } } })),
  enabled: () => !!words.value,
  placeholderData: keepPreviousData,
  staleTime: 5000,
})
const found = computed(() => (words.value ? (data.value ?? []) : []))
const at = ref(0)
const kinds = {
  engine: t('common-engine'),
  part: t('common-part'),
  plan: t('common-plan'),
  instrument: t('common-instrument'),
  person: t('common-person'),
} as const
watch(found, () => (at.value = 0))
function move(by: number) {
  at.value = Math.max(0, Math.min(found.value.length - 1, at.value + by))
  document.getElementById(`found-${at.value}`)?.scrollIntoView({ block: 'nearest' })
}
function go(index = at.value) {
  const one = found.value[index]
  // What is shown for what was typed before is not gone to.
  if (!one || typed.value.trim() !== words.value || isFetching.value) return
  emit('close')
  void router.push(one.path)
}
</script>

<template>
  <SheetDialog open :title="t('common-find')" @close="emit('close')">
    <form role="search" @submit.prevent="go()">
      <input
        v-model="typed"
        type="search"
        class="field mt-3 text-xl"
        name="find-anything"
        autocomplete="off"
        :aria-label="t('ui-search')"
        role="combobox"
        aria-controls="found"
        :aria-expanded="!!found.length"
        :aria-activedescendant="found.length ? `found-${at}` : undefined"
        :placeholder="t('ui-engine-customer-serial-batch-plan-instrument')"
        @keydown.down.prevent="move(1)"
        @keydown.up.prevent="move(-1)"
      />
    </form>
    <ul
      id="found"
      class="mt-3 max-h-[55dvh] min-h-40 overflow-y-auto"
      role="listbox"
      :aria-label="t('ui-results')"
      data-test="finds"
    >
      <!-- The field has the focus and the keys; it names the option by aria-activedescendant. -->
      <!-- eslint-disable vuejs-accessibility/click-events-have-key-events -->
      <!-- eslint-disable vuejs-accessibility/interactive-supports-focus -->
      <li
        v-for="(one, index) in found"
        :id="`found-${index}`"
        :key="one.path + index"
        role="option"
        :aria-selected="index === at"
        class="flex min-h-12 cursor-pointer items-baseline gap-3 border-l-4 px-3 py-2"
        :class="index === at ? 'border-layout bg-plate' : 'border-transparent'"
        @mousemove="at = index"
        @click="go(index)"
      >
        <span class="w-24 shrink-0 text-dim">{{ kinds[one.kind] }}</span>
        <span
          ><bdi class="font-semibold">{{ one.name }}</bdi> <span class="text-dim">{{ say(one.besides) }}</span></span
        >
      </li>
      <li v-if="words && !found.length && !isFetching" class="px-3 text-dim" role="status">
        {{ t('common-nothing-matches') }}
      </li>
    </ul>
  </SheetDialog>
</template>
