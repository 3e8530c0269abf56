<script setup lang="ts">
import { computed, ref } from 'vue'
import { useShop } from '../api/queries'
import StateMark from '../ui/StateMark.vue'
import NewEngine from './NewEngine.vue'
import type { Schemas } from '../api/client'

type Build = Schemas['ShopBuild']
const { data: shop, isPending } = useShop()
const taking = ref(false)

const words: Record<Build['status'], string> = {
  'taken-in': 'Taken in',
  'in-work': 'In work',
  held: 'Held',
  finished: 'Finished',
}
const order: Build['status'][] = ['held', 'in-work', 'taken-in', 'finished']
const builds = computed(() =>
  [...(shop.value?.builds ?? [])].sort((a, b) => order.indexOf(a.status) - order.indexOf(b.status)),
)
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">Engines in the shop</h1>
      <button class="key" @click="taking = true">Take an engine in</button>
    </div>
    <p v-if="isPending" class="py-8 text-dim">Looking…</p>
    <p v-else-if="!builds.length" class="py-8">
      No engine yet. Take one in: it needs a name and an engine plan.
    </p>
    <ul>
      <li
        v-for="build in builds"
        :key="build.id"
        class="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-3 border-b border-rule py-5 md:grid-cols-[2rem_1fr_1.4fr_12rem]"
        :data-test="build.name"
      >
        <StateMark :status="build.status" class="size-8" />
        <div>
          <RouterLink :to="`/engines/${build.id}`" class="text-2xl font-semibold underline-offset-4 hover:underline">
            {{ build.name }}
          </RouterLink>
          <div :class="build.status === 'held' ? 'font-medium text-wrong' : 'text-dim'">
            {{ words[build.status] }}, {{ build.signed }} of {{ build.operations }} signed
          </div>
        </div>
        <div class="col-span-2 md:col-span-1">
          <div class="font-medium">{{ build.operation_name ?? 'Build sheet ready' }}</div>
          <div :class="build.status === 'held' ? 'text-wrong' : 'text-dim'">{{ build.now }}</div>
          <div class="mt-2 flex gap-1" aria-hidden="true">
            <span
              v-for="n in build.operations"
              :key="n"
              class="h-1.5 grow"
              :class="n <= build.signed ? 'bg-paint' : 'border border-rule'"
            />
          </div>
        </div>
        <RouterLink
          v-if="build.operation"
          class="key key-main col-span-2 md:col-span-1"
          :to="`/engines/${build.id}/bench/${build.operation}`"
        >
          To the bench
        </RouterLink>
        <RouterLink v-else class="key col-span-2 md:col-span-1" :to="`/engines/${build.id}/sheet`">
          Build sheet
        </RouterLink>
      </li>
    </ul>
    <NewEngine :open="taking" @close="taking = false" />
  </main>
</template>
