<script setup lang="ts">
// Keeps a piece of a draft in the shop's library.
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { v7 } from 'uuid'
import { api, Refused, take } from '../api/client'
import { t } from './texts'

const props = defineProps<{ draft: string; path: string; what: string }>()
const client = useQueryClient()
const said = ref('')
async function keep() {
  try {
    take(await api.POST('/api/library', { body: { id: v7(), draft: props.draft, path: props.path } }))
    said.value = t('plans-saved-in-the-library')
    void client.invalidateQueries({ queryKey: ['library'] })
  } catch (caught) {
    said.value = caught instanceof Refused ? caught.message : t('common-no-connection')
  }
}
</script>

<template>
  <button
    type="button"
    class="quiet-key no-print min-h-11"
    :aria-label="t('plans-save-to-the-library', { what })"
    data-test="keep-piece"
    @click="keep"
  >
    {{ said || t('plans-save-to-library') }}
  </button>
</template>
