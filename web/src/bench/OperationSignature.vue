<script setup lang="ts">
// The signature under an operation: the key to sign when all is done, or who signed.
import { vFocus } from '../ui/focus'
import { when } from '../ui/units'
import VoidButton from './VoidButton.vue'
import { useHand } from './hand'

const emit = defineEmits<{ sign: [] }>()
const { build, bench, busy } = useHand()
const inSentence = (name: string) => name.charAt(0).toLowerCase() + name.slice(1)
</script>

<template>
  <div v-if="bench.operation.status === 'to-sign'" class="mt-4 flex flex-wrap items-center gap-4">
    <button
      v-focus
      class="key key-main min-h-16 grow px-8 text-2xl sm:grow-0"
      :disabled="busy"
      data-test="sign"
      @click="emit('sign')"
    >
      {{
        bench.goes_on
          ? 'Continue'
          : bench.sign_with.length
            ? `Sign ${bench.sign_with.length + 1} as one`
            : `Sign ${inSentence(bench.operation.name)}`
      }}
    </button>
    <span class="text-dim">{{
      bench.goes_on
        ? `Enter continues; ${inSentence(bench.operation.member?.name ?? '')} are signed as one`
        : 'Enter signs'
    }}</span>
    <p v-if="!bench.goes_on && bench.sign_with.length" class="w-full text-dim">
      {{ [bench.operation.name, ...bench.sign_with.map((other) => other.name)].join(', ') }}
    </p>
  </div>
  <div v-else-if="bench.operation.signed_by" class="mt-4 flex flex-wrap items-center gap-4">
    <p class="text-lg">
      {{ bench.operation.skipped ? 'Skipped' : 'Signed' }} by {{ bench.operation.signed_by.name }},
      {{ when(bench.operation.signed_at)
      }}<template v-if="bench.operation.skipped">: {{ bench.operation.skipped }}</template
      ><template v-if="bench.operation.signed_with.length"
        >, as one with {{ bench.operation.signed_with.length }} others</template
      >.
    </p>
    <VoidButton
      v-if="bench.operation.signed_seq"
      :seq="bench.operation.signed_seq"
      :about="bench.operation.name"
      :label="bench.operation.skipped ? 'Do it after all' : 'Take back signature'"
      :usual="['Signed too early', 'To be done again']"
    />
    <RouterLink v-if="bench.after" class="key key-main" :to="`/engines/${build}/bench/${bench.after}`"
      >Next operation</RouterLink
    >
    <RouterLink v-else class="key key-main" :to="`/engines/${build}/sheet`">Build sheet</RouterLink>
  </div>
</template>
