<script setup lang="ts">
// From nothing to an engine's shape: a few choices, and what they come to drawn beside them at once.
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { v7 } from 'uuid'
import { api, Refused, take, type Schemas } from '../api/client'
import { lengthUnit } from '../ui/preferences'
import ErrorText from '../ui/ErrorText.vue'
import PartDrawing from './PartDrawing.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

type Engine = Required<Schemas['EngineShape']>
const router = useRouter()
/** What is chosen survives a reload until a draft is begun with it. */
const engine = useLocalStorage<Engine>('rigore-shape', {
  name: '',
  about: '',
  used_for: 'street',
  layout: 'inline',
  cylinders: 4,
  v_angle_deg: 90,
  pins: 'shared',
  bore_mm: 86,
  spacing_mm: 94,
  main_bolts: 2,
  main_studs: false,
  caps: 'single',
  rods: 'bolts',
  head_rows: 2,
  head_studs: false,
  cams: 'twin',
  has: ['pan', 'timing-cover', 'rear-cover', 'intake', 'water-pump', 'damper', 'flywheel'],
})
const uses = {
  street: t('plans-the-street'),
  endurance: t('plans-endurance'),
  boost: t('plans-boost'),
  vintage: t('plans-vintage'),
} as const
const layouts = { inline: t('plans-inline'), v: 'V', flat: t('plans-flat') } as const
const counts = computed(() =>
  Array.from({ length: 12 }, (_, at) => at + 1).filter((count) => engine.value.layout === 'inline' || count % 2 === 0),
)
const caps = {
  single: t('plans-separate'),
  girdle: t('plans-with-a-girdle'),
  ladder: t('plans-in-one-ladder-frame'),
} as const
const rods = {
  bolts: t('plans-bolts'),
  nuts: t('plans-bolts-with-nuts'),
  castellated: t('plans-castellated-nuts'),
} as const
const cams = { block: t('plans-in-the-block'), single: t('plans-one-per-head'), twin: t('plans-two-per-head') } as const
const extras: Record<Schemas['EngineExtra'], string> = {
  'cross-bolts': t('plans-cross-bolts-through-the-skirt'),
  'small-head-bolts': t('plans-small-bolts-along-the-head'),
  tray: t('plans-windage-tray'),
  pan: t('plans-pan'),
  'timing-cover': t('plans-timing-cover'),
  'rear-cover': t('plans-rear-seal-cover'),
  'valley-cover': t('plans-valley-cover'),
  intake: t('plans-intake'),
  'water-pump': t('plans-water-pump'),
  damper: t('plans-damper'),
  flywheel: t('plans-flywheel'),
}
/** A valley is between two banks. */
const shownExtras = computed(
  () =>
    Object.fromEntries(
      Object.entries(extras).filter(([key]) => key !== 'valley-cover' || engine.value.layout !== 'inline'),
    ) as typeof extras,
)
const page = ref<Schemas['PlanPage']>()
const wrong = ref<Record<string, string>>({})
const error = ref('')
const given = computed(() => ({ ...engine.value, name: engine.value.name.trim() || t('plans-my-engine') }))
function caught(reason: unknown) {
  if (!(reason instanceof Refused)) error.value = t('plans-no-connection-what-you-chose-is')
  else if (reason.problem.errors.length) wrong.value = reason.byField(/^engine\./)
  else error.value = reason.message
}
let asked = 0
async function look() {
  const mine = ++asked
  try {
    const answer = take(await api.POST('/api/plans/shape', { body: given.value }))
    if (mine === asked) [page.value, wrong.value, error.value] = [answer, {}, '']
  } catch (reason) {
    if (mine === asked) caught(reason)
  }
}
watchDebounced(given, look, { deep: true, debounce: 120, immediate: true })
function stand(layout: Engine['layout']) {
  engine.value.layout = layout
  if (layout !== 'inline' && engine.value.cylinders % 2) engine.value.cylinders += 1
}
function toggle(extra: Schemas['EngineExtra']) {
  const has = engine.value.has
  engine.value.has = has.includes(extra) ? has.filter((of) => of !== extra) : [...has, extra]
}
async function begin() {
  if (!engine.value.name.trim()) return void (wrong.value = { name: t('plans-enter-a-name') })
  try {
    const draft = take(await api.POST('/api/drafts/shape', { body: { id: v7(), engine: given.value } }))
    engine.value = { ...engine.value, name: '', about: '' }
    void router.push(`/plans/drafts/${draft.id}`)
  } catch (reason) {
    caught(reason)
  }
}
/** The parts by which an engine is known from two metres. */
const drawn = computed(() => {
  const seen = new Set<string>()
  return (page.value?.joints ?? []).filter((joint) => !seen.has(joint.drawing.id) && seen.add(joint.drawing.id))
})
const inch = computed(() => lengthUnit.value === 'in' || lengthUnit.value === 'thou')
const size = (key: 'bore_mm' | 'spacing_mm') =>
  computed({
    get: () => (inch.value ? Number((engine.value[key] / 25.4).toFixed(4)) : engine.value[key]),
    set: (value) => (engine.value[key] = Number(value) * (inch.value ? 25.4 : 1)),
  })
const [bore, spacing] = [size('bore_mm'), size('spacing_mm')]
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <RouterLink class="way-back hover:underline" to="/plans">{{ t('common-plans') }}</RouterLink>
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-new-plan') }}</h1>
    <div class="mt-4 grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,25rem)_minmax(0,1fr)]">
      <form class="grid content-start gap-4" @submit.prevent="begin">
        <label
          ><span class="label-text">{{ t('common-name') }}</span
          ><input
            v-model="engine.name"
            class="field mt-1 text-xl"
            name="name"
            autocomplete="off"
            :placeholder="t('plans-my-engine')"
            :aria-invalid="!!wrong.name"
          /><span v-if="wrong.name" class="font-semibold text-wrong" role="alert">{{ wrong.name }}</span></label
        >
        <div class="grid gap-3 sm:grid-cols-[1fr_9rem]">
          <TextField v-model="engine.about" :label="t('plans-description-optional')" name="about" />
          <label
            ><span class="label-text">{{ t('common-clearances-for-2') }}</span
            ><select v-model="engine.used_for" class="field mt-1" name="used_for">
              <option v-for="(name, key) in uses" :key="key" :value="key">{{ name }}</option>
            </select></label
          >
        </div>
        <fieldset>
          <legend class="label-text">{{ t('plans-layout') }}</legend>
          <div class="mt-1 grid grid-cols-3 gap-2">
            <button
              v-for="(name, key) in layouts"
              :key="key"
              type="button"
              class="key"
              :class="engine.layout === key && 'key-main'"
              :aria-pressed="engine.layout === key"
              :data-test="`layout-${key}`"
              @click="stand(key)"
            >
              {{ name }}
            </button>
          </div>
        </fieldset>
        <div class="grid grid-cols-3 gap-3">
          <label
            ><span class="label-text">{{ t('plans-cylinders') }}</span
            ><select v-model="engine.cylinders" class="field mt-1" name="cylinders">
              <option v-for="count in counts" :key="count" :value="count">{{ count }}</option>
            </select></label
          >
          <label>
            <span class="label-text">{{ t('plans-bore', { unit: inch ? 'in' : 'mm' }) }}</span>
            <input
              v-model="bore"
              class="field mt-1"
              name="bore"
              inputmode="decimal"
              autocomplete="off"
              :aria-invalid="!!wrong.bore_mm"
            />
          </label>
          <label>
            <span class="label-text">{{ t('plans-bore-spacing', { unit: inch ? 'in' : 'mm' }) }}</span>
            <input
              v-model="spacing"
              class="field mt-1"
              name="spacing"
              inputmode="decimal"
              autocomplete="off"
              :aria-invalid="!!wrong.spacing_mm"
            />
          </label>
        </div>
        <p
          v-for="key in ['bore_mm', 'spacing_mm', 'cylinders', 'v_angle_deg'].filter((key) => wrong[key])"
          :key="key"
          class="font-semibold text-wrong"
          role="alert"
        >
          {{ wrong[key] }}
        </p>
        <div v-if="engine.layout === 'v'" class="grid grid-cols-2 gap-3">
          <label
            ><span class="label-text">{{ t('plans-v-angle') }}</span
            ><input v-model.number="engine.v_angle_deg" class="field mt-1" name="v_angle" inputmode="decimal"
          /></label>
          <label
            ><span class="label-text">{{ t('plans-rods-of-a-pair') }}</span
            ><select v-model="engine.pins" class="field mt-1" name="pins">
              <option value="shared">{{ t('plans-share-a-crankpin') }}</option>
              <option value="own">{{ t('plans-have-a-crankpin-each') }}</option>
            </select></label
          >
        </div>
        <div class="grid grid-cols-2 gap-3">
          <label
            ><span class="label-text">{{ t('plans-main-cap-bolts') }}</span
            ><select v-model="engine.main_bolts" class="field mt-1" name="main_bolts">
              <option :value="2">{{ t('plans-two-per-cap') }}</option>
              <option :value="4">{{ t('plans-four-per-cap') }}</option>
            </select></label
          >
          <label
            ><span class="label-text">{{ t('plans-main-caps') }}</span
            ><select v-model="engine.caps" class="field mt-1" name="caps">
              <option v-for="(name, key) in caps" :key="key" :value="key">{{ name }}</option>
            </select></label
          >
          <label
            ><span class="label-text">{{ t('plans-rod-cap-fasteners') }}</span
            ><select v-model="engine.rods" class="field mt-1" name="rods">
              <option v-for="(name, key) in rods" :key="key" :value="key">{{ name }}</option>
            </select></label
          >
          <label
            ><span class="label-text">{{ t('plans-rows-of-head-bolts') }}</span
            ><select v-model="engine.head_rows" class="field mt-1" name="head_rows">
              <option v-for="rows in [2, 3, 4]" :key="rows" :value="rows">{{ rows }}</option>
            </select></label
          >
          <label class="col-span-2"
            ><span class="label-text">{{ t('plans-camshafts') }}</span
            ><select v-model="engine.cams" class="field mt-1" name="cams">
              <option v-for="(name, key) in cams" :key="key" :value="key">{{ name }}</option>
            </select></label
          >
        </div>
        <fieldset>
          <legend class="label-text">{{ t('plans-options') }}</legend>
          <div class="grid grid-cols-2 gap-x-3">
            <label class="flex min-h-11 items-center gap-2"
              ><input v-model="engine.main_studs" type="checkbox" class="size-5" name="main_studs" />
              {{ t('plans-studs-in-the-mains') }}</label
            >
            <label class="flex min-h-11 items-center gap-2"
              ><input v-model="engine.head_studs" type="checkbox" class="size-5" name="head_studs" />
              {{ t('plans-studs-in-the-heads') }}</label
            >
            <label v-for="(name, key) in shownExtras" :key="key" class="flex min-h-11 items-center gap-2"
              ><input
                type="checkbox"
                class="size-5"
                :name="key"
                :checked="engine.has.includes(key)"
                @change="toggle(key)"
              />
              {{ name }}</label
            >
          </div>
        </fieldset>
        <ErrorText :text="error" />
        <button class="key key-main" data-test="begin-plan">{{ t('plans-create-plan') }}</button>
        <p class="text-dim">
          {{ t('plans-the-plan-starts-with-drawings-fasteners') }}
        </p>
      </form>
      <section class="grid min-w-0 content-start gap-5" :aria-label="t('common-preview')" data-test="shape">
        <figure v-for="joint in drawn" :key="joint.drawing.id">
          <figcaption class="label-text">{{ joint.drawing.name }}</figcaption>
          <PartDrawing :drawing="joint.drawing" :groups="joint.groups" />
        </figure>
        <p v-if="page" class="text-dim">
          {{
            t('plans-joints-steps-of-work-specs-to', {
              joints: page.joints.length,
              steps: page.line.length,
              specs: page.open.length,
            })
          }}
        </p>
      </section>
    </div>
  </main>
</template>
