<script setup lang="ts">
// The language of the interface, with the trade's words as a country has them. The page opens again in it.
import { language, languages, setLanguage, type Language } from './catalog'
import { t } from './texts'

const choose = (event: Event) => setLanguage((event.target as HTMLSelectElement).value as Language)
</script>

<template>
  <label
    ><span class="label-text">{{ t('ui-language') }}</span
    ><select class="field mt-1" name="language" :value="language" @change="choose">
      <option v-for="(name, code) in languages" :key="code" :value="code" :lang="code">{{ name }}</option>
    </select></label
  >
</template>
