<script setup lang="ts">
// The build sheet, on paper and on screen the same.
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useLive } from '../api/live'
import { useSheet } from '../api/queries'
import { isLead } from '../api/session'
import SealClock from '../ui/SealClock.vue'
import SheetArticle from './SheetArticle.vue'
import LoadError from '../ui/LoadError.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

// They come when they are opened.
const ShareDialog = defineAsyncComponent(() => import('./ShareDialog.vue'))
const StoryDialog = defineAsyncComponent(() => import('./StoryDialog.vue'))
const route = useRoute()
const build = computed(() => String(route.params.build))
const { data: sheet, error } = useSheet(build)
useLive(build)
const print = () => window.print()
const by = ref<'order' | 'joint'>('order')
const only = ref(false)
const story = ref<{ joint: string; fastener: string } | null>(null)
const sharing = ref(false)
/** The link to this sheet that was just made: its code is printed on it. */
const link = ref('')
/** What of the engine is there as a table. */
const tables = {
  sheet: t('sheet-fasteners-every-pull'),
  readings: t('common-readings'),
  parts: t('common-parts'),
  entries: t('sheet-entries'),
} as const
usePageTitle(() => sheet.value && t('sheet-build-sheet', { sheet: sheet.value.name }))
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <LoadError v-if="error && !sheet" :error="error" :build="build" />
    <LoadingText v-else-if="!sheet" />
    <template v-if="sheet">
      <div class="no-print mb-4 flex flex-wrap items-center gap-3">
        <RouterLink :to="`/engines/${build}`" class="way-back mr-auto">{{ sheet.name }}</RouterLink>
        <details class="relative" data-test="files">
          <summary class="key cursor-pointer list-none">{{ t('sheet-files') }}</summary>
          <div class="absolute right-0 z-10 grid w-72 border-2 border-ink bg-face p-2">
            <a
              class="min-h-11 px-2 py-2 underline-offset-4 hover:underline"
              :href="`/api/builds/${build}/archive`"
              data-test="archive"
              >{{ t('sheet-whole-record-one-file') }}</a
            >
            <a
              v-for="(words, file) in tables"
              :key="file"
              class="min-h-11 px-2 py-2 underline-offset-4 hover:underline"
              :href="`/api/builds/${build}/${file}.csv`"
              >{{ t('sheet-csv', { words }) }}</a
            >
            <a
              class="min-h-11 px-2 py-2 underline-offset-4 hover:underline"
              :href="`/api/builds/${build}/sheet`"
              download="build-sheet.json"
              >{{ t('sheet-the-sheet-json') }}</a
            >
          </div>
        </details>
        <button v-if="isLead" class="key" data-test="share" @click="sharing = true">{{ t('sheet-share') }}</button>
        <button class="key key-main" @click="print">{{ t('common-print') }}</button>
        <div class="flex w-full flex-wrap items-center gap-x-6 gap-y-2">
          <div class="flex gap-2" role="group" :aria-label="t('sheet-sections')">
            <button
              class="quiet-key py-1"
              :class="by === 'order' && 'font-semibold text-ink!'"
              :aria-pressed="by === 'order'"
              @click="by = 'order'"
            >
              {{ t('sheet-by-build-sequence') }}
            </button>
            <button
              class="quiet-key py-1"
              :class="by === 'joint' && 'font-semibold text-ink!'"
              :aria-pressed="by === 'joint'"
              data-test="by-joint"
              @click="by = 'joint'"
            >
              {{ t('sheet-by-joint') }}
            </button>
          </div>
          <label class="flex items-center gap-2 py-1"
            ><input v-model="only" type="checkbox" class="size-5 accent-(--layout)" name="only" />
            {{ t('sheet-exceptions-only') }}</label
          >
        </div>
        <SealClock
          v-for="clock in sheet.clocks"
          :key="clock.since + clock.name"
          class="w-full"
          :clock="clock"
          :build="build"
        />
      </div>
      <SheetArticle
        :sheet="sheet"
        :by="by"
        :only="only"
        :code="link ? `/api${link}/code.svg` : undefined"
        @story="(joint, fastener) => (story = { joint, fastener })"
      />
      <ShareDialog v-if="sharing" :build="build" @close="sharing = false" @made="link = $event" />
      <StoryDialog v-if="story" :build="build" v-bind="story" @close="story = null" />
    </template>
  </main>
</template>
