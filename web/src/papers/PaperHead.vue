<script setup lang="ts">
// The head of every paper that leaves the shop: who it is from, what it is, and a code that opens it here.
import { pictureUrl } from '../ui/pictures'
import type { Schemas } from '../api/client'
import { t } from './texts'

defineProps<{ shop: Schemas['ShopLetterhead']; title: string; code?: string }>()
</script>

<template>
  <div
    class="flex flex-wrap items-start gap-x-5 gap-y-2 border-b-2 border-ink pb-3 print:flex-nowrap"
    data-test="letterhead"
  >
    <img v-if="shop.logo" :src="pictureUrl(shop.logo)" alt="" class="h-20 w-auto max-w-48 object-contain" />
    <div class="min-w-40 grow">
      <p class="text-xl font-semibold wrap-break-word">{{ shop.name }}</p>
      <p class="whitespace-pre-line wrap-break-word text-dim">{{ shop.address }}</p>
    </div>
    <p class="shrink-0 text-xl">{{ title }}</p>
    <img v-if="code" :src="code" :alt="t('papers-qr-code-that-opens-this-page')" class="size-20 shrink-0 bg-white" />
  </div>
</template>
