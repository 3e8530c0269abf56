<script setup lang="ts">
// A step of the line of work: what it is called and what is done in it, changed where it stands; taken out, or another
// one put in behind it.
import { computed, reactive, ref } from 'vue'
import type { Schemas } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import ErrorText from '../ui/ErrorText.vue'
import KeptField from './KeptField.vue'
import { freeKey, withUnit } from './written'
import type { Edit } from './useDraft'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{
  row: Schemas['LineRow']
  page: Schemas['PlanPage']
  uses: string[]
  change: (edits: Edit[]) => Promise<string>
}>()
const emit = defineEmits<{ close: [] }>()
const error = ref('')
const adding = ref(false)
/** The step as it is now: it is drawn anew with every change. */
const now = computed(() => props.page.line.find((of) => of.path === props.row.path) ?? props.row)
const set = (path: string, value: unknown): Edit => ({ type: 'set', path: `${props.row.path}.${path}`, value })
const kept = (path: string) => (text: string) => props.change([set(path, text)])
const fields = { text: t('plans-instruction'), right: t('common-right'), wrong: t('plans-wrong') } as const
const items = computed(() => {
  const written = now.value.written
  return Object.keys(written)
    .filter((key) => /^item\[\d+\]\.id$/.test(key))
    .map((key) => key.replace('.id', ''))
})
async function give(edits: Edit[], close = false) {
  error.value = await props.change(edits)
  if (!error.value && close) emit('close')
}
const item = (key: string, text: string, right: string, wrong: string) => ({
  id: key,
  text,
  ...(right ? { right } : {}),
  ...(wrong ? { wrong } : {}),
})
function moreItem() {
  const taken = items.value.map((path) => now.value.written[`${path}.id`]!)
  return give([set(`item[${items.value.length}]`, item(freeKey('look', taken), t('plans-look-at'), '', ''))])
}

const kinds = { do: t('plans-do'), measure: t('plans-measure-3'), turn: t('plans-turn-the-crankshaft') } as const
const forms: Partial<Record<Schemas['SiteForm'], string>> = {
  gap: t('plans-a-gap'),
  bore: t('plans-a-hole'),
  journal: t('plans-a-shaft'),
  length: t('plans-a-length'),
  deck: t('plans-a-piston-below-the-deck'),
  ring: t('plans-a-ring-gap'),
  chamber: t('plans-a-volume'),
  angle: t('plans-an-angle'),
  torque: t('plans-a-torque'),
  pressure: t('plans-a-pressure'),
  temperature: t('plans-a-temperature'),
  mass: t('plans-a-mass'),
  count: t('plans-a-count'),
}
const example: Partial<Record<Schemas['SiteForm'], string>> = {
  chamber: '48 cm³, 48.5 cm³, 49 cm³',
  angle: '20°, 24°, 28°',
  torque: '1 N·m, 2 N·m, 4 N·m',
  pressure: '3 bar, 4 bar, 5 bar',
  temperature: '15 °C, 20 °C, 25 °C',
  mass: '610 g, 612 g, 614 g',
  count: '50, 51, 52',
}
const form = reactive({
  kind: 'do' as keyof typeof kinds,
  name: '',
  text: '',
  right: '',
  wrong: '',
  what: '',
  of: 'gap' as Schemas['SiteForm'],
  count: 1,
  window: '',
  suspect: '',
})
const q = (text: string) => JSON.stringify(text.trim())
async function add() {
  const name =
    form.name.trim() ||
    (form.kind === 'measure' && form.what.trim() ? t('plans-measure-2', { what: form.what.trim() }) : '')
  if (!name) return void (error.value = t('plans-enter-a-name'))
  if (form.kind === 'measure' && !form.what.trim()) return void (error.value = t('plans-enter-what-is-measured'))
  if (form.kind === 'do' && !form.text.trim()) return void (error.value = t('plans-enter-the-instruction'))
  const known = [...props.page.line.map((of) => of.id), ...props.page.clearances.map((of) => of.id)]
  const id = freeKey(name, known)
  const head = `[[operation]]\nid = ${q(id)}\nname = ${q(name)}\n`
  const text = {
    do: () =>
      `${head}kind = "check"\nitem = [\n` +
      `  { id = "look", text = ${q(form.text)}, right = ${q(form.right)}, wrong = ${q(form.wrong)} },\n]\n`,
    turn: () =>
      `${head}kind = "turn"\nsuspect = ${q(form.suspect || props.row.name.toLowerCase())}\n` +
      `cautions = ["Fingers out of a rotating assembly."]\n`,
    measure: () => {
      const key = freeKey(form.what, known)
      const count = form.count > 1 ? `count = ${form.count}\n` : ''
      const site = `[[site]]\nid = ${q(key)}\nname = ${q(form.what)}\nform = "${form.of}"\n${count}`
      const window = `window = { ${props.uses[0]} = "?" }\n`
      const clearance = `[[clearance]]\nid = ${q(key)}\nname = ${q(form.what)}\nplus = ${q(key)}\n${window}`
      return `${site}\n${clearance}\n${head}kind = "measure"\nsites = [${q(key)}]\n`
    },
  }[form.kind]()
  const edits: Edit[] = [{ type: 'insert', after: props.row.path.replace(/\.step\[\d+\]$/, ''), text }]
  if (form.kind === 'measure' && form.window.trim())
    edits.push({
      type: 'look-up',
      path: `clearance[${props.page.clearances.length}].window.${props.uses[0]}`,
      text: withUnit(form.window, form.of in example ? undefined : 'clearance'),
    })
  await give(edits, true)
}
</script>

<template>
  <SheetDialog open :title="adding ? t('plans-add-step-after-2', { now: now.name }) : now.name" @close="emit('close')">
    <form v-if="adding" class="mt-3 grid gap-3" @submit.prevent="add">
      <div class="grid grid-cols-3 gap-2">
        <button
          v-for="(name, key) in kinds"
          :key="key"
          type="button"
          class="key"
          :class="form.kind === key && 'key-main'"
          :aria-pressed="form.kind === key"
          :data-test="`step-${key}`"
          @click="form.kind = key"
        >
          {{ name }}
        </button>
      </div>
      <template v-if="form.kind === 'measure'">
        <TextField
          v-model="form.what"
          :label="t('plans-measurement')"
          name="step-what"
          :placeholder="t('plans-crankshaft-runout')"
        />
        <div class="grid grid-cols-2 gap-3">
          <label
            ><span class="label-text">{{ t('common-kind') }}</span
            ><select v-model="form.of" class="field mt-1" name="step-form">
              <option v-for="(name, key) in forms" :key="key" :value="key">{{ name }}</option>
            </select></label
          >
          <label
            ><span class="label-text">{{ t('plans-number-of-places') }}</span
            ><input v-model.number="form.count" class="field mt-1" name="step-count" inputmode="numeric"
          /></label>
        </div>
        <label
          ><span class="label-text">{{ t('plans-limits-for-such-as-0-03', { uses: uses[0] }) }}</span
          ><input
            v-model="form.window"
            class="field mt-1"
            name="step-window"
            autocomplete="off"
            :placeholder="example[form.of] ?? t('plans-0-01-0-02-0-04')"
        /></label>
      </template>
      <TextField
        v-model="form.name"
        :label="t('plans-name-of-the-step')"
        name="step-name"
        :placeholder="form.kind === 'measure' ? t('plans-measure-2', { what: form.what || '…' }) : ''"
      />
      <template v-if="form.kind === 'do'">
        <TextField v-for="(name, key) in fields" :key="key" v-model="form[key]" :label="name" :name="`step-${key}`" />
      </template>
      <TextField
        v-if="form.kind === 'turn'"
        v-model="form.suspect"
        :label="t('plans-check-this-if-it-binds')"
        name="step-suspect"
        :placeholder="row.name.toLowerCase()"
      />
      <ErrorText :text="error" />
      <div class="flex justify-end gap-3">
        <button type="button" class="key" @click="adding = false">{{ t('common-back') }}</button><button
          class="key key-main"
          data-test="keep-step"
        >
          {{ t('plans-add-step') }}
        </button>
      </div>
    </form>
    <div v-else class="-mx-2 mt-3 grid max-h-[78dvh] gap-3 overflow-y-auto px-2">
      <label
        ><span class="label-text">{{ t('common-name') }}</span
        ><KeptField class="field mt-1" name="step-title" :value="now.name" :keep="kept('name')"
      /></label>
      <fieldset v-for="path in items" :key="path" class="grid gap-1 border-t border-rule pt-2">
        <label v-for="(name, key) in fields" :key="key" class="grid items-baseline gap-x-3 sm:grid-cols-[11rem_1fr]"
          ><span class="label-text">{{ name }}</span
          ><KeptField
            class="line-field w-full"
            :value="now.written[`${path}.${key}`] ?? ''"
            :name="`${path}.${key}`"
            :keep="kept(`${path}.${key}`)"
        /></label>
        <button
          v-if="items.length > 1"
          type="button"
          class="quiet-key min-h-11 justify-self-end"
          :aria-label="t('plans-remove-2', { written: now.written[`${path}.text`] })"
          @click="give([{ type: 'remove', path: `${row.path}.${path}` }])"
        >
          {{ t('plans-remove-item') }}
        </button>
      </fieldset>
      <button
        v-if="items.length"
        type="button"
        class="quiet-key min-h-11 justify-self-start"
        data-test="more-item"
        @click="moreItem"
      >
        {{ t('plans-add-item') }}
      </button>
      <p v-if="!items.length && now.steps.length" class="text-dim">{{ now.steps.join(' · ') }}</p>
      <ErrorText :text="error" />
      <div class="sticky bottom-0 flex flex-wrap justify-end gap-3 bg-face pt-2">
        <button
          v-if="row.kind !== 'sign'"
          type="button"
          class="key mr-auto"
          data-test="take-step-out"
          @click="give([{ type: 'take-out', path: row.path }], true)"
        >
          {{ t('plans-remove-step') }}
        </button>
        <button v-if="row.kind !== 'sign'" type="button" class="key" data-test="step-after" @click="adding = true">
          {{ t('plans-add-step-after') }}
        </button>
        <button type="button" class="key key-main" data-test="step-done" @click="emit('close')">
          {{ t('common-done') }}
        </button>
      </div>
    </div>
  </SheetDialog>
</template>
