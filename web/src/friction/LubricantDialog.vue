<script setup lang="ts">
// Adds a lubricant to the shop's own, or changes one: that makes another version.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import DialogActions from '../ui/DialogActions.vue'
import TextField from '../ui/TextField.vue'

const props = defineProps<{ lubricant: Schemas['ShopLubricant'] | null }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const ends = ['low', 'typical', 'high'] as const
const names = { low: 'Min', typical: 'Typical', high: 'Max' }
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
  { value: 'lubricant', name: 'Lubricant' },
  { value: 'sealant', name: 'Sealer or threadlocker' },
  { value: 'dry', name: 'Dry' },
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
      wrong.value[face] = 'enter three coefficients such as 0.08, 0.10, 0.12'
  if (Object.keys(wrong.value).length) return
  try {
    if (was) {
      const body = { seen: was.version ?? 0, retired, lubricant: known.value }
      take(await api.PUT('/api/lubricants/{id}', { params: { path: { id: was.id } }, body }))
    } else take(await api.POST('/api/lubricants', { body: known.value }))
    await client.invalidateQueries({ queryKey: ['lubricants'] })
    emit('close')
  } catch (caught) {
    if (!(caught instanceof Refused))
      error.value = 'No connection. What you typed is still here; try again in a moment.'
    else if (caught.problem.errors.length) Object.assign(wrong.value, caught.byField(/^lubricant\./))
    else error.value = caught.message
  }
}
</script>

<template>
  <SheetDialog open :title="was ? `Change ${was.name}` : 'Add a lubricant'" @close="emit('close')">
    <form class="-mx-2 mt-3 grid max-h-[75dvh] gap-4 overflow-y-auto px-2 pt-1" @submit.prevent="keep(false)">
      <TextField v-model="form.name" label="Name" name="name" :wrong="wrong.name" />
      <label>
        <span class="label-text">Kind</span>
        <select v-model="form.film" class="field mt-1" name="film">
          <option v-for="film in films" :key="film.value" :value="film.value">{{ film.name }}</option>
        </select>
      </label>
      <fieldset v-for="face in apart ? (['thread', 'bearing'] as const) : (['thread'] as const)" :key="face">
        <legend class="label-text">
          Coefficient of friction
          {{ !apart ? 'on thread and head' : face === 'thread' ? 'on the thread' : 'under the head' }}
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
        {{ apart ? 'Same under the head' : 'Other figures under the head' }}
      </button>
      <TextField
        v-model="form.source"
        label="Source of the figures"
        name="source"
        placeholder="maker's sheet and page, supplier's card, own test"
        :wrong="wrong.source"
      />
      <p v-if="was" class="text-dim">
        Saving makes version {{ (was.version ?? 0) + 1 }}. Earlier records keep their figures.
      </p>
      <details v-if="versions && versions.length > 1">
        <summary class="quiet-key">Earlier versions</summary>
        <ul class="mt-1 grid gap-1">
          <li v-for="one in versions.slice(1)" :key="one.version">
            {{ one.version }}: {{ one.name }}, μ {{ one.low.thread }} – {{ one.typical.thread }} –
            {{ one.high.thread }}, {{ one.by }}, {{ when(one.at) }}
          </li>
        </ul>
      </details>
      <DialogActions action="Save" :error="error" sticky test="keep-lubricant" @close="emit('close')">
        <button v-if="was" type="button" class="quiet-key mr-auto" @click="keep(!was.retired)">
          {{ was.retired ? 'Reactivate' : 'Retire' }}
        </button>
      </DialogActions>
    </form>
  </SheetDialog>
</template>
