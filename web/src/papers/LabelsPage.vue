<script setup lang="ts">
// Labels of an engine, its trays and its parts: a name, a number, and a code that opens the page of it.
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '../api/client'
import { useBuild } from '../api/queries'
import LoadError from '../ui/LoadError.vue'
import { usePageTitle } from '../ui/pageTitle'
import TextField from '../ui/TextField.vue'
import { codeOf } from './usePaper'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const build = computed(() => String(useRoute().params.build))
const { data: engine, error } = useBuild(build)
const { data: shop } = useQuery({
  queryKey: ['letterhead'],
  queryFn: async () => take(await api.GET('/api/letterhead')),
})
usePageTitle(() => engine.value && t('papers-labels', { engine: engine.value.name }))

interface Label {
  key: string
  title: string
  number: string
  path: string
}
/** Every part with a serial of its own, once, with all the places it is in. */
const parts = computed<Label[]>(() => {
  const by = Map.groupBy(
    (engine.value?.parts ?? []).filter((slot) => slot.part?.serial || slot.part?.batch),
    (slot) => slot.part!.serial || slot.part!.batch!,
  )
  return [...by].map(([number, slots]) => ({
    key: number,
    title: slots.map((slot) => slot.name).join(', '),
    number,
    path: slots[0]!.part!.serial ? `/parts/${encodeURIComponent(number)}` : `/engines/${build.value}`,
  }))
})
const chosen = reactive(new Set<string>(['engine']))
const tray = reactive({ name: t('papers-tray'), count: '1' })
const engineLabel = computed<Label>(() => ({
  key: 'engine',
  title: [engine.value?.owner, engine.value?.plan.name].filter(Boolean).join(', '),
  number: engine.value?.identity ?? '',
  path: `/engines/${build.value}`,
}))
const trays = computed<Label[]>(() =>
  Array.from({ length: Math.min(60, Math.max(1, Math.floor(Number(tray.count) || 1))) }, (_, at) => ({
    key: `tray-${at}`,
    title: Number(tray.count) > 1 ? `${tray.name} ${at + 1}` : tray.name,
    number: engine.value?.identity ?? '',
    path: `/engines/${build.value}`,
  })),
)
const labels = computed(() => [
  ...(chosen.has('engine') ? [engineLabel.value] : []),
  ...(chosen.has('trays') ? trays.value : []),
  ...parts.value.filter((part) => chosen.has(part.key)),
])
const toggle = (key: string) => (chosen.has(key) ? chosen.delete(key) : chosen.add(key))
function chooseParts(all: boolean) {
  for (const part of parts.value) {
    if (all) chosen.add(part.key)
    else chosen.delete(part.key)
  }
}
const print = () => window.print()
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <LoadError v-if="error && !engine" :error="error" :build="build" />
    <LoadingText v-else-if="!engine" />
    <template v-else>
      <div class="no-print">
        <div class="flex flex-wrap items-center gap-3">
          <RouterLink :to="`/engines/${build}`" class="way-back mr-auto">{{ engine.name }}</RouterLink>
          <button class="key key-main" :disabled="!labels.length" @click="print">
            {{ t('papers-print-labels', { count: labels.length }) }}
          </button>
        </div>
        <h1 class="mt-2 text-4xl font-semibold tracking-tight">{{ t('common-labels') }}</h1>
        <p class="text-dim">{{ t('papers-each-has-a-qr-code-that') }}</p>
        <fieldset class="mt-4 grid grid-cols-[minmax(0,1fr)] gap-1">
          <legend class="sr-only">{{ t('papers-what-to-print-a-label-for') }}</legend>
          <label class="flex min-h-11 items-center gap-3"
            ><input
              type="checkbox"
              class="size-5 accent-(--layout)"
              :checked="chosen.has('engine')"
              @change="toggle('engine')"
            />
            {{ t('papers-the-engine') }}</label
          >
          <div class="flex flex-wrap items-end gap-x-6 gap-y-2">
            <label class="flex min-h-11 items-center gap-3"
              ><input
                type="checkbox"
                class="size-5 accent-(--layout)"
                name="trays"
                :checked="chosen.has('trays')"
                @change="toggle('trays')"
              />
              {{ t('papers-trays') }}</label
            >
            <template v-if="chosen.has('trays')">
              <TextField v-model="tray.name" :label="t('papers-what-is-on-it')" name="tray-name" />
              <TextField
                v-model="tray.count"
                :label="t('papers-how-many-up-to-60')"
                name="tray-count"
                inputmode="numeric"
              />
            </template>
          </div>
          <div v-if="parts.length" class="flex flex-wrap gap-x-6">
            <button class="quiet-key min-h-11" data-test="all-parts" @click="chooseParts(true)">
              {{ t('papers-all-parts-and-sets', { count: parts.length }) }}
            </button>
            <button class="quiet-key min-h-11" @click="chooseParts(false)">{{ t('papers-no-parts') }}</button>
          </div>
          <div class="grid grid-cols-[minmax(0,1fr)] gap-x-6 sm:grid-cols-2">
            <label v-for="part in parts" :key="part.key" class="flex min-h-11 items-center gap-3"
              ><input
                type="checkbox"
                class="size-5 shrink-0 accent-(--layout)"
                :checked="chosen.has(part.key)"
                @change="toggle(part.key)"
              />
              <span class="min-w-0"
                ><span class="block truncate">{{ part.title }}</span
                ><span class="block text-dim">{{ part.number }}</span></span
              ></label
            >
          </div>
        </fieldset>
      </div>
      <ul class="label-sheet mt-6 print:mt-0" :aria-label="t('common-labels')" data-test="labels">
        <li v-for="label in labels" :key="label.key" class="label-field bg-face">
          <img :src="codeOf(label.path)" :alt="t('papers-qr-code')" class="label-code bg-white" />
          <div class="min-w-0">
            <p class="truncate font-semibold">{{ engine.name }}</p>
            <p class="line-clamp-2">{{ label.title }}</p>
            <p class="truncate font-semibold">{{ label.number }}</p>
            <p class="truncate text-dim">{{ shop?.name }}</p>
          </div>
        </li>
      </ul>
    </template>
  </main>
</template>
