<script setup lang="ts">
// What is in the engine for the work and has to come out again (C-43): rags, guides, protectors, stops.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import ErrorText from './ErrorText.vue'
import TextField from './TextField.vue'
import { t } from './texts'

const props = defineProps<{
  aids: Schemas['TemporaryItemView'][]
  /** The operation that is recorded at. */
  operation: string
  act: (what: CommandAction) => Promise<string>
}>()
const inside = computed(() => props.aids.filter((aid) => !aid.out_at))
const putting = ref(false)
const what = ref('')
const count = ref(1)
const error = ref('')

async function put() {
  error.value = await props.act({ type: 'put-in', operation: props.operation, what: what.value, count: count.value })
  if (error.value) return
  putting.value = false
  what.value = ''
  count.value = 1
}

async function take(seq: number) {
  error.value = await props.act({ type: 'take-out', operation: props.operation, seq })
}
</script>

<template>
  <section :aria-label="t('common-temporary-items')" data-test="aids">
    <ul v-if="inside.length" class="grid gap-1">
      <li v-for="aid in inside" :key="aid.seq" class="flex flex-wrap items-center gap-x-3">
        <svg viewBox="0 0 24 24" class="size-6 shrink-0" aria-hidden="true">
          <path d="M4 9v11h16V9" fill="none" stroke="var(--ink)" stroke-width="1.5" />
          <path d="M12 3v11m-4-4 4 4 4-4" fill="none" stroke="var(--layout)" stroke-width="2.5" />
        </svg>
        <span class="text-lg font-semibold">{{ aid.count > 1 ? `${aid.count} × ` : '' }}{{ aid.what }}</span>
        <span class="text-dim"
          >{{ t('ui-in-since', { operation_name: aid.operation_name })
          }}<template v-if="aid.until">{{ t('ui-to-be-removed-at', { until: aid.until }) }}</template></span
        >
        <button class="key min-h-11 py-1" :data-test="`out-${aid.seq}`" @click="take(aid.seq)">
          {{ t('ui-removed') }}
        </button>
      </li>
    </ul>
    <form v-if="putting" class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="put">
      <TextField
        v-model="what"
        class="grow basis-56"
        :label="t('ui-item-and-place')"
        name="what"
        :placeholder="t('ui-rag-in-the-oil-gallery')"
      />
      <label class="w-24"
        ><span class="label-text">{{ t('common-number') }}</span
        ><input v-model.number="count" class="field mt-1" name="how-many" type="number" min="1"
      /></label>
      <button class="key key-main" data-test="put-in">{{ t('common-add') }}</button>
      <button type="button" class="key" @click="putting = false">{{ t('common-cancel') }}</button>
    </form>
    <button v-else class="quiet-key py-1" data-test="put-something-in" @click="putting = true">
      {{ t('ui-add-temporary-item') }}
    </button>
    <ErrorText :text="error" />
  </section>
</template>
