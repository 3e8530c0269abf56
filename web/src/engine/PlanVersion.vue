<script setup lang="ts">
// The version of the plan that an engine goes by; a newer one, and what going on by that would mean for what is
// recorded.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import DifferenceList from '../plans/DifferenceList.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import { say, when } from '../ui/units'
import DialogActions from '../ui/DialogActions.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{
  build: string
  engine: Schemas['BuildView']
  act: (what: CommandAction) => Promise<string>
}>()
const { data: version, refetch } = useQuery({
  queryKey: ['build', () => props.build, 'version', () => props.engine.plan.hash],
  queryFn: async () => take(await api.GET('/api/builds/{build}/version', { params: { path: { build: props.build } } })),
  refetchInterval: 15000,
})
const looking = ref(false)
const to = computed(() => version.value?.newer?.hash ?? '')
const { data: preview, error } = useQuery({
  queryKey: ['build', () => props.build, 'move', to, () => props.engine.seq],
  enabled: () => looking.value && !!to.value,
  queryFn: async () =>
    take(
      await api.GET('/api/builds/{build}/move', {
        params: { path: { build: props.build }, query: { to: to.value } },
      }),
    ),
})
const reason = ref('')
const refused = ref('')
async function move() {
  refused.value = await props.act({ type: 'move-to', plan: to.value, reason: reason.value })
  if (refused.value) return
  looking.value = false
  reason.value = ''
  void refetch()
}
</script>

<template>
  <section :aria-label="t('common-plan')">
    <p>
      <span class="text-dim">{{ t('common-plan') }}</span>
      <RouterLink class="underline underline-offset-4" :to="`/plans/${engine.plan.hash}`"
        >{{ engine.plan.name
        }}<template v-if="version">{{ t('engine-version', { version: version.number }) }}</template></RouterLink
      >
    </p>
    <ul v-if="engine.versions.length > 1" class="text-dim">
      <li v-for="(of, at) in engine.versions" :key="at">
        <template v-if="at"
          >{{ t('engine-to') }}
          <RouterLink class="underline underline-offset-4" :to="`/plans/${of.plan.hash}`">{{
            t('engine-another-version')
          }}</RouterLink>: {{ of.reason }}, {{ of.by }}, {{ when(of.at) }}</template
        ><template v-else
          >{{ t('engine-started-on') }}
          <RouterLink class="underline underline-offset-4" :to="`/plans/${of.plan.hash}`">{{
            t('engine-this-version')
          }}</RouterLink>, {{ when(of.at) }}</template
        >
      </li>
    </ul>
    <p v-if="version?.newer" class="mt-1" data-test="newer">
      <b
        >{{ t('engine-newer-version-available', { newer: version.newer.number })
        }}<template v-if="version.newer.why">: {{ version.newer.why }}</template
        >.</b
      >
      <button class="quiet-key ml-2 min-h-11" data-test="see-newer" @click="looking = true">
        {{ t('engine-compare') }}
      </button>
    </p>
    <SheetDialog
      v-if="looking && version?.newer"
      open
      :title="t('engine-move-to-version', { newer: version.newer.number })"
      @close="looking = false"
    >
      <p v-if="error" class="mt-2 font-semibold text-wrong" role="alert">{{ error.message }}</p>
      <p v-else-if="!preview" class="mt-2 text-dim">{{ t('common-loading') }}</p>
      <div v-else class="mt-2 grid max-h-[60dvh] gap-3 overflow-y-auto" data-test="preview">
        <div>
          <h3 class="font-semibold">{{ t('common-changes') }}</h3>
          <DifferenceList :differences="preview.differences" />
        </div>
        <div v-if="preview.issues.length">
          <h3 class="font-semibold">{{ t('engine-lead-approval-needed') }}</h3>
          <ul>
            <li v-for="what in preview.issues.map(say)" :key="what">{{ what }}</li>
          </ul>
        </div>
        <p v-if="preview.lapses.length">
          <b>{{ t('engine-signatures-that-lapse') }}</b> {{ preview.lapses.join(', ') }}
        </p>
        <p v-if="!preview.issues.length && !preview.lapses.length && !preview.lost.length">
          {{ t('engine-earlier-work-stays-as-recorded') }}
        </p>
        <p v-if="preview.lost.length" class="font-semibold text-wrong">
          {{ t('engine-not-possible', { lost: preview.lost.join('; ') }) }}
        </p>
      </div>
      <form class="mt-3" @submit.prevent="move">
        <TextField v-model="reason" :label="t('engine-reason-for-the-move')" name="move-reason" />
        <p v-if="refused" class="mt-1 font-semibold text-wrong" role="alert">{{ refused }}</p>
        <DialogActions
          :action="t('engine-move-to-this-version')"
          :disabled="!preview || !!preview.lost.length"
          test="move"
          class="mt-4"
          @close="looking = false"
        />
      </form>
    </SheetDialog>
  </section>
</template>
