<script setup lang="ts">
// The shop's own library: pieces of its plans, to be taken into this one with all that they need.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
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
const kind = ref('')
/** What each kind is called; a procedure is taken where it is typed. */
const kinds: Record<string, string> = {
  joint: t('plans-kind-joint'),
  fastener: t('plans-kind-fastener'),
  lubricant: t('plans-kind-lubricant'),
  adapter: t('plans-kind-adapter'),
  clearances: t('plans-kind-clearances'),
  clearance: t('plans-kind-clearance'),
  checklist: t('plans-kind-checklist'),
}
const words = (of: Schemas['Piece']) => `${of.name} ${kinds[of.kind]} ${of.text} ${of.used_in.join(' ')}`.toLowerCase()
const shown = computed(() =>
  pieces.value?.filter(
    (of) =>
      of.kind in kinds &&
      (!kind.value || of.kind === kind.value) &&
      find.value
        .toLowerCase()
        .split(/\s+/)
        .every((word) => words(of).includes(word)),
  ),
)
const there = computed(() => Object.keys(kinds).filter((key) => pieces.value?.some((of) => of.kind === key)))
const error = ref('')
/** A checklist becomes a step at the end of the build sequence, to be moved from there. */
async function takeIn(of: Schemas['Piece']) {
  const edit: Edit = of.fields
    ? { type: 'add-step', fields: of.fields as Record<string, unknown>, place: 'last' }
    : { type: 'take', text: of.text }
  error.value = await props.change([edit])
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
    <div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
      <label class="flex grow items-center gap-2"
        ><span class="label-text">{{ t('common-find') }}</span
        ><input v-model="find" type="search" class="line-field w-full" autocomplete="off"
      /></label>
      <label v-if="there.length > 1" class="flex items-center gap-2"
        ><span class="label-text">{{ t('common-kind') }}</span
        ><select v-model="kind" class="line-field" name="library-kind">
          <option value="">{{ t('plans-all-kinds') }}</option>
          <option v-for="key in there" :key="key" :value="key">{{ kinds[key] }}</option>
        </select></label
      >
    </div>
    <p v-if="away" class="mt-2 font-semibold text-wrong">{{ t('plans-no-connection') }}</p>
    <p v-else-if="pieces && !shown?.length" class="py-4">
      {{ find ? t('common-nothing-matches') : t('plans-the-library-is-empty-save-a') }}
    </p>
    <ul class="mt-2 max-h-[55dvh] overflow-y-auto" data-test="library">
      <li v-for="of in shown" :key="of.id" class="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-2">
        <span class="grow"
          ><b>{{ of.name }}</b
          >, {{ kinds[of.kind]
          }}<span v-if="of.used_in.length" class="block" data-test="used-in">{{
            t('plans-used-in-plans', { plans: of.used_in.join(', ') })
          }}</span
          ><span class="block text-dim"
            >{{ of.by }}, {{ when(of.at)
            }}<template v-if="source(of.text)">{{ t('plans-from', { text: source(of.text) }) }}</template></span
          ></span
        >
        <button class="quiet-key min-h-11" :aria-label="t('plans-remove', { name: of.name })" @click="retire(of.id)">
          {{ t('common-remove') }}
        </button>
        <button class="key" :aria-label="t('plans-add', { name: of.name })" @click="takeIn(of)">
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
