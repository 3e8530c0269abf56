<script setup lang="ts">
// The limits of a clearance by the use of the engine, each as it is printed.
import { computed, inject, ref } from 'vue'
import ErrorText from '../../ui/ErrorText.vue'
import { figureText, formContext, type Fields } from './format'
import { withUnit } from '../written'
import { t } from '../texts'

const props = defineProps<{ label: string; hint: string; path: string; fields: Fields }>()
const value = defineModel<unknown>({ required: true })
const context = inject(formContext)!
const USES = ['street', 'vintage', 'endurance', 'boost']
const opened = ref<string[]>([])
const windows = computed<Fields>(() =>
  typeof value.value === 'string' ? { [USES[0]!]: value.value } : ((value.value ?? {}) as Fields),
)
const shown = computed(() => {
  const uses = [...new Set([...context.page.uses, ...Object.keys(windows.value), ...opened.value])]
  return uses.length ? uses : [USES[0]!]
})
const offered = computed(() => USES.filter((use) => !shown.value.includes(use)))
/** What its figures are read in: that of the clearance, or of what is measured. */
const dimension = computed(() => {
  if (props.fields.per_bore || props.fields.compression) return undefined
  const here = context.page.clearances.find((of) => of.path === context.path)
  return here?.dimension ?? 'clearance'
})
const textOf = (limits: unknown) =>
  Array.isArray(limits)
    ? limits.map((of) => (dimension.value ? figureText(of, dimension.value) : String(of))).join(', ')
    : String(limits ?? '')
function put(use: string, text: string) {
  const next = { ...windows.value }
  if (!text.trim()) delete next[use]
  else if (text !== textOf(next[use])) next[use] = withUnit(text, dimension.value)
  value.value = Object.keys(next).length ? next : undefined
}
</script>

<template>
  <fieldset class="min-w-0">
    <legend class="label-text">{{ label }}</legend>
    <div class="grid gap-3 sm:grid-cols-2">
      <label v-for="use in shown" :key="use">
        <span class="label-text">{{ use }}</span>
        <input
          class="field mt-1"
          autocomplete="off"
          :name="`${path}.${use}`"
          :value="textOf(windows[use])"
          @change="put(use, ($event.target as HTMLInputElement).value)"
        />
        <ErrorText :text="context.errors[`${path}.${use}`]" :data-path="`${path}.${use}`" />
      </label>
    </div>
    <p class="text-dim">{{ hint }}</p>
    <p v-if="offered.length" class="flex flex-wrap gap-x-4">
      <button
        v-for="use in offered"
        :key="use"
        type="button"
        class="quiet-key min-h-11"
        @click="opened = [...opened, use]"
      >
        {{ t('plans-offer', { label: use }) }}
      </button>
    </p>
  </fieldset>
</template>
