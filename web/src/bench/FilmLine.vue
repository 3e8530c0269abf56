<script setup lang="ts">
// What the fasteners in hand turn on: what the plan asks for, or what somebody said is used (C-26, C-27).
import { defineAsyncComponent, ref } from 'vue'
import type { Schemas } from '../api/client'
import VoidButton from './VoidButton.vue'
import { t } from './texts'

// Rarely opened: it comes when it is.
const FilmDialog = defineAsyncComponent(() => import('./FilmDialog.vue'))
defineProps<{ film: Schemas['LubricantView'] }>()
const open = ref(false)
</script>

<template>
  <div class="border-t border-rule pt-1.5" data-test="film">
    <p v-if="film.warning" role="alert" class="said-wrong text-lg" data-test="film-warning">▲ {{ film.warning }}</p>
    <div class="flex items-baseline gap-x-3">
      <p class="grow">
        <span class="text-dim">{{
          film.said ? t('bench-lubricant-used-2') : film.goes_dry ? t('bench-assemble') : t('bench-lubricant')
        }}</span>
        <span class="ml-2 font-semibold" data-test="film-used">{{ film.used }}</span><span
          v-if="film.said?.converts"
          class="text-dim"
          >{{
            t('bench-converted-from', {
              asked: film.asked === film.used ? t('bench-the-table') : film.asked.toLowerCase(),
            })
          }}</span
        >
      </p>
      <VoidButton
        v-if="film.said"
        :seq="film.said.seq"
        :about="t('bench-as-said', { used: film.used, by: film.said.by })"
        :label="t('common-undo')"
      />
      <button class="quiet-key py-1 whitespace-nowrap" data-test="film-other" @click="open = true">
        {{ t('common-change') }}
      </button>
    </div>
    <FilmDialog v-if="open" :film="film" @close="open = false" />
  </div>
</template>
