<script setup lang="ts">
// Help on the place that is open: by F1, by ?, or by the button in the head.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { singleKeys } from '../ui/preferences'
import SheetDialog from '../ui/SheetDialog.vue'
import HelpText from './HelpText.vue'
import { helpOfRoute, helpPages } from './pages'

const emit = defineEmits<{ close: [] }>()
const route = useRoute()
const page = computed(() => helpPages[helpOfRoute[String(route.name)] ?? 'shop']!)
</script>

<template>
  <SheetDialog open :title="`Help: ${page.title}`" @close="emit('close')">
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
        Single keys are shortcuts: / finds, ? opens this help</label
      >
      <div class="mt-4 flex flex-wrap items-center gap-x-6 gap-y-2">
        <RouterLink class="quiet-key flex min-h-11 items-center" to="/help" @click="emit('close')">All help</RouterLink>
        <RouterLink class="quiet-key flex min-h-11 items-center" to="/about" @click="emit('close')"
          >About Rigore</RouterLink
        >
        <button class="key ml-auto" @click="emit('close')">Close</button>
      </div>
    </div>
  </SheetDialog>
</template>
