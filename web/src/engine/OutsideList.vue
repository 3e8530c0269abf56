<script setup lang="ts">
// What the engine waits for outside of the bench, and the day it was promised for.
import { computed, reactive, ref } from 'vue'
import type { Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import ReasonDialog from '../ui/ReasonDialog.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import { day, when } from '../ui/units'
import DialogActions from '../ui/DialogActions.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ engine: Schemas['BuildView']; act: (what: CommandAction) => Promise<string> }>()
type Kind = Schemas['BlockerKind']
const kinds: Record<Kind, { button: string; title: string; what: string; like: string; over: string; state: string }> =
  {
    order: {
      button: t('engine-add-order'),
      title: t('engine-on-order'),
      what: t('engine-what'),
      like: t('engine-main-shells-second-undersize'),
      over: t('engine-arrived'),
      state: t('common-on-order'),
    },
    away: {
      button: t('engine-add-part-sent-away'),
      title: t('engine-sent-away'),
      what: t('engine-what-and-where-to'),
      like: t('engine-block-at-the-machine-shop'),
      over: t('common-back'),
      state: t('common-away'),
    },
    hold: {
      button: t('engine-put-on-hold'),
      title: t('engine-on-hold'),
      what: t('engine-why'),
      like: t('engine-customer-to-decide-about-the-cams'),
      over: t('engine-end-hold'),
      state: t('common-on-hold'),
    },
  }
const adding = ref<Kind>()
const form = reactive({ what: '', slot: '', operation: '', expected: '' })
const promising = ref(false)
const promise = reactive({ by: '', note: '' })
const voiding = ref<{ seq: number; what: string }>()
const error = ref('')
const open = computed(() => props.engine.waits.filter((wait) => !wait.over_at))
const past = computed(() => props.engine.waits.filter((wait) => wait.over_at))
const missing = computed(() => props.engine.parts.filter((slot) => !slot.part))
const left = computed(() => props.engine.operations.filter((of) => of.status !== 'done'))

function begin(kind: Kind) {
  Object.assign(form, { what: '', slot: '', operation: '', expected: '' })
  error.value = ''
  adding.value = kind
}
async function add() {
  const { what, slot, operation, expected } = form
  error.value = await props.act({
    type: 'await',
    kind: adding.value!,
    what,
    slot: slot || null,
    operation: operation || null,
    expected: expected || null,
  })
  if (!error.value) adding.value = undefined
}
function ask() {
  Object.assign(promise, { by: props.engine.promised?.by ?? '', note: '' })
  error.value = ''
  promising.value = true
}
async function keep() {
  error.value = await props.act({ type: 'promise', by: promise.by, note: promise.note })
  if (!error.value) promising.value = false
}
async function over(seq: number) {
  error.value = await props.act({ type: 'end-wait', seq })
}
async function undo(reason: string) {
  const { seq } = voiding.value!
  voiding.value = undefined
  error.value = await props.act({ type: 'void', seq, reason })
}
</script>

<template>
  <section aria-labelledby="outside" data-test="outside">
    <h2 id="outside" class="border-b border-ink pb-1 text-xl font-semibold">{{ t('engine-due-dates-and-holds') }}</h2>
    <p class="flex flex-wrap items-baseline gap-x-3 py-1">
      <span v-if="engine.promised" data-test="promised-for"
        >{{ t('common-due') }} <span class="font-semibold text-layout">{{ day(engine.promised.by) }}</span><span
          v-if="engine.promised.note"
          class="text-dim"
          >, {{ engine.promised.note }}</span
        ></span
      >
      <span v-else class="text-dim">{{ t('engine-no-due-date') }}</span>
      <button class="quiet-key py-1" data-test="promise" @click="ask">
        {{ engine.promised ? t('engine-change-due-date') : t('engine-set-due-date') }}
      </button>
      <button
        v-if="engine.promised"
        class="quiet-key py-1"
        @click="voiding = { seq: engine.promised.seq, what: t('engine-the-due-date') }"
      >
        {{ t('common-void') }}
      </button>
    </p>
    <ul>
      <li v-for="wait in open" :key="wait.seq" class="border-t border-rule py-2">
        <p>
          <span class="font-semibold">{{ wait.what }}</span>, {{ kinds[wait.kind].state
          }}<template v-if="wait.expected">{{ t('engine-expected', { time: day(wait.expected) }) }}</template>
        </p>
        <p class="text-dim">
          {{
            wait.holds.length
              ? t('engine-holds', { holds: wait.holds.join(', ') })
              : wait.slot
                ? t('engine-for-2', { slot: wait.slot })
                : t('engine-holds-the-whole-engine')
          }}. {{ wait.by }}, {{ when(wait.at) }}
        </p>
        <div class="mt-1 flex gap-3">
          <button class="key min-h-11 py-1" :data-test="`over-${wait.seq}`" @click="over(wait.seq)">
            {{ kinds[wait.kind].over }}
          </button>
          <button class="quiet-key" @click="voiding = { seq: wait.seq, what: wait.what }">
            {{ t('common-void') }}
          </button>
        </div>
      </li>
    </ul>
    <div class="mt-1 flex flex-wrap gap-x-4">
      <button
        v-for="(words, kind) in kinds"
        :key="kind"
        class="quiet-key py-1"
        :data-test="`await-${kind}`"
        @click="begin(kind)"
      >
        {{ words.button }}
      </button>
    </div>
    <details v-if="past.length" class="mt-1">
      <summary class="cursor-pointer text-dim">{{ t('engine-ended', { count: past.length }) }}</summary>
      <p v-for="wait in past" :key="wait.seq" class="py-0.5 text-dim">
        {{
          t('engine-since-ended', {
            what: wait.what,
            state: kinds[wait.kind].state,
            time: when(wait.at),
            ended: when(wait.over_at),
            over_by: wait.over_by,
          })
        }}
      </p>
    </details>
    <p v-if="error && !adding && !promising" role="alert" class="font-semibold text-wrong">{{ error }}</p>

    <SheetDialog v-if="adding" open :title="kinds[adding].title" @close="adding = undefined">
      <form class="mt-3 grid gap-3" @submit.prevent="add">
        <TextField
          v-model="form.what"
          :label="kinds[adding].what"
          name="waits-what"
          :placeholder="kinds[adding].like"
        />
        <label v-if="adding === 'order' && missing.length"
          ><span class="label-text">{{ t('engine-part-if-listed') }}</span>
          <select v-model="form.slot" class="field mt-1" name="waits-slot">
            <option value="">{{ t('engine-not-listed') }}</option>
            <option v-for="slot in missing" :key="slot.id" :value="slot.id">{{ slot.name }}</option>
          </select></label
        >
        <label v-if="adding !== 'hold' && !form.slot"
          ><span class="label-text">{{ t('engine-work-that-waits-for-it') }}</span>
          <select v-model="form.operation" class="field mt-1" name="waits-operation">
            <option value="">{{ t('engine-whole-engine') }}</option>
            <option v-for="of in left" :key="of.id" :value="of.id">{{ of.name }}</option>
          </select></label
        >
        <TextField
          v-model="form.expected"
          :label="adding === 'hold' ? t('engine-until-optional') : t('engine-expected-optional')"
          name="waits-expected"
          type="date"
        />
        <DialogActions :action="t('common-save')" :error="error" test="keep-wait" @close="adding = undefined" />
      </form>
    </SheetDialog>
    <SheetDialog v-if="promising" open :title="t('engine-due-date')" @close="promising = false">
      <form class="mt-3 grid gap-3" @submit.prevent="keep">
        <TextField v-model="promise.by" :label="t('engine-ready-by')" name="promise-by" type="date" required />
        <TextField v-model="promise.note" :label="t('engine-note-for-whom-or-why-it')" name="promise-note" />
        <DialogActions :action="t('common-save')" :error="error" test="keep-promise" @close="promising = false" />
      </form>
    </SheetDialog>
    <ReasonDialog
      :open="!!voiding"
      :title="t('common-void')"
      :about="voiding?.what ?? ''"
      :action="t('common-void')"
      :usual="[t('common-entered-by-mistake'), t('engine-wrong-engine')]"
      @close="voiding = undefined"
      @reason="undo"
    />
  </section>
</template>
