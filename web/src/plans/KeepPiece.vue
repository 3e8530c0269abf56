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
    said.value = 'It is in the library'
    void client.invalidateQueries({ queryKey: ['library'] })
  } catch (caught) {
    said.value = caught instanceof Refused ? caught.message : 'Rigore does not answer'
  }
}
</script>

<template>
  <button
    type="button"
    class="quiet-key no-print min-h-11"
    :aria-label="`Keep ${what} in the library`"
    data-test="keep-piece"
    @click="keep"
  >
    {{ said || 'Keep in the library' }}
  </button>
</template>
