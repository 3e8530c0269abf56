<script setup lang="ts">
// Many instruments at once, pasted from a spreadsheet: read row by row, looked over, and then added.
import { computed, ref } from 'vue'
import { api, Refused, take } from '../api/client'
import DialogActions from '../ui/DialogActions.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import { COLUMNS, headings, pastedInstruments } from './pastedInstruments'
import { t } from './texts'

const emit = defineEmits<{ close: []; kept: [] }>()
const text = ref('')
const rows = computed(() => pastedInstruments(text.value))
const ready = computed(() => rows.value.filter((row) => row.instrument))
const done = ref(0)
const busy = ref(false)
const error = ref('')

/** Adds them one after the other. Those that were refused stay in the field, with why. */
async function add() {
  busy.value = true
  error.value = ''
  const left: string[] = []
  for (const row of rows.value) {
    const line = COLUMNS.map((column) => row.cells[column]).join('\t')
    if (!row.instrument) {
      left.push(line)
      continue
    }
    try {
      take(await api.POST('/api/instruments', { body: { instrument: row.instrument, active: true } }))
      done.value += 1
    } catch (caught) {
      left.push(line)
      const why = caught instanceof Refused ? caught.message : t('people-no-connection')
      error.value ||= t('people-it-is-still-here', { name: row.cells.name, why })
    }
  }
  busy.value = false
  text.value = left.join('\n')
  if (!left.length) emit('kept')
}
</script>

<template>
  <SheetDialog open wide :title="t('people-paste-instruments')" @close="done ? emit('kept') : emit('close')">
    <form class="mt-3 grid max-h-[78dvh] gap-3 overflow-y-auto" @submit.prevent="add">
      <label
        ><span class="label-text">{{
          t('people-rows-from-a-spreadsheet', { columns: COLUMNS.map((column) => headings[column]).join(', ') })
        }}</span
        ><textarea
          v-model="text"
          class="field mt-1 min-h-36 font-mono text-base"
          name="pasted-instruments"
          spellcheck="false"
        />
      </label>
      <p class="text-dim">
        {{ t('people-a-first-row-with-headings-tells') }}
      </p>
      <ScrollBox v-if="rows.length" :label="t('people-instruments-read')">
        <table class="w-full text-left" data-test="pasted-rows">
          <thead class="text-dim">
            <tr class="border-b border-ink">
              <th v-for="column in COLUMNS" :key="column" scope="col" class="pr-3 font-normal">
                {{ headings[column] }}
              </th>
              <th scope="col" class="font-normal">{{ t('people-read') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, at) in rows" :key="at" class="border-b border-rule align-baseline">
              <td v-for="column in COLUMNS" :key="column" class="py-1 pr-3">{{ row.cells[column] }}</td>
              <td :class="row.wrong && 'font-semibold text-wrong'">
                {{ row.wrong ? `▲ ${row.wrong}` : t('common-ok') }}
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
      <p v-if="busy || done" role="status">
        {{ t('people-added', { done, count: busy ? t('people-of', { count: ready.length + done }) : '' }) }}
      </p>
      <DialogActions
        :action="t('people-add', { count: ready.length })"
        :error="error"
        :disabled="busy || !ready.length"
        test="add-pasted"
        @close="done ? emit('kept') : emit('close')"
      />
    </form>
  </SheetDialog>
</template>
