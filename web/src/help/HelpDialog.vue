<script setup lang="ts">
// Help on the place that is open: by F1, by ?, or by the button in the head.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { singleKeys } from '../ui/preferences'
import SheetDialog from '../ui/SheetDialog.vue'
import HelpText from './HelpText.vue'
import { helpOfRoute, helpPages } from './pages'
import { t } from './texts'

const emit = defineEmits<{ close: [] }>()
const route = useRoute()
const page = computed(() => helpPages[helpOfRoute[String(route.name)] ?? 'shop']!)
</script>

<template>
  <SheetDialog open :title="t('help-help', { title: page.title })" @close="emit('close')">
    <div data-test="help">
      <HelpText :page="page" />
      <label class="mt-4 flex min-h-11 items-center gap-3"
        ><input
          type="checkbox"
          class="size-5 accent-(--layout)"
          name="shortcuts"
          :checked="singleKeys === 'shortcuts'"
          @change="singleKeys = singleKeys === 'shortcuts' ? 'off' : 'shortcuts'"
        />
        {{ t('help-single-keys-are-shortcuts-finds-opens') }}</label
      >
      <div class="mt-4 flex flex-wrap items-center gap-x-6 gap-y-2">
        <RouterLink class="quiet-key flex min-h-11 items-center" to="/help" @click="emit('close')">{{
          t('help-all-help')
        }}</RouterLink>
        <RouterLink class="quiet-key flex min-h-11 items-center" to="/about" @click="emit('close')">{{
          t('common-about-rigore')
        }}</RouterLink>
        <button class="key ml-auto" @click="emit('close')">{{ t('common-close') }}</button>
      </div>
    </div>
  </SheetDialog>
</template>
