<script setup lang="ts">
// That something is on its way. It appears only where that takes long enough to be noticed.

import { t } from './texts'
</script>

<template>
  <p class="loading-text py-8 text-lg text-dim" role="status">{{ t('common-loading') }}</p>
</template>
