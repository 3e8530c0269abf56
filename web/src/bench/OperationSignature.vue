<script setup lang="ts">
// The signature under an operation: the key to sign when all is done, or who signed.
import { vFocus } from '../ui/focus'
import { when } from '../ui/units'
import VoidButton from './VoidButton.vue'
import { useHand } from './hand'
import { t } from './texts'

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
          ? t('bench-continue')
          : bench.sign_with.length
            ? t('common-sign-as-one', { count: bench.sign_with.length + 1 })
            : t('bench-sign', { operation: inSentence(bench.operation.name) })
      }}
    </button>
    <span class="text-dim">{{
      bench.goes_on
        ? t('bench-enter-continues-are-signed-as-one', { member: inSentence(bench.operation.member?.name ?? '') })
        : t('bench-enter-signs')
    }}</span>
    <p v-if="!bench.goes_on && bench.sign_with.length" class="w-full text-dim">
      {{ [bench.operation.name, ...bench.sign_with.map((other) => other.name)].join(', ') }}
    </p>
  </div>
  <div v-else-if="bench.operation.signed_by" class="mt-4 flex flex-wrap items-center gap-4">
    <p class="text-lg">
      {{
        t('bench-by', {
          work: bench.operation.skipped ? t('common-skipped') : t('common-signed'),
          person: bench.operation.signed_by.name,
          time: when(bench.operation.signed_at),
        })
      }}<template v-if="bench.operation.skipped">: {{ bench.operation.skipped }}</template
      ><template v-if="bench.operation.signed_with.length">{{
        t('common-as-one-with-others', { count: bench.operation.signed_with.length })
      }}</template
      >.
    </p>
    <VoidButton
      v-if="bench.operation.signed_seq"
      :seq="bench.operation.signed_seq"
      :about="bench.operation.name"
      :label="bench.operation.skipped ? t('bench-do-it-after-all') : t('bench-take-back-signature')"
      :usual="[t('bench-signed-too-early'), t('bench-to-be-done-again')]"
    />
    <RouterLink v-if="bench.after" class="key key-main" :to="`/engines/${build}/bench/${bench.after}`">{{
      t('bench-next-operation')
    }}</RouterLink>
    <RouterLink v-else class="key key-main" :to="`/engines/${build}/sheet`">{{ t('common-build-sheet') }}</RouterLink>
  </div>
</template>
