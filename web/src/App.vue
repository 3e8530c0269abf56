<script setup lang="ts">
// The frame of every place: who is at work, units, light or dark; and whether the server answers.
import { CircleQuestionMark, CloudOff, Moon, Search, Sun, SunMoon, Volume2, VolumeX } from 'lucide-vue-next'
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { connected } from './api/live'
import { onTheWay } from './api/outbox'
import { loadUnits, useShop } from './api/queries'
import { unopened } from './router'
import { asking, choosing, loadSession, onArrival, session } from './api/session'
import SignIn from './people/SignIn.vue'
import { finding, focusPage } from './ui/focus'
import { guardPresses } from './ui/presses'
import { hasShortcuts } from './ui/singleKeys'
import { sound, theme, torqueUnit, useTheme, type Theme } from './ui/preferences'
import DryRunBanner from './engine/DryRunBanner.vue'
import LoadingText from './ui/LoadingText.vue'
import ReturnedList from './ui/ReturnedList.vue'
import SheetDialog from './ui/SheetDialog.vue'
import { unitsOf } from './ui/units'
import UnitChoices from './ui/UnitChoices.vue'
import { listed } from './ui/catalog'
import { t } from './texts'

const FirstRun = defineAsyncComponent(() => import('./people/FirstRun.vue'))
const HelpDialog = defineAsyncComponent(() => import('./help/HelpDialog.vue'))
const loadFinding = () => import('./ui/FindDialog.vue')
const FindDialog = defineAsyncComponent(loadFinding)
const PersonDialog = defineAsyncComponent(() => import('./people/PersonDialog.vue'))
const ConfirmDialog = defineAsyncComponent(() => import('./people/ConfirmDialog.vue'))
const UnitsDialog = defineAsyncComponent(() => import('./ui/UnitsDialog.vue'))
useTheme()
guardPresses()
const client = useQueryClient()
const { data: shop, isError, failureCount } = useShop()
const route = useRoute()
const places = [
  {
    to: '/',
    name: t('common-engines'),
    routes: ['shop', 'engine', 'bench', 'sheet', 'work-order', 'parts-list', 'labels'],
  },
  { to: '/day', name: t('common-day'), routes: ['day'] },
  { to: '/plans', name: t('common-plans'), routes: ['plans', 'new-plan', 'draft', 'plan', 'joint'] },
  { to: '/parts', name: t('common-parts'), routes: ['parts', 'part'] },
  {
    to: '/tools',
    name: t('common-tools'),
    routes: ['tools', 'calculate', 'clamp-load', 'friction', 'friction-tests', 'practice'],
  },
  { to: '/own', name: t('app-settings'), routes: ['own', 'instrument'] },
]
/** What may be a dry run, which the server tells: the id of one is a UUID of version 8. */
const dryRun = computed(() => {
  const { build } = route.params
  return typeof build === 'string' && build[14] === '8' ? build : undefined
})
const bench = computed(() => route.name === 'bench')
const away = computed(() => !connected.value || isError.value || failureCount.value > 0)
const faces: Record<Theme, { next: Theme; icon: typeof Sun; label: string }> = {
  auto: { next: 'light', icon: SunMoon, label: t('app-theme-as-the-device') },
  light: { next: 'dark', icon: Sun, label: t('app-theme-light') },
  dark: { next: 'auto', icon: Moon, label: t('app-theme-dark') },
}

/** Whether somebody was signed in since the page was opened: what is on it stays while another comes in. */
const was = ref(false)
const changing = ref(false)
onArrival(() => {
  was.value = true
  changing.value = false
  void client.invalidateQueries()
  if (!unitsOf('torque').length) void loadUnits().catch(() => undefined)
})
async function ask() {
  for (;;) {
    try {
      return await loadSession()
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 1000))
    }
  }
}
onMounted(ask)
// They are there when a key is pressed that opens them.
onMounted(() =>
  window.setTimeout(
    () => void Promise.all([loadFinding(), import('./ui/SheetPanel.vue')]).catch(() => undefined),
    3000,
  ),
)
const helping = ref(false)
const reload = () => window.location.reload()
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const at = event.target as HTMLElement
  const typing = at.closest?.('input, textarea, select, [contenteditable], [role=dialog]')
  const asks = event.key === 'F1' || (event.key === '?' && hasShortcuts() && !typing && !bench.value)
  if (!asks || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  // What is asked in a dialog is answered first.
  if (!document.querySelector('[role=dialog]')) helping.value = true
})
/** Whether the units are shown apart, where the head has no room for them. */
const units = ref(false)
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const typing = (event.target as HTMLElement).closest?.('input, textarea, select, [contenteditable], [role=dialog]')
  // At the bench the field of the reading has the focus: an empty one gives the key up.
  const empty = typing instanceof HTMLInputElement && typing.name === 'reading' && !typing.value
  if (
    event.key !== '/' ||
    !hasShortcuts() ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    (typing && !empty) ||
    !session.value?.person ||
    route.name === 'shared'
  )
    return
  event.preventDefault()
  // What is typed next is no reading any more.
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
  finding.value = true
})
</script>

<template>
  <div class="flex min-h-dvh flex-col">
    <a class="skip-link no-print" href="#content" @click.prevent="focusPage()">{{ t('app-skip-to-content') }}</a>
    <header
      class="no-print flex flex-wrap items-center gap-x-1 gap-y-1 border-b sm:gap-x-4 border-rule px-4"
      :class="bench ? 'py-1' : 'py-2'"
    >
      <RouterLink
        to="/"
        :class="[
          'mr-auto flex min-h-11 min-w-11 items-center gap-2 py-2',
          'max-sm:[&_span]:sr-only text-xl font-semibold tracking-tight',
        ]"
      >
        <img src="/mark.svg" alt="" class="size-7" /><span>Rigore</span>
      </RouterLink>
      <nav
        v-if="!bench && session?.person"
        class="order-last flex w-full gap-x-4 overflow-x-auto sm:order-none sm:overflow-visible sm:gap-x-5 sm:w-auto"
        :aria-label="t('app-main')"
      >
        <RouterLink
          v-for="place in places"
          :key="place.to"
          :to="place.to"
          class="flex min-h-11 items-center whitespace-nowrap border-y-4 border-transparent"
          :class="{ 'border-b-layout! font-semibold': place.routes.includes(String(route.name)) }"
          >{{ place.name }}</RouterLink
        >
      </nav>
      <button
        v-if="session?.person"
        class="p-3"
        :aria-label="t('app-find-by-the-key')"
        data-test="find"
        @click="finding = true"
      >
        <Search class="size-5" />
      </button>
      <button class="p-3" :aria-label="t('app-help-by-the-key-f1')" data-test="open-help" @click="helping = true">
        <CircleQuestionMark class="size-5" />
      </button>
      <button
        v-if="session?.person"
        class="line-field flex min-h-11 items-center gap-2 px-1"
        data-test="at-work"
        :data-person="session.person.id"
        @click="changing = true"
      >
        <span class="label-text max-sm:sr-only">{{ t('app-at-work') }}</span> {{ session.person.name }}
      </button>
      <template v-if="session?.person">
        <div class="flex items-center gap-2 max-sm:hidden"><UnitChoices /></div>
        <button
          class="line-field min-h-11 px-1 sm:hidden"
          :aria-label="t('app-units', { unit: torqueUnit })"
          data-test="units"
          @click="units = true"
        >
          {{ torqueUnit }}
        </button>
      </template>
      <button
        class="p-3 max-sm:hidden"
        :aria-label="sound ? t('app-sound-on') : t('app-sound-off')"
        @click="sound = !sound"
      >
        <component :is="sound ? Volume2 : VolumeX" class="size-5" />
      </button>
      <button class="p-3 max-sm:hidden" :aria-label="faces[theme].label" @click="theme = faces[theme].next">
        <component :is="faces[theme].icon" class="size-5" />
      </button>
    </header>
    <div
      v-if="away"
      role="status"
      data-test="away"
      class="no-print flex items-center gap-3 bg-wrong px-4 py-2 font-semibold text-on-wrong"
    >
      <CloudOff class="size-5 shrink-0" />
      {{ t('app-no-connection-what-you-typed-is')
      }}<template v-if="onTheWay">{{ ' ' }}{{ t('app-and-sent-when-it-is-back') }}</template
      >.
    </div>
    <div
      v-if="unopened"
      role="alert"
      class="no-print border-b-2 border-wrong px-4 py-2 font-semibold"
      data-test="unopened"
    >
      <template v-if="away">{{ t('app-cannot-be-opened-without-a-connection', { unopened }) }}</template>
      <template v-else
        >{{ t('app-could-not-be-opened-if-rigore', { unopened }) }}
        <button class="quiet-key min-h-11" @click="reload">{{ t('app-reload') }}</button></template
      >
    </div>
    <div
      v-if="session?.set_by_others.length"
      role="status"
      class="no-print flex flex-wrap items-center gap-x-4 border-b-2 border-ink px-4 py-1"
      data-test="set-by-others"
    >
      <span
        ><b
          ><bdi>{{ session.set_by_others[0]!.by }}</bdi></b
        >
        {{
          t('app-has-set-your-choose-your-own', {
            set_by_others: listed(session.set_by_others.map((of) => of.secret)),
          })
        }}</span
      >
      <button class="quiet-key min-h-11" data-test="choose-own" @click="choosing = true">
        {{ t('common-choose-your-own') }}
      </button>
    </div>
    <DryRunBanner v-if="dryRun && session?.person" :key="dryRun" :build="dryRun" />
    <ReturnedList v-if="route.name !== 'shared'" :people="shop?.people ?? []" />
    <div id="content" tabindex="-1" class="flex grow flex-col outline-none">
      <RouterView v-if="route.name === 'shared'" class="grow" />
      <LoadingText v-else-if="!session" class="px-6" />
      <FirstRun v-else-if="session.first_run && !session.demonstration" />
      <SignIn v-else-if="!session.person && !was" class="grow" />
      <RouterView v-else :key="route.name === 'draft' ? route.path : undefined" class="grow" />
    </div>
    <SheetDialog
      v-if="session && !session.person && was"
      open
      :title="t('app-sign-in-to-go-on')"
      @close="() => undefined"
      ><SignIn within
    /></SheetDialog>
    <HelpDialog v-if="helping" @close="helping = false" />
    <FindDialog v-if="finding && session?.person" @close="finding = false" />
    <PersonDialog v-if="changing || choosing" @close="changing = choosing = false" />
    <ConfirmDialog v-if="asking" />
    <UnitsDialog v-if="units" @close="units = false" />
  </div>
</template>
