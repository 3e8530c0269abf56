<script setup lang="ts">
// Pages of the manual beside a joint: added as a picture or a PDF, and read while its figures are entered.
import { computed, ref, watch } from 'vue'
import { FileText } from 'lucide-vue-next'
import type { Schemas } from '../api/client'
import ErrorText from '../ui/ErrorText.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import { keepManualFile, pageUrl, useMediaOf } from './manualFiles'
import type { Change } from './useChange'
import { t } from './texts'

const props = defineProps<{ joint: Schemas['JointPage']; change?: Change }>()
const emit = defineEmits<{ edit: [id: string, name: string] }>()
const chosen = ref<string>()
const page = computed(() => props.joint.manual.find((of) => of.id === chosen.value))
const { data: media, error: unknown } = useMediaOf(() => page.value?.file)
/** As wide as the column, or as large as it is. */
const large = ref(false)
const busy = ref(false)
const error = ref('')

async function add(files: FileList | null) {
  error.value = ''
  busy.value = true
  const known = new Set(props.joint.manual.map((of) => of.id))
  try {
    for (const file of files ?? []) {
      const fields = { name: file.name.replace(/\.\w+$/, ''), file: await keepManualFile(file) }
      error.value = (await props.change!([{ type: 'add-manual-page', joint: props.joint.path, fields }])) || error.value
    }
    chosen.value = props.joint.manual.find((of) => !known.has(of.id))?.id ?? chosen.value
  } catch (caught) {
    error.value = caught instanceof Error ? caught.message : String(caught)
  } finally {
    busy.value = false
  }
}
watch(chosen, () => (large.value = false))
</script>

<template>
  <div v-if="change || joint.manual.length" class="no-print" :data-test="`manual-${joint.id}`">
    <div class="flex flex-wrap items-center gap-x-5">
      <button
        v-for="of in joint.manual"
        :key="of.id"
        class="quiet-key flex min-h-11 items-center gap-1"
        :aria-pressed="chosen === of.id"
        :data-test="`manual-page-${of.id}`"
        @click="chosen = chosen === of.id ? undefined : of.id"
      >
        <FileText class="size-5 shrink-0" aria-hidden="true" />
        {{ of.page ? t('plans-name-page', { name: of.name, page: of.page }) : of.name }}
      </button>
      <label v-if="change" class="quiet-key relative flex min-h-11 items-center">
        {{ busy ? t('common-saving') : t('plans-add-manual-page') }}
        <input
          class="absolute inset-0 w-full opacity-0"
          type="file"
          name="manual-file"
          accept="image/jpeg,image/png,application/pdf"
          multiple
          :aria-label="t('plans-add-manual-page-to', { joint: joint.name })"
          :disabled="busy"
          @change="add(($event.target as HTMLInputElement).files)"
        />
      </label>
    </div>
    <ErrorText :text="error" />
    <div v-if="page" class="mt-1 border border-rule">
      <div class="flex flex-wrap items-center gap-x-5 border-b border-rule px-2">
        <button v-if="media?.startsWith('image/')" class="quiet-key min-h-11" @click="large = !large">
          {{ large ? t('plans-fit-to-width') : t('plans-full-size') }}
        </button>
        <a class="quiet-key flex min-h-11 items-center" :href="pageUrl(page)" target="_blank" rel="noopener">{{
          t('plans-open-in-a-new-tab')
        }}</a>
        <button
          v-if="change"
          class="quiet-key min-h-11"
          :aria-label="t('plans-edit-2', { name: page.name })"
          data-test="edit-manual"
          @click="emit('edit', page.id, page.name)"
        >
          {{ t('plans-edit') }}
        </button>
        <button class="quiet-key ml-auto min-h-11" @click="chosen = undefined">{{ t('common-close') }}</button>
      </div>
      <ErrorText class="p-3" :text="unknown?.message" />
      <p v-if="media === ''" class="p-3">{{ t('plans-file-is-not-in-this-shop') }}</p>
      <ScrollBox v-else-if="media?.startsWith('image/')" :label="page.name" class="max-h-[70vh] overflow-auto">
        <img :src="pageUrl(page)" :alt="page.name" :class="large ? 'max-w-none' : 'w-full'" />
      </ScrollBox>
      <iframe v-else-if="media" :src="pageUrl(page)" :title="page.name" class="h-[70vh] w-full bg-paper" />
    </div>
  </div>
</template>
