<script setup lang="ts">
// A sheet as whoever has a link to it reads it: nobody has to be signed in, and nothing can be changed.
import { useQuery } from '@tanstack/vue-query'
import { onUnmounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, Refused, take } from '../api/client'
import { pictureBase } from '../ui/pictures'
import { loadUnits } from '../api/queries'
import { when } from '../ui/units'
import PrintedHash from './PrintedHash.vue'
import SheetArticle from './SheetArticle.vue'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const token = String(useRoute().params.token)
pictureBase.value = `/api/shared/${token}/pictures/`
onUnmounted(() => (pictureBase.value = '/api/pictures/'))
const { data, error } = useQuery({
  queryKey: ['shared', token],
  queryFn: async () => {
    await loadUnits().catch(() => undefined)
    return take(await api.GET('/api/shared/{token}', { params: { path: { token } } }))
  },
  retry: (_, error) => !(error instanceof Refused),
})
const by = ref<'order' | 'joint'>('order')
const only = ref(false)
const print = () => window.print()
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <p v-if="error && !data" class="py-8 text-xl" role="alert">{{ error.message }}.</p>
    <LoadingText v-else-if="!data" />
    <template v-if="data">
      <div class="no-print mb-4 flex flex-wrap items-center gap-x-6 gap-y-2">
        <p class="mr-auto">
          <b>{{ data.sheet.shop.name || t('common-build-sheet') }}</b><span class="text-dim">{{
            t('sheet-valid-until', { time: when(data.ends) })
          }}</span>
        </p>
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="only" type="checkbox" class="size-5 accent-(--layout)" name="only" />
          {{ t('sheet-exceptions-only') }}</label
        >
        <button class="key" @click="print">{{ t('common-print') }}</button>
      </div>
      <SheetArticle :sheet="data.sheet" :by="by" :only="only" :code="`/api/shared/${token}/code.svg`" />
      <PrintedHash :token="token" />
    </template>
  </main>
</template>
