<script setup lang="ts">
// Figures that nobody has looked up yet and that work waits for: filled in where they are wanted.
import { useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { v7 } from 'uuid'
import { withUnit } from '../plans/written'
import { digits, figure, unitOf } from './units'
import { api, Refused, take, type Schemas } from '../api/client'
import { t } from './texts'

const props = defineProps<{ wanted: Schemas['MissingSpec'][]; build: string; seq: number }>()
const client = useQueryClient()
const typed = reactive<Record<string, { text: string; source: string; id: string }>>({})
const of = (path: string) => (typed[path] ??= { text: '', source: '', id: v7() })
const wrong = ref<Record<string, string>>({})
const busy = ref('')
/** What a lead is asked to approve before it is filled in. */
const asks = ref('')
async function fillIn(path: string, approved = false) {
  const { text, source, id } = of(path)
  busy.value = path
  try {
    take(
      await api.POST('/api/builds/{build}/figures', {
        params: { path: { build: props.build } },
        body: {
          id,
          seen: props.seq,
          path,
          text: withUnit(text, props.wanted.find((one) => one.path === path)?.dimension),
          source,
          approved,
        },
      }),
    )
    delete wrong.value[path]
    delete typed[path]
    await client.invalidateQueries({ queryKey: ['build', props.build] })
  } catch (caught) {
    wrong.value[path] =
      caught instanceof Refused
        ? Object.values(caught.byField()).join('; ') || caught.message
        : t('common-no-connection-what-you-typed-is')
    asks.value = caught instanceof Refused && caught.is('ask') ? path : ''
    // Asked anew, it is another try.
    if (caught instanceof Refused) of(path).id = v7()
  } finally {
    busy.value = ''
  }
}
/** How such a figure is written, in the units that were chosen here. */
function example(dimension: Schemas['Dimension'] | null | undefined) {
  if (!dimension) return t('ui-then-90', { first: figure(40, 'torque'), second: figure(70, 'torque') })
  if (dimension === 'clearance') return t('common-to', { low: digits(0.03, dimension), high: figure(0.052, dimension) })
  return dimension === 'torque' ? `${figure(45, dimension)} ± ${figure(2, dimension)}` : ''
}
</script>

<template>
  <ul class="grid gap-3" data-test="wanted">
    <li v-for="one in wanted" :key="one.path" class="border-l-4 border-layout pl-3">
      <p class="text-lg">
        <span class="font-semibold">{{ t('ui-missing-spec', { what: one.what }) }}</span><span
          v-if="one.note"
          class="text-dim"
          >, {{ one.note }}</span
        >
      </p>
      <form class="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2" @submit.prevent="fillIn(one.path)">
        <label class="min-w-64 grow"
          ><span class="label-text"
            >{{ t('ui-spec')
            }}<template v-if="one.dimension">{{
              t('ui-in-unless-a-unit-is-typed', { unit: unitOf(one.dimension) })
            }}</template></span
          ><input
            v-model="of(one.path).text"
            class="field mt-1 text-xl"
            :name="`wanted-${one.path}`"
            autocomplete="off"
            :placeholder="example(one.dimension)"
            :aria-invalid="!!wrong[one.path]"
            @input="asks = ''"
            @keydown.stop
        /></label>
        <label class="min-w-48 grow"
          ><span class="label-text">{{ t('common-source') }}</span
          ><input
            v-model="of(one.path).source"
            class="field mt-1"
            autocomplete="off"
            :placeholder="t('ui-manual-page-12')"
            @input="asks = ''"
            @keydown.stop
        /></label>
        <button class="key key-main" :disabled="busy === one.path">{{ t('ui-save-spec') }}</button>
      </form>
      <p v-if="wrong[one.path]" class="mt-1 font-semibold text-wrong" role="alert">{{ wrong[one.path] }}</p>
      <button
        v-if="asks === one.path"
        class="key mt-1 min-h-11"
        data-test="approve-figure"
        @click="fillIn(one.path, true)"
      >
        {{ t('ui-approve-and-save') }}
      </button>
    </li>
  </ul>
</template>
