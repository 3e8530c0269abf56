<script setup lang="ts">
// What a template assumed, table by table, until each is confirmed by a tap or changed.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { say } from '../ui/units'
import type { Change } from './useChange'
import { t } from './texts'

const props = defineProps<{ assumptions: Schemas['Assumption'][]; change?: Change }>()
const emit = defineEmits<{ edit: [path: string] }>()
const open = ref(false)
const error = ref('')
/** Those of one table together. */
const rows = computed(() => {
  const all = new Map<string, Schemas['Assumption'][]>()
  for (const of of props.assumptions) all.set(of.path, [...(all.get(of.path) ?? []), of])
  return [...all]
})
async function confirm(path: string, fields: string[] = []) {
  error.value = (await props.change?.([{ type: 'confirm', path, fields }])) ?? ''
}
</script>

<template>
  <section data-test="assumptions">
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h2 class="text-2xl font-semibold">{{ t('plans-assumptions') }}</h2>
      <button
        class="quiet-key no-print min-h-11"
        :aria-expanded="open"
        data-test="show-assumptions"
        @click="open = !open"
      >
        {{ open ? t('plans-hide-assumptions') : t('plans-show-assumptions', { count: assumptions.length }) }}
      </button>
      <button v-if="change" class="quiet-key min-h-11" data-test="confirm-all" @click="confirm('')">
        {{ t('plans-confirm-all-assumptions') }}
      </button>
    </div>
    <p>{{ t('plans-assumptions-are') }}</p>
    <p v-if="error" class="font-semibold text-wrong" role="alert">{{ error }}</p>
    <ul v-if="open" class="mt-1 grid gap-x-8 lg:grid-cols-2">
      <li v-for="[path, fields] in rows" :key="path" class="flex items-baseline gap-x-4 border-b border-rule">
        <span class="min-w-0 grow py-1">
          <button
            v-if="change"
            class="text-left font-semibold underline underline-offset-4"
            @click="emit('edit', path)"
          >
            {{ say(fields[0]!.of) }}</button><b v-else>{{ say(fields[0]!.of) }}</b>
          <span class="block">
            <template v-for="(of, at) in fields" :key="of.key"
              >{{ at ? '; ' : '' }}<span class="text-dim">{{ say(of.what) }}</span> {{ say(of.written) }}</template
            >
          </span>
        </span>
        <button
          v-if="change"
          class="quiet-key min-h-11 shrink-0"
          :aria-label="t('plans-confirm-name', { name: say(fields[0]!.of) })"
          :data-test="`confirm-${path}`"
          @click="confirm(path)"
        >
          {{ t('common-confirm') }}
        </button>
      </li>
    </ul>
  </section>
</template>
