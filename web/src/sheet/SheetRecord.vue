<script setup lang="ts">
// What proves a sheet: the entries of its record, the hash of the last, the plan's versions, the shop's signature.
import type { Schemas } from '../api/client'
import { dated } from '../ui/units'
import { t } from './texts'

defineProps<{ sheet: Schemas['SheetAnswer'] }>()
</script>

<template>
  <section class="mt-8 break-inside-avoid border-t-2 border-ink pt-3">
    <h2 class="text-xl font-semibold">{{ t('sheet-about-this-record') }}</h2>
    <p>{{ t('sheet-all-times-are-utc-a-time') }}</p>
    <dl class="mt-1 grid grid-cols-[8rem_1fr] gap-y-0.5">
      <dt class="text-dim">{{ t('sheet-entries') }}</dt>
      <dd>
        {{ t('sheet-to-2', { entries: sheet.entries, from: dated(sheet.begun_at), to: dated(sheet.touched) }) }}
      </dd>
      <dt class="text-dim">{{ t('common-plan') }}</dt>
      <dd>
        {{ sheet.plan.name }},
        <span class="break-all">{{ t('sheet-version', { hash: sheet.plan.hash.slice(0, 12) }) }}</span>
        <ul v-if="sheet.versions.length > 1" data-test="versions">
          <li v-for="(of, at) in sheet.versions" :key="at">
            <template v-if="at">{{
              t('sheet-then', { hash: of.plan.hash.slice(0, 12), reason: of.reason })
            }}</template><template v-else>{{ t('sheet-begun-with', { hash: of.plan.hash.slice(0, 12) }) }}</template
            >, {{ of.by }}, {{ dated(of.at) }}
          </li>
        </ul>
      </dd>
      <dt class="text-dim">{{ t('sheet-measurements') }}</dt>
      <dd>{{ t('sheet-judged-by', { decision_rule: sheet.decision_rule }) }}</dd>
      <template v-if="sheet.signed">
        <dt class="text-dim">{{ t('sheet-signed-by-the-shop') }}</dt>
        <dd data-test="signed-head">
          {{ t('sheet-entry-with-the-key', { seq: sheet.signed.seq, time: dated(sheet.signed.at) }) }}
          <span class="break-all">{{ sheet.signed.key }}</span>
        </dd>
      </template>
      <dt class="text-dim">{{ t('sheet-hash') }}</dt>
      <dd>
        <span class="break-all" data-test="last-hash">{{ sheet.last_hash }}</span>
        <span class="block text-dim">{{ t('sheet-it-changes-with-every-entry-this') }}</span>
      </dd>
    </dl>
  </section>
</template>
