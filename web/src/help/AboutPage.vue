<script setup lang="ts">
// Which version this is, and what changed in it.
import { computed } from 'vue'
import changelog from '../../../CHANGELOG.md?raw'
import { t } from './texts'

interface Block {
  kind: 'version' | 'date' | 'point'
  text: string
}
/** The change log: versions, dates, and what changed, without its own heading. */
const blocks = computed<Block[]>(() =>
  changelog.split('\n').flatMap((line): Block[] => {
    const plain = (from: number) => line.slice(from).replaceAll('*', '').replaceAll('`', '')
    if (line.startsWith('## ')) return [{ kind: 'version', text: plain(3) }]
    if (line.startsWith('### ')) return [{ kind: 'date', text: plain(4) }]
    return line.startsWith('- ') ? [{ kind: 'point', text: plain(2) }] : []
  }),
)
const version = computed(() => blocks.value.find((block) => block.kind === 'version')?.text)
</script>

<template>
  <main class="mx-auto w-full max-w-3xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-about-rigore') }}</h1>
    <p class="mt-3 text-xl" data-test="version">{{ t('common-version', { version }) }}</p>
    <p class="mt-2">
      {{ t('help-rigore-plans-leads-and-records-the') }}
    </p>
    <p class="mt-2">
      {{ t('help-records-leave-in-open-formats-and') }}
      <RouterLink class="underline" to="/help">{{ t('common-help') }}</RouterLink>
    </p>
    <h2 class="mt-6 border-b border-ink text-2xl font-semibold">{{ t('common-changes') }}</h2>
    <template v-for="(block, at) in blocks" :key="at">
      <h3 v-if="block.kind === 'date'" class="mt-4 text-lg font-semibold">{{ block.text }}</h3>
      <p v-else-if="block.kind === 'point'" class="py-0.5 pl-4 -indent-3">· {{ block.text }}</p>
    </template>
  </main>
</template>
