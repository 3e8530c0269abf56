<script setup lang="ts">
// One reading on the sheet: what counts, what was read where the part was warm, and how it came in.
import type { Schemas } from '../api/client'
import { digits } from '../ui/units'
import { t } from './texts'

/** `warm` is the temperature that is said for all of them; `below` has room for one line only. */
defineProps<{ reading: Schemas['MeasuredView']; warm?: number | null; below?: boolean }>()
</script>

<template>
  <span
    class="mr-1"
    :class="[!reading.counts && 'text-dim line-through', below && 'inline-block']"
    :title="reading.voided ?? ''"
    >{{ digits(reading.value, reading.dimension)
    }}<span v-if="reading.temperature_c != null" class="text-dim" :class="below && 'block'">
      ({{ digits(reading.read, reading.dimension)
      }}{{ warm == null ? t('sheet-at-c', { temperature_c: reading.temperature_c }) : '' }})</span
    ><template v-if="reading.simulated">{{ ' ' }}{{ t('common-simulated') }}</template
    ><template v-if="reading.method === 'imported'">{{ ' ' }}{{ t('common-imported') }}</template
    ><template v-if="reading.fault"> ▲</template></span
  >
</template>
