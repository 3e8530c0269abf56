<script setup lang="ts">
// Every part and set that has a serial, mark or set number: found by it. The address keeps what was looked for.
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useParts } from '../api/queries'
import { vFocus } from '../ui/focus'
import ScrollBox from '../ui/ScrollBox.vue'
import { when } from '../ui/units'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const route = useRoute()
const router = useRouter()
const one = (value: unknown) => (typeof value === 'string' ? value : '')
const find = computed(() => one(route.query.find))
const typed = ref(find.value)
const settled = refDebounced(typed, 150)
const sort = computed(() => (route.query.sort === 'serial' ? 'serial' : 'last-logged'))
const { data, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useParts(find, sort)
const parts = computed(() => data.value?.pages.flatMap((page) => page.parts))
/** The address of the list with something else of it wanted. */
function address(change: { find?: string; sort?: string }) {
  const { find: words, sort: by } = { find: find.value, sort: sort.value, ...change }
  return { path: '/parts', query: { ...(words && { find: words }), ...(by === 'serial' && { sort: by }) } }
}
const at = (serial: string) => `/parts/${encodeURIComponent(serial)}`

watch(settled, (words) => {
  if (words.trim() !== find.value) void router.replace(address({ find: words.trim() }))
})
watch(find, (words) => {
  if (words !== typed.value.trim()) typed.value = words
})

/** One that is meant is opened at once. */
function open() {
  const first = parts.value?.[0]
  if (first && parts.value?.length === 1) void router.push(at(first.serial))
}
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">{{ t('common-parts') }}</h1>
      <form class="flex min-w-64 grow items-center gap-2 sm:max-w-md" @submit.prevent="open">
        <label class="label-text shrink-0" for="find-part">{{ t('parts-serial-mark-or-set') }}</label>
        <input
          id="find-part"
          v-model="typed"
          v-focus
          type="search"
          name="find"
          class="line-field w-full"
          autocomplete="off"
        />
      </form>
    </div>
    <p v-if="error && !parts" role="alert" class="py-8">{{ t('parts-no-connection-parts-are-shown-when') }}</p>
    <p v-else-if="parts && !parts.length" class="py-8 text-lg">
      {{
        find
          ? t('parts-no-part-has-in-its-serial', { find })
          : t('parts-no-part-has-a-serial-mark') + t('parts-its-history-starts-there')
      }}
    </p>
    <ScrollBox v-else-if="parts" :label="t('common-parts')">
      <table class="w-full text-left">
        <thead class="text-dim">
          <tr class="border-b border-ink">
            <th scope="col" class="pr-5 font-normal" :aria-sort="sort === 'serial' ? 'ascending' : 'none'">
              <RouterLink
                :to="address({ sort: 'serial' })"
                replace
                class="flex min-h-11 items-center underline-offset-4 hover:underline"
                :class="sort === 'serial' && 'font-semibold text-ink'"
                data-test="sort-serial"
                >{{ t('parts-serial-mark-or-set') }}{{ ' ' }}
                <span aria-hidden="true">{{ sort === 'serial' ? '↑' : '' }}</span>
              </RouterLink>
            </th>
            <th scope="col" class="pr-5 font-normal">{{ t('common-part') }}</th>
            <th scope="col" class="pr-5 font-normal">{{ t('common-engine') }}</th>
            <th scope="col" class="pr-5 font-normal">{{ t('common-engines') }}</th>
            <th scope="col" class="font-normal" :aria-sort="sort === 'serial' ? 'none' : 'descending'">
              <RouterLink
                :to="address({ sort: 'last-logged' })"
                replace
                class="flex min-h-11 items-center underline-offset-4 hover:underline"
                :class="sort !== 'serial' && 'font-semibold text-ink'"
                data-test="sort-last-logged"
                >{{ t('parts-logged-in-2') }} <span aria-hidden="true">{{ sort === 'serial' ? '' : '↓' }}</span>
              </RouterLink>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="part in parts"
            :key="part.serial + part.kind"
            class="border-b border-rule align-baseline"
            data-test="part"
          >
            <th scope="row" class="pr-5">
              <RouterLink
                :to="at(part.serial)"
                class="flex min-h-11 items-center text-xl whitespace-nowrap underline-offset-4 hover:underline"
                >{{ part.serial }}</RouterLink
              >
            </th>
            <td class="pr-5">{{ part.name }}</td>
            <td class="pr-5">{{ part.engine }}</td>
            <td class="pr-5">{{ part.engines }}</td>
            <td class="whitespace-nowrap text-dim">{{ when(part.at) }}</td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
    <LoadingText v-else />
    <button
      v-if="hasNextPage"
      class="key mt-4"
      :disabled="isFetchingNextPage"
      data-test="more"
      @click="fetchNextPage()"
    >
      {{ isFetchingNextPage ? t('common-loading') : t('parts-more-parts') }}
    </button>
  </main>
</template>
