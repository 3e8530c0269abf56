<script setup lang="ts">
// What was typed and could not be recorded, where nobody was there to hear it: shown until it was seen.
import type { Schemas } from '../api/client'
import { dismiss, held, returned, throwAway, type CommandAction } from '../api/outbox'

const props = defineProps<{ people: Schemas['Person'][] }>()
const name = (id: string) => props.people.find((p) => p.id === id)?.name ?? id

/** What was to be recorded, in a few words. */
function words(what: CommandAction): string {
  const about = 'operation' in what ? what.operation : 'seq' in what ? `entry ${what.seq}` : 'the engine'
  const typed =
    what.type === 'pull'
      ? `${what.fastener} ${what.reading.text ?? ''}`
      : what.type === 'measure'
        ? `${what.site} ${what.text}`
        : ''
  return [what.type.replace('-', ' '), typed.trim(), `in ${about}`].filter(Boolean).join(' ')
}
</script>

<template>
  <section
    v-if="returned.length"
    role="alert"
    aria-label="Not recorded"
    class="no-print grid gap-1 border-b-4 border-wrong px-4 py-2"
    data-test="returned"
  >
    <p v-for="item in returned" :key="item.command.id" class="flex flex-wrap items-center gap-x-3">
      <span class="font-semibold text-wrong"
        >▲ Not recorded: {{ words(item.command.action) }}, by {{ name(item.person) }}.</span
      >
      {{ item.message }}
      <RouterLink class="quiet-key px-2 py-1" :to="`/engines/${item.build}`">Open engine</RouterLink>
      <button class="quiet-key px-2 py-1" @click="dismiss(item.command.id)">Dismiss</button>
    </p>
  </section>
  <section
    v-if="held.length"
    role="status"
    aria-label="Waiting to be sent"
    class="no-print grid gap-1 border-b-4 border-paint px-4 py-2"
    data-test="held"
  >
    <p v-for="item in held" :key="item.command.id" class="flex flex-wrap items-center gap-x-3">
      <span class="font-semibold"
        >{{ name(item.person) }} typed this and is not signed in here: {{ words(item.command.action) }}.</span
      >
      It is sent when they sign in.
      <button class="quiet-key px-2 py-1" @click="throwAway(item.command.id)">Discard</button>
    </p>
  </section>
</template>
