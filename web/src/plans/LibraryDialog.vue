<script setup lang="ts">
// The shop's own library: pieces of its plans, to be taken into this one with all that they need.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import type { Edit } from './useDraft'
import { t } from './texts'

const props = defineProps<{ change: (edits: Edit[]) => Promise<string> }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const { data: pieces, error: away } = useQuery({
  queryKey: ['library'],
  queryFn: async () => take(await api.GET('/api/library')),
})
const find = ref('')
const shown = computed(() =>
  pieces.value?.filter(
    (of) => of.kind !== 'procedure' && `${of.name} ${of.text}`.toLowerCase().includes(find.value.toLowerCase().trim()),
  ),
)
const error = ref('')
async function takeIn(text: string) {
  error.value = await props.change([{ type: 'take', text }])
  if (!error.value) emit('close')
}
async function retire(id: string) {
  await api.DELETE('/api/library/{piece}', { params: { path: { piece: id } } })
  await client.invalidateQueries({ queryKey: ['library'] })
}
const source = (text: string) => /^source = "(.*)"$/m.exec(text)?.[1]
</script>

<template>
  <SheetDialog open :title="t('plans-library')" @close="emit('close')">
    <label class="mt-3 flex items-center gap-2"
      ><span class="label-text">{{ t('common-find') }}</span
      ><input v-model="find" type="search" class="line-field w-full" autocomplete="off"
    /></label>
    <p v-if="away" class="mt-2 font-semibold text-wrong">{{ t('plans-no-connection') }}</p>
    <p v-else-if="pieces && !shown?.length" class="py-4">
      {{ find ? t('common-nothing-matches') : t('plans-the-library-is-empty-save-a') }}
    </p>
    <ul class="mt-2 max-h-[55dvh] overflow-y-auto" data-test="library">
      <li v-for="of in shown" :key="of.id" class="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-2">
        <span class="grow"
          ><b>{{ of.name }}</b
          >, {{ of.kind
          }}<span class="block text-dim"
            >{{ of.by }}, {{ when(of.at)
            }}<template v-if="source(of.text)">{{ t('plans-from', { text: source(of.text) }) }}</template></span
          ></span
        >
        <button class="quiet-key min-h-11" :aria-label="t('plans-remove', { name: of.name })" @click="retire(of.id)">
          {{ t('common-remove') }}
        </button>
        <button class="key" :aria-label="t('plans-add', { name: of.name })" @click="takeIn(of.text)">
          {{ t('common-add') }}
        </button>
      </li>
    </ul>
    <p v-if="error" class="mt-2 font-semibold text-wrong" role="alert">{{ error }}</p>
    <div class="mt-4 flex justify-end">
      <button class="key" @click="emit('close')">{{ t('common-close') }}</button>
    </div>
  </SheetDialog>
</template>
