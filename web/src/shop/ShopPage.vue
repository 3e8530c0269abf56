<script setup lang="ts">
// The engines of the shop: what can be done on each now. The address keeps what was looked for.
import { refDebounced } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useEngines, usePlans, type EngineOrder as Order } from '../api/queries'
import { isLead } from '../api/session'
import type { Schemas } from '../api/client'
import StateMark from '../ui/StateMark.vue'
import DueInstruments from './DueInstruments.vue'
import EngineRow from './EngineRow.vue'
import ShopFaults from './ShopFaults.vue'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

type Status = Schemas['BuildStatus']
// They come when they are wanted.
const ShopBeginnings = defineAsyncComponent(() => import('./ShopBeginnings.vue'))
const NewEngine = defineAsyncComponent(() => import('./NewEngine.vue'))
const route = useRoute()
const router = useRouter()
const taking = ref(false)
// They are there when an engine is taken in.
usePlans()

const statuses: { show: Status | null; label: string; mark: string }[] = [
  { show: null, label: t('shop-in-the-shop'), mark: '' },
  { show: 'held', label: t('common-blocked'), mark: 'held' },
  { show: 'in-work', label: t('common-in-work'), mark: 'in-work' },
  { show: 'taken-in', label: t('common-waiting'), mark: 'taken-in' },
  { show: 'finished', label: t('shop-finished'), mark: 'finished' },
]
const orders: { by: Order; label: string }[] = [
  { by: 'status', label: t('shop-blocked-first') },
  { by: 'last-work', label: t('shop-last-worked-on') },
  { by: 'name', label: t('shop-name') },
]
const one = (value: unknown) => (typeof value === 'string' ? value : '')
const show = computed<Status | null>(() => statuses.find((s) => s.show === one(route.query.show))?.show ?? null)
const typed = ref(one(route.query.find))
const settled = refDebounced(typed, 150)
const find = computed(() => one(route.query.find))
const sort = computed<Order>(() => orders.find((of) => of.by === one(route.query.sort))?.by ?? 'status')
const wanted = computed(() => ({ show: show.value, find: find.value, sort: sort.value }))
const { data, isPending, isPlaceholderData, hasNextPage, isFetchingNextPage, fetchNextPage } = useEngines(wanted)
const shop = computed(() => data.value?.pages[0])
/** One that was worked on between two pages is on both. */
const builds = computed(() => {
  const all = data.value?.pages.flatMap((page) => page.builds) ?? []
  return [...new Map(all.map((build) => [build.id, build])).values()]
})

/** The address of the list with something else of it wanted. */
function address(change: { show?: Status | null; find?: string; sort?: Order }) {
  const { show: by, find: words, sort: order } = { show: show.value, find: find.value, sort: sort.value, ...change }
  const sorted = order !== 'status' && { sort: order }
  return { path: '/', query: { ...(by && { show: by }), ...(words && { find: words }), ...sorted } }
}
const order = (event: Event) => {
  const by = orders[(event.target as HTMLSelectElement).selectedIndex]?.by
  void router.replace(address({ sort: by }))
}
const count = (status: Status | null) => {
  const counts = shop.value?.counts
  if (!counts) return ''
  const by = { held: counts.held, 'in-work': counts.in_work, 'taken-in': counts.taken_in, finished: counts.finished }
  if (status) return by[status]
  return by.held + by['in-work'] + by['taken-in'] + (find.value ? by.finished : 0)
}

watch(settled, (words) => {
  if (words.trim() !== find.value) void router.replace(address({ find: words.trim() }))
})
// Going back in the browser goes back to what was looked for.
watch(find, (words) => {
  if (words !== typed.value.trim()) typed.value = words
})
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">{{ t('common-engines') }}</h1>
      <button class="key" data-test="take-in" @click="taking = true">{{ t('shop-new-engine') }}</button>
    </div>
    <div class="flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-rule py-2">
      <nav class="flex flex-wrap gap-x-5" :aria-label="t('shop-filter')">
        <RouterLink
          v-for="status in statuses"
          :key="status.label"
          :to="address({ show: status.show })"
          class="-mb-px flex min-h-11 items-center gap-1.5 border-b-4"
          :class="status.show === show ? 'border-layout font-semibold' : 'border-transparent text-dim'"
          :aria-current="status.show === show ? 'page' : undefined"
          :data-test="`show-${status.show ?? 'all'}`"
        >
          <StateMark v-if="status.mark" :status="status.mark" class="size-5" />
          {{ find && !status.show ? t('shop-all') : status.label }} {{ count(status.show) }}
        </RouterLink>
      </nav>
      <label class="flex items-center gap-2">
        <span class="label-text shrink-0">{{ t('shop-sort-by') }}</span>
        <select name="sort" class="line-field" :value="sort" @change="order">
          <option v-for="of in orders" :key="of.by" :value="of.by">{{ of.label }}</option>
        </select>
      </label>
      <label class="ml-auto flex min-w-64 grow items-center gap-2 sm:max-w-md">
        <span class="label-text shrink-0">{{ t('common-find') }}</span>
        <input
          v-model="typed"
          type="search"
          name="find"
          class="line-field w-full"
          autocomplete="off"
          :placeholder="t('shop-name-customer-number-serial')"
        />
      </label>
    </div>
    <ShopFaults v-if="isLead" />
    <p v-if="shop?.renewing" class="py-2" role="status" data-test="renewing">
      {{ t('shop-engines-are-being-updated-for-the', { renewing: shop.renewing }) }}
    </p>
    <LoadingText v-if="isPending" />
    <p v-else-if="!builds.length" class="py-8" data-test="none">
      <template v-if="find">{{ t('shop-no-engines-match', { find }) }}</template>
      <template v-else-if="show">{{ t('shop-no-engines-match-2') }}</template>
      <template v-else>{{ t('shop-no-engines-yet-add-one-it') }}</template>
    </p>
    <ShopBeginnings v-if="isLead && shop && !builds.length && !find && !show && count(null) === 0" />
    <div
      v-if="builds.length"
      class="hidden gap-x-4 border-b border-rule py-1 text-dim md:grid md:grid-cols-[2rem_1fr_1.4fr_12rem]"
      aria-hidden="true"
    >
      <span class="col-start-2">{{ t('common-engine') }}</span><span>{{ t('shop-operation-in-hand') }}</span>
    </div>
    <ul :class="isPlaceholderData && 'opacity-60'" :aria-label="t('common-engines')">
      <EngineRow v-for="build in builds" :key="build.id" :build="build" />
    </ul>
    <button
      v-if="hasNextPage"
      class="key mt-4"
      :disabled="isFetchingNextPage"
      data-test="more"
      @click="fetchNextPage()"
    >
      {{ isFetchingNextPage ? t('common-loading') : t('shop-more-engines') }}
    </button>
    <DueInstruments v-if="shop && !find && !show" />
    <NewEngine v-if="taking" :open="taking" @close="taking = false" />
  </main>
</template>
