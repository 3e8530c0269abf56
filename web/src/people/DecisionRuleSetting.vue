<script setup lang="ts">
// The rule by which this shop judges what it measures.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { isLead } from '../api/session'
import { decisionRules } from '../ui/decisionRules'
import { t } from './texts'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['decision-rule'],
  queryFn: async () => take(await api.GET('/api/decision-rule')),
})
const message = ref('')

async function choose(decision_rule: Schemas['DecisionRule']) {
  message.value = ''
  try {
    take(await api.PUT('/api/decision-rule', { body: { decision_rule } }))
    message.value = t('people-saved-it-applies-to-engines-that')
  } catch (caught) {
    message.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  }
  await client.invalidateQueries({ queryKey: ['decision-rule'] })
}
</script>

<template>
  <fieldset class="mt-6" data-test="decision-rule">
    <legend class="text-2xl font-semibold">{{ t('common-measurements-judged-by') }}</legend>
    <div v-if="data" class="mt-2 grid gap-2 sm:grid-cols-2">
      <label
        v-for="rule in decisionRules"
        :key="rule.value"
        class="flex min-h-11 gap-3 border p-3"
        :class="data.decision_rule === rule.value ? 'border-ink' : 'border-rule'"
      >
        <input
          type="radio"
          name="decision-rule"
          class="mt-1 size-5 accent-layout"
          :value="rule.value"
          :checked="data.decision_rule === rule.value"
          :disabled="!isLead"
          @change="choose(rule.value)"
        />
        <span
          ><b class="block">{{ rule.name }}</b
          ><span class="text-dim">{{ rule.says }}</span></span
        >
      </label>
    </div>
    <p class="mt-1 text-dim">
      {{ t('people-between-inside-and-outside-a-value') }}
    </p>
    <p role="status" class="mt-1 font-semibold">{{ message }}</p>
  </fieldset>
</template>
