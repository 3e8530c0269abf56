<script setup lang="ts">
// What proves a sheet: the entries of its record, the hash of the last, the plan's versions, the shop's signature.
import type { Schemas } from '../api/client'
import { dated } from '../ui/units'

defineProps<{ sheet: Schemas['SheetAnswer'] }>()
</script>

<template>
  <section class="mt-8 break-inside-avoid border-t-2 border-ink pt-3">
    <h2 class="text-xl font-semibold">About this record</h2>
    <p>All times are UTC. A time without a name is the signer’s; without a date, of the day of the signature.</p>
    <dl class="mt-1 grid grid-cols-[8rem_1fr] gap-y-0.5">
      <dt class="text-dim">Entries</dt>
      <dd>{{ sheet.entries }}, {{ dated(sheet.begun_at) }} to {{ dated(sheet.touched) }}</dd>
      <dt class="text-dim">Plan</dt>
      <dd>
        {{ sheet.plan.name }}, <span class="break-all">version {{ sheet.plan.hash.slice(0, 12) }}</span>
        <ul v-if="sheet.versions.length > 1" data-test="versions">
          <li v-for="(of, at) in sheet.versions" :key="at">
            <template v-if="at">then {{ of.plan.hash.slice(0, 12) }}: {{ of.reason }}</template
            ><template v-else>begun with {{ of.plan.hash.slice(0, 12) }}</template
            >, {{ of.by }}, {{ dated(of.at) }}
          </li>
        </ul>
      </dd>
      <dt class="text-dim">Measurements</dt>
      <dd>judged by {{ sheet.decision_rule }}</dd>
      <template v-if="sheet.signed">
        <dt class="text-dim">Signed by the shop</dt>
        <dd data-test="signed-head">
          entry {{ sheet.signed.seq }}, {{ dated(sheet.signed.at) }}, with the key
          <span class="break-all">{{ sheet.signed.key }}</span>
        </dd>
      </template>
      <dt class="text-dim">Hash</dt>
      <dd>
        <span class="break-all" data-test="last-hash">{{ sheet.last_hash }}</span>
        <span class="block text-dim">It changes with every entry: this paper and the record belong together.</span>
      </dd>
    </dl>
  </section>
</template>
