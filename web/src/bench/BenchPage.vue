<script setup lang="ts">
// The one operation in hand.
import { computed, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refused } from '../api/client'
import { useLive } from '../api/live'
import { send, type Do } from '../api/outbox'
import { useBench } from '../api/queries'
import { vFocus } from '../ui/focus'
import SheetDialog from '../ui/SheetDialog.vue'
import { when } from '../ui/units'
import ReasonDialog from '../ui/ReasonDialog.vue'
import VoidButton from '../ui/VoidButton.vue'
import BenchCount from './BenchCount.vue'
import BenchItems from './BenchItems.vue'
import BenchMeasure from './BenchMeasure.vue'
import BenchParts from './BenchParts.vue'
import BenchTighten from './BenchTighten.vue'
import BenchTurn from './BenchTurn.vue'
import MatterList from './MatterList.vue'

const route = useRoute()
const router = useRouter()
const build = computed(() => String(route.params.build))
const operation = computed(() => String(route.params.operation))
const { data: bench, error, refetch } = useBench(build, operation)
const { live } = useLive(build)
const refusal = ref('')
const busy = ref(false)
const help = ref(false)

const status = computed(() => bench.value?.operation.status)
const tighten = computed(() => (bench.value?.work.work === 'tighten' ? bench.value.work : null))
const measure = computed(() => (bench.value?.work.work === 'measure' ? bench.value.work : null))
const parts = computed(() => (bench.value?.work.work === 'parts' ? bench.value.work.slots : null))
const counts = computed(() => (bench.value?.work.work === 'count' ? bench.value.work.counts : null))
const turning = computed(() => (bench.value?.work.work === 'turn' ? bench.value.work : null))
const items = computed(() => (bench.value?.work.work === 'items' ? bench.value.work.items : null))
const signable = computed(
  () => status.value === 'to-sign' || (bench.value?.work.work === 'sign' && ['ready', 'in-work'].includes(status.value ?? '')),
)

/** Records something; true when it was. What was refused is said, and nothing is lost. */
async function act(what: Do, seen = bench.value?.seq): Promise<boolean> {
  if (seen === undefined || busy.value) return false
  busy.value = true
  refusal.value = ''
  try {
    await send(build.value, seen, what)
    await refetch()
    return true
  } catch (caught) {
    refusal.value = caught instanceof Refused ? caught.message : String(caught)
    await refetch()
    return false
  } finally {
    busy.value = false
  }
}

async function sign() {
  if ((await act({ type: 'sign', operation: operation.value })) && bench.value) {
    const next = bench.value.after
    await router.push(next ? `/engines/${build.value}/bench/${next}` : `/engines/${build.value}/sheet`)
  }
}

const skipping = ref(false)

async function skip(reason: string) {
  skipping.value = false
  await act({ type: 'skip', operation: operation.value, reason })
}

watch(operation, () => (refusal.value = ''))

function onKey(event: KeyboardEvent) {
  if (help.value || event.ctrlKey || event.metaKey || event.altKey) return
  const target = event.target as HTMLElement
  const typing = target instanceof HTMLInputElement && target.value !== ''
  if (event.key === '?' && !typing) {
    event.preventDefault()
    help.value = true
  }
  const onControl = target.closest('button, a, select, [role=dialog]')
  if (event.key === 'Enter' && signable.value && !onControl && !typing) void sign()
}
window.addEventListener('keydown', onKey)
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <main class="mx-auto flex w-full max-w-[100rem] flex-col px-4 pt-2 pb-4">
    <p v-if="error && !bench" class="py-8">{{ error.message }}</p>
    <template v-if="bench">
      <div class="flex flex-wrap items-baseline gap-x-4 border-b-2 border-ink pb-1">
        <RouterLink :to="`/engines/${build}`" class="text-dim underline-offset-4 hover:underline">{{ bench.build }}</RouterLink>
        <h1 class="text-2xl font-semibold">{{ bench.operation.name }}</h1>
        <span v-if="bench.operation.total" class="text-lg" data-test="progress">
          {{ bench.operation.done }} of {{ bench.operation.total }}
        </span>
        <p
          v-for="caution in bench.operation.cautions"
          :key="caution"
          class="flex items-center gap-2 text-dim"
        >
          <svg viewBox="0 0 24 24" class="size-5 shrink-0" aria-hidden="true">
            <path d="M12 3 22 21H2z" fill="none" stroke="currentColor" stroke-width="2" />
            <path d="M12 10v5m0 2v1.5" stroke="currentColor" stroke-width="2" />
          </svg>
          {{ caution }}
        </p>
        <button class="ml-auto p-2 text-dim max-sm:hidden" aria-label="Shortcuts" @click="help = true">?</button>
      </div>

      <p v-if="status === 'waiting'" class="mt-3 text-lg">
        Waits for {{ bench.operation.waits_for.join(' and ') }}.
        <template v-if="tighten">What is pulled now is recorded as a deviation.</template>
        <template v-else>What is recorded now is kept; it can be signed when that is done.</template>
      </p>
      <p v-if="refusal" role="alert" class="mt-3 border-l-4 border-wrong pl-3 text-lg font-medium text-wrong" data-test="refusal">
        {{ refusal }}
      </p>
      <MatterList v-if="bench.matters.length" :matters="bench.matters" :act="act" />

      <BenchTighten
        v-if="tighten"
        :bench="bench"
        :work="tighten"
        :build="build"
        :live="live?.operation === operation ? live : null"
        :busy="busy"
        :act="act"
        @refused="refusal = $event"
        @refresh="refetch()"
      />
      <BenchMeasure
        v-if="measure"
        :bench="bench"
        :work="measure"
        :build="build"
        :busy="busy"
        :act="act"
        @refused="refusal = $event"
        @refresh="refetch()"
      />
      <BenchParts v-if="parts" :bench="bench" :slots="parts" :busy="busy" :act="act" />
      <BenchCount v-if="counts" :bench="bench" :counts="counts" :busy="busy" :act="act" />
      <BenchTurn v-if="turning" :bench="bench" :work="turning" :busy="busy" :act="act" />
      <BenchItems v-if="items" :bench="bench" :items="items" :busy="busy" :act="act" />

      <div v-if="signable" class="mt-4 flex flex-wrap items-center gap-4">
        <button class="key key-main min-h-16 grow px-8 text-2xl sm:grow-0" :disabled="busy" v-focus data-test="sign" @click="sign">
          Sign {{ bench.operation.name.charAt(0).toLowerCase() + bench.operation.name.slice(1) }}
        </button>
        <span class="text-dim">Enter signs</span>
      </div>
      <div v-else-if="bench.operation.signed_by" class="mt-4 flex flex-wrap items-center gap-4">
        <p class="text-lg">
          {{ bench.operation.skipped ? 'Left out' : 'Signed' }} by {{ bench.operation.signed_by?.name }},
          {{ when(bench.operation.signed_at) }}<template v-if="bench.operation.skipped">: {{ bench.operation.skipped }}</template>.
        </p>
        <VoidButton
          v-if="bench.operation.signed_seq"
          :seq="bench.operation.signed_seq"
          :about="bench.operation.name"
          :act="act"
          :label="bench.operation.skipped ? 'Do it after all' : 'Take the signature back'"
          :usual="['Signed too early', 'Has to be done again']"
        />
        <RouterLink v-if="bench.after" class="key key-main" :to="`/engines/${build}/bench/${bench.after}`">
          Next operation
        </RouterLink>
        <RouterLink v-else class="key key-main" :to="`/engines/${build}/sheet`">Build sheet</RouterLink>
      </div>
    </template>

    <div v-if="bench && !bench.operation.signed_by && bench.work.work !== 'sign'" class="mt-auto pt-6">
      <button class="text-dim underline underline-offset-2" @click="skipping = true">Leave this operation out</button>
    </div>
    <ReasonDialog
      :open="skipping"
      title="Leave this operation out"
      about="It stands on the build sheet as left out, with your name and the reason. A lead has to stand for it before the engine is signed off."
      action="Leave it out"
      :usual="[]"
      @close="skipping = false"
      @reason="skip"
    />
    <SheetDialog :open="help" title="Keys at the bench" @close="help = false">
      <dl class="mt-4 grid grid-cols-[6rem_1fr] gap-y-2">
        <dt class="font-semibold">0 to 9, Enter</dt>
        <dd>record a reading; a unit may follow the number</dd>
        <dt class="font-semibold">Esc</dt>
        <dd>clear a reading that is not recorded yet</dd>
        <dt class="font-semibold">Enter</dt>
        <dd>confirm what is next, or sign</dd>
        <dt class="font-semibold">W</dt>
        <dd>pull with the simulated wrench</dd>
        <dt class="font-semibold">Y</dt>
        <dd>why this number</dd>
        <dt class="font-semibold">V</dt>
        <dd>void the last pull</dd>
        <dt class="font-semibold">?</dt>
        <dd>these keys</dd>
      </dl>
      <button class="key mt-6" @click="help = false">Close</button>
    </SheetDialog>
  </main>
</template>
