<script setup lang="ts">
// The address at which other calendars read that of the shop. Whoever has it reads it; it is shown once, as it is made.
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useAsk } from '../people/useAsk'
import { when } from '../ui/units'
import { t } from './texts'

defineProps<{ feed: Schemas['FeedView'] | null }>()
const emit = defineEmits<{ changed: [] }>()
const { error, busy, ask } = useAsk()
const path = ref('')
const address = computed(() => location.origin + path.value)
async function done(what: () => Promise<string>) {
  if (await ask(async () => (path.value = await what()))) emit('changed')
}
const make = () => done(async () => take(await api.POST('/api/day/feed')).path)
const end = () =>
  done(async () => {
    take(await api.DELETE('/api/day/feed'))
    return ''
  })
</script>

<template>
  <div class="flex flex-wrap items-end gap-3">
    <label v-if="path" class="min-w-72 grow"
      ><span class="label-text">{{ t('day-address-for-a-phones-calendar-shown') }}</span
      ><input
        class="field mt-1"
        readonly
        :value="address"
        data-test="feed"
        @focus="($event.target as HTMLInputElement).select()"
    /></label>
    <p v-else-if="feed" class="min-w-72 grow" data-test="feed-made">
      {{ t('day-the-calendar-has-an-address-made') }} <bdi>{{ feed.by }}</bdi><template v-if="!feed.by_active">{{
        t('common-deactivated')
      }}</template
      >, {{ when(feed.at) }}.
    </p>
    <button class="key" :disabled="busy" data-test="make-feed" @click="make">
      {{ feed || path ? t('day-new-address') : t('day-calendar-address') }}
    </button>
    <button v-if="feed || path" class="key" :disabled="busy" data-test="end-feed" @click="end">
      {{ t('day-remove-address') }}
    </button>
    <p v-if="error" class="w-full font-semibold text-wrong" role="alert">{{ error }}</p>
  </div>
</template>
