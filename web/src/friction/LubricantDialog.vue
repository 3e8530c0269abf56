<script setup lang="ts">
// Adds a lubricant to the shop's own, or changes one: that makes another version.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import DialogActions from '../ui/DialogActions.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ lubricant: Schemas['ShopLubricant'] | null }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const ends = ['low', 'typical', 'high'] as const
const names = { low: t('friction-min'), typical: t('friction-typical'), high: t('friction-max') }
const was = props.lubricant
const text = (face: 'thread' | 'bearing') => ends.map((end) => (was ? String(was[end][face]) : ''))
const form = reactive({
  name: was?.name ?? '',
  film: was?.film ?? 'lubricant',
  source: was?.source ?? '',
  thread: text('thread'),
  bearing: text('bearing'),
})
const apart = ref(!!was && ends.some((end) => was[end].thread !== was[end].bearing))
const wrong = ref<Record<string, string>>({})
const error = ref('')
const { data: versions } = useQuery({
  queryKey: ['lubricants', was?.id],
  enabled: !!was,
  queryFn: async () => take(await api.GET('/api/lubricants/{id}', { params: { path: { id: was!.id } } })),
})
const films: { value: Schemas['SurfaceFilm']; name: string }[] = [
  { value: 'lubricant', name: t('common-lubricant') },
  { value: 'sealant', name: t('friction-sealer-or-threadlocker') },
  { value: 'dry', name: t('friction-dry') },
]
const figures = (of: string[]) =>
  of.map((one) => (one.trim() ? Number(one.replace(',', '.')) : NaN)) as [number, number, number]
const known = computed(() => ({
  name: form.name,
  film: form.film,
  source: form.source,
  thread: figures(form.thread),
  bearing: apart.value ? figures(form.bearing) : null,
}))

async function keep(retired: boolean) {
  wrong.value = {}
  error.value = ''
  for (const face of ['thread', ...(apart.value ? ['bearing'] : [])] as ('thread' | 'bearing')[])
    if (figures(form[face]).some((one) => !Number.isFinite(one)))
      wrong.value[face] = t('friction-enter-three-coefficients-such-as-0')
  if (Object.keys(wrong.value).length) return
  try {
    if (was) {
      const body = { seen: was.version ?? 0, retired, lubricant: known.value }
      take(await api.PUT('/api/lubricants/{id}', { params: { path: { id: was.id } }, body }))
    } else take(await api.POST('/api/lubricants', { body: known.value }))
    await client.invalidateQueries({ queryKey: ['lubricants'] })
    emit('close')
  } catch (caught) {
    if (!(caught instanceof Refused)) error.value = t('common-no-connection-what-you-typed-is')
    else if (caught.problem.errors.length) Object.assign(wrong.value, caught.byField(/^lubricant\./))
    else error.value = caught.message
  }
}
</script>

<template>
  <SheetDialog
    open
    :title="was ? t('common-change-2', { was: was.name }) : t('friction-add-a-lubricant')"
    @close="emit('close')"
  >
    <form class="-mx-2 mt-3 grid max-h-[75dvh] gap-4 overflow-y-auto px-2 pt-1" @submit.prevent="keep(false)">
      <TextField v-model="form.name" :label="t('common-name')" name="name" :wrong="wrong.name" />
      <label>
        <span class="label-text">{{ t('common-kind') }}</span>
        <select v-model="form.film" class="field mt-1" name="film">
          <option v-for="film in films" :key="film.value" :value="film.value">{{ film.name }}</option>
        </select>
      </label>
      <fieldset v-for="face in apart ? (['thread', 'bearing'] as const) : (['thread'] as const)" :key="face">
        <legend class="label-text">
          {{
            t('friction-coefficient-of-friction', {
              which: !apart
                ? t('friction-on-thread-and-head')
                : face === 'thread'
                  ? t('friction-on-the-thread')
                  : t('friction-under-the-head-2'),
            })
          }}
        </legend>
        <div class="mt-1 grid grid-cols-3 gap-2">
          <label v-for="(end, at) in ends" :key="end">
            <span class="label-text">{{ names[end] }}</span>
            <input
              v-model="form[face][at]"
              class="field mt-1"
              :name="`${face}-${end}`"
              inputmode="decimal"
              autocomplete="off"
              :aria-invalid="!!wrong[face]"
            />
          </label>
        </div>
        <span v-if="wrong[face]" role="alert" class="font-semibold text-wrong">{{ wrong[face] }}</span>
      </fieldset>
      <button type="button" class="quiet-key justify-self-start" :aria-expanded="apart" @click="apart = !apart">
        {{ apart ? t('friction-same-under-the-head') : t('friction-other-figures-under-the-head') }}
      </button>
      <TextField
        v-model="form.source"
        :label="t('common-source-of-the-figures')"
        name="source"
        :placeholder="t('friction-makers-sheet-and-page-suppliers-card')"
        :wrong="wrong.source"
      />
      <p v-if="was" class="text-dim">
        {{ t('friction-saving-makes-version-earlier-records-keep', { version: (was.version ?? 0) + 1 }) }}
      </p>
      <details v-if="versions && versions.length > 1">
        <summary class="quiet-key">{{ t('friction-earlier-versions') }}</summary>
        <ul class="mt-1 grid gap-1">
          <li v-for="one in versions.slice(1)" :key="one.version">
            {{ one.version }}: {{ one.name }}, μ {{ one.low.thread }} – {{ one.typical.thread }} –
            {{ one.high.thread }}, {{ one.by }}, {{ when(one.at) }}
          </li>
        </ul>
      </details>
      <DialogActions :action="t('common-save')" :error="error" sticky test="keep-lubricant" @close="emit('close')">
        <button v-if="was" type="button" class="quiet-key mr-auto" @click="keep(!was.retired)">
          {{ was.retired ? t('common-reactivate') : t('common-retire') }}
        </button>
      </DialogActions>
    </form>
  </SheetDialog>
</template>
