<script setup lang="ts">
// Taking an engine in: its name, its plan, whose it is.
import { v7 } from 'uuid'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, Refused, take, type Schemas } from '../api/client'
import { usePlans } from '../api/queries'
import { decisionRules } from '../ui/decisionRules'
import SheetDialog from '../ui/SheetDialog.vue'
import DialogActions from '../ui/DialogActions.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { data: plans, suspense } = usePlans()
const name = ref('')
const plan = ref('')
const owner = ref('')
const identity = ref('')
const use = ref('')
const decisionRule = ref<Schemas['DecisionRule'] | ''>('')
const lubricants = ref<Schemas['LubricantPolicy'] | ''>('')
const error = ref('')
const uses = computed(() => plans.value?.find((p) => p.hash === plan.value)?.uses ?? [])
watch(uses, (now) => (use.value = now[0] ?? ''))
/** The same however often it is sent. */
const id = v7()

watch(
  plans,
  (known) => {
    if (!plan.value) plan.value = known?.[0]?.hash ?? ''
  },
  { immediate: true },
)

async function takeIn() {
  try {
    // Whoever is quicker than the list of plans means the first of them.
    if (!plan.value) await suspense()
    const body = {
      id,
      name: name.value,
      plan: plan.value,
      use: use.value || null,
      owner: owner.value || null,
      identity: identity.value || null,
      lubricants: lubricants.value || null,
      decision_rule: decisionRule.value || null,
    }
    const answer = take(await api.POST('/api/builds', { body }))
    emit('close')
    await router.push(`/engines/${answer.build}`)
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  }
}
</script>

<template>
  <SheetDialog :open="open" :title="t('shop-new-engine')" @close="emit('close')">
    <form class="mt-4 grid gap-4" @submit.prevent="takeIn">
      <TextField v-model="name" :label="t('common-name')" name="name" :placeholder="t('shop-tarn-5-no-15')" />
      <label>
        <span class="label-text">{{ t('shop-engine-plan') }}</span>
        <select v-model="plan" class="field mt-1" name="plan">
          <option v-for="p in plans" :key="p.hash" :value="p.hash">
            {{ t('shop-operations', { p: p.name, operations: p.operations }) }}
          </option>
        </select>
      </label>
      <label v-if="uses.length">
        <span class="label-text">{{ t('common-clearances-for-2') }}</span>
        <select v-model="use" class="field mt-1" name="use">
          <option v-for="u in uses" :key="u">{{ u }}</option>
        </select>
      </label>
      <TextField v-model="owner" :label="t('common-customer')" name="owner" />
      <TextField v-model="identity" :label="t('shop-engine-number')" name="identity" />
      <label>
        <span class="label-text">{{ t('common-other-lubricant-than-specified') }}</span>
        <select v-model="lubricants" class="field mt-1" name="lubricants">
          <option value="">{{ t('shop-shop-default') }}</option>
          <option value="as-specified">{{ t('common-only-as-specified') }}</option>
          <option value="convert">{{ t('shop-convert-torques') }}</option>
        </select>
      </label>
      <label>
        <span class="label-text">{{ t('common-measurements-judged-by') }}</span>
        <select v-model="decisionRule" class="field mt-1" name="decision_rule">
          <option value="">{{ t('shop-shop-default') }}</option>
          <option v-for="rule in decisionRules" :key="rule.value" :value="rule.value">{{ rule.name }}</option>
        </select>
      </label>
      <DialogActions :action="t('shop-add-engine')" :error="error" @close="emit('close')" />
    </form>
  </SheetDialog>
</template>
