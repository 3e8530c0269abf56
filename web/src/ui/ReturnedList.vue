<script setup lang="ts">
// What was typed and could not be recorded, where nobody was there to hear it: shown until it was seen.
import type { Schemas } from '../api/client'
import { dismiss, held, returned, throwAway, type CommandAction } from '../api/outbox'
import { t } from './texts'

const props = defineProps<{ people: Schemas['Person'][] }>()
const name = (id: string) => props.people.find((p) => p.id === id)?.name ?? id

/** What was to be recorded, in a few words. */
function words(what: CommandAction): string {
  const about =
    'operation' in what ? what.operation : 'seq' in what ? t('ui-entry', { seq: what.seq }) : t('ui-the-engine')
  const typed =
    what.type === 'pull'
      ? `${what.fastener} ${what.reading.text ?? ''}`
      : what.type === 'measure'
        ? `${what.site} ${what.text}`
        : ''
  return [what.type.replace('-', ' '), typed.trim(), t('ui-about', { about })].filter(Boolean).join(' ')
}
</script>

<template>
  <section
    v-if="returned.length"
    role="alert"
    :aria-label="t('ui-not-recorded')"
    class="no-print grid gap-1 border-b-4 border-wrong px-4 py-2"
    data-test="returned"
  >
    <p v-for="item in returned" :key="item.command.id" class="flex flex-wrap items-center gap-x-3">
      <span class="font-semibold text-wrong">{{
        t('ui-not-recorded-by', { action: words(item.command.action), person: name(item.person) })
      }}</span>
      {{ item.message }}
      <RouterLink class="quiet-key px-2 py-1" :to="`/engines/${item.build}`">{{ t('common-open-engine') }}</RouterLink>
      <button class="quiet-key px-2 py-1" @click="dismiss(item.command.id)">{{ t('ui-dismiss') }}</button>
    </p>
  </section>
  <section
    v-if="held.length"
    role="status"
    :aria-label="t('ui-waiting-to-be-sent')"
    class="no-print grid gap-1 border-b-4 border-paint px-4 py-2"
    data-test="held"
  >
    <p v-for="item in held" :key="item.command.id" class="flex flex-wrap items-center gap-x-3">
      <span class="font-semibold">{{
        t('ui-typed-this-and-is-not-signed', { person: name(item.person), action: words(item.command.action) })
      }}</span>
      {{ t('ui-it-is-sent-when-they-sign') }}
      <button class="quiet-key px-2 py-1" @click="throwAway(item.command.id)">{{ t('ui-discard') }}</button>
    </p>
  </section>
</template>
