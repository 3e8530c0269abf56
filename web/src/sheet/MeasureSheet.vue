<script setup lang="ts">
// The readings of an operation and the clearances that rest on them.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import ClearancePicture from '../bench/ClearancePicture.vue'
import { digits, unitOf } from '../ui/units'

const props = defineProps<{ section: Schemas['MeasureSection'] }>()
const clearances = computed(() => [...new Set(props.section.clearances.map((c) => c.id))])
/** Readings by site, the ones that no longer count marked. */
const sites = computed(() => Object.entries(Object.groupBy(props.section.readings, (r) => r.site)))
const faults = computed(() => [...new Set(props.section.readings.filter((r) => r.fault && !r.voided && !r.superseded).map((r) => r.fault))])
const unit = computed(() => [...new Set(props.section.readings.map((r) => unitOf(r.dimension)))].join(' and '))
const instruments = computed(() => [...new Set(props.section.readings.map((r) => r.instrument))])
</script>

<template>
  <div class="mt-3 grid print:mt-1 print:gap-1 grid-cols-[minmax(0,1fr)] gap-4">
    <ClearancePicture v-for="id in clearances" :key="id" :views="section.clearances.filter((c) => c.id === id)" fixed />
    <p v-if="clearances.length" class="text-dim">
      Bar: least to most; line: with uncertainty U (k = 2) place by place<template v-if="section.clearances.some((c) => c.second)">; diamond: plastic strip</template>.
    </p>
    <table class="w-full border-collapse text-left">
      <caption class="text-left text-dim">Readings in {{ unit }}, struck out where another counts; with {{ instruments.join(', ') }}</caption>
      <tbody>
        <tr v-for="[site, readings] in sites" :key="site" class="break-inside-avoid align-baseline">
          <th scope="row" class="border-b border-rule py-1 pr-3 font-semibold sm:whitespace-nowrap">{{ site }}</th>
          <td class="border-b border-rule py-1">
            <span
              v-for="reading in readings"
              :key="reading.seq"
              class="mr-4 inline-block sm:whitespace-nowrap"
              :class="(reading.voided || reading.superseded) && 'text-dim line-through'"
              :title="reading.voided ?? ''"
            >
              <span class="text-dim">{{ reading.place }}</span> {{ digits(reading.value, reading.dimension) }}<template v-if="reading.temperature_c != null"> (read {{ digits(reading.read, reading.dimension) }} at {{ reading.temperature_c }} °C)</template><template v-if="reading.simulated"> simulated</template><template v-if="reading.method === 'imported'"> imported</template><template v-if="reading.fault"> ▲</template>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="fault in faults" :key="fault ?? ''">▲ {{ fault }}</p>
  </div>
</template>
