<script setup lang="ts">
// Keeps a piece of a draft in the shop's library.
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { v7 } from 'uuid'
import { api, Refused, take } from '../api/client'

const props = defineProps<{ draft: string; path: string; what: string }>()
const client = useQueryClient()
const said = ref('')
async function keep() {
  try {
    take(await api.POST('/api/library', { body: { id: v7(), draft: props.draft, path: props.path } }))
    said.value = 'Saved in the library'
    void client.invalidateQueries({ queryKey: ['library'] })
  } catch (caught) {
    said.value = caught instanceof Refused ? caught.message : 'No connection'
  }
}
</script>

<template>
  <button
    type="button"
    class="quiet-key no-print min-h-11"
    :aria-label="`Save ${what} to the library`"
    data-test="keep-piece"
    @click="keep"
  >
    {{ said || 'Save to library' }}
  </button>
</template>
