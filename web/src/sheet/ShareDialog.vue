<script setup lang="ts">
// Links to a sheet for whoever is outside of the shop: made by a lead, with an end, removed at will. A link is
// shown once.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '../api/client'
import { useAsk } from '../people/useAsk'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import ErrorText from '../ui/ErrorText.vue'
import { t } from './texts'

const props = defineProps<{ build: string }>()
const emit = defineEmits<{ close: []; made: [path: string] }>()
const client = useQueryClient()
const path = { params: { path: { build: props.build } } }
const { data: shares } = useQuery({
  queryKey: ['shares', props.build],
  queryFn: async () => take(await api.GET('/api/builds/{build}/shares', path)),
})
const { error, busy, ask } = useAsk()
const days = ref(90)
const lasts = {
  7: t('sheet-a-week'),
  30: t('sheet-a-month'),
  90: t('sheet-three-months'),
  365: t('sheet-a-year'),
  3650: t('sheet-ten-years'),
} as const
const again = () => client.invalidateQueries({ queryKey: ['shares', props.build] })
/** The link that was just made. */
const made = ref('')
async function share() {
  const done = await ask(
    async () =>
      (made.value = take(await api.POST('/api/builds/{build}/shares', { ...path, body: { days: days.value } })).path),
  )
  if (!done) return
  copied.value = false
  emit('made', made.value)
  await again()
}
const end = async (id: string) =>
  (await ask(async () => take(await api.DELETE('/api/shares/{share}', { params: { path: { share: id } } })))) && again()
const address = (path: string) => location.origin + path
const copied = ref(false)
async function copy() {
  await navigator.clipboard?.writeText(address(made.value)).catch(() => undefined)
  copied.value = true
}
</script>

<template>
  <SheetDialog open :title="t('sheet-share-build-sheet')" @close="emit('close')">
    <p class="mt-1 text-dim">
      {{ t('sheet-anyone-with-the-link-can-read') }}
    </p>
    <div v-if="made" class="mt-3 border-y-2 border-ink py-2" data-test="share-link">
      <a class="font-semibold break-all underline underline-offset-4" :href="made" target="_blank" rel="noreferrer">{{
        address(made)
      }}</a>
      <p class="flex flex-wrap items-center gap-x-4">
        <span class="text-dim">{{ t('sheet-shown-once-copy-it-now-or') }}</span><button
          class="quiet-key min-h-11"
          @click="copy"
        >
          {{ copied ? t('sheet-copied') : t('common-copy') }}
        </button>
      </p>
    </div>
    <ul class="mt-3">
      <li
        v-for="of in shares"
        :key="of.id"
        class="flex flex-wrap items-center gap-x-4 border-b border-rule py-1"
        data-test="share-row"
      >
        <span
          >{{ t('sheet-made-by') }} <bdi>{{ of.by }}</bdi><template v-if="!of.by_active">{{
            t('common-deactivated')
          }}</template
          >{{ t('common-ends', { made: when(of.at), ends: when(of.ends) }) }}</span
        ><button class="quiet-key ml-auto min-h-11" data-test="end-share" @click="end(of.id)">
          {{ t('common-remove-link') }}
        </button>
      </li>
    </ul>
    <form class="mt-3 flex flex-wrap items-end gap-3" @submit.prevent="share">
      <label
        ><span class="label-text">{{ t('sheet-valid-for') }}</span
        ><select v-model.number="days" class="field mt-1" name="share-days">
          <option v-for="(words, key) in lasts" :key="key" :value="Number(key)">{{ words }}</option>
        </select></label
      >
      <button class="key key-main" :disabled="busy" data-test="make-share">{{ t('sheet-create-link') }}</button>
      <button type="button" class="key ml-auto" @click="emit('close')">{{ t('common-close') }}</button>
    </form>
    <ErrorText :text="error" />
  </SheetDialog>
</template>
