<script setup lang="ts">
// The readings of an operation and the clearances that rest on them.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import ClearancePicture from '../bench/ClearancePicture.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import { say, unitOf } from '../ui/units'
import ReadingFigure from './ReadingFigure.vue'
import { listed } from '../ui/catalog'
import { t } from './texts'

type Reading = Schemas['MeasuredView']
const props = defineProps<{ section: Schemas['MeasureSection'] }>()
/** Places that a line has room for, one beside the other. */
const ROOM = 6
const clearances = computed(() => [...new Set(props.section.clearances.map((c) => c.id))])
/** Readings by what was measured: sites of one kind stand together, the readings that no longer count marked. */
const kinds = computed(() =>
  [...Map.groupBy(props.section.readings, (r) => r.kind)].map(([kind, readings]) => {
    const places = [...new Set(readings.map((r) => r.place))]
    const warm = new Set(readings.map((r) => r.temperature_c))
    const sites = [...Map.groupBy(readings, (r) => r.member)].map(([member, readings]) => ({ member, readings }))
    return { kind, places, sites, warm: warm.size === 1 ? [...warm][0] : undefined }
  }),
)
const at = (readings: Reading[], place: string) => readings.filter((r) => r.place === place)
const faults = computed(() => [
  ...new Set(props.section.readings.filter((r) => r.fault && r.counts).map((r) => say(r.fault))),
])
const unit = computed(() => listed(new Set(props.section.readings.map((r) => unitOf(r.dimension)))))
const instruments = computed(() => [...new Set(props.section.readings.map((r) => r.instrument))])
</script>

<template>
  <div class="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4 print:mt-1 print:block">
    <ClearancePicture v-for="id in clearances" :key="id" :views="section.clearances.filter((c) => c.id === id)" fixed />
    <p v-if="clearances.length" class="text-dim">
      {{ t('common-bar-min-to-max-line-with')
      }}<template v-if="section.clearances.some((c) => c.second)">{{ t('common-diamond-plastic-strip') }}</template
      >{{ t('common-judged-by', { decision_rule: section.clearances[0]?.decision_rule }) }}
    </p>
    <p class="text-dim">
      {{
        t('sheet-readings-struck-out-where-another-counts', {
          unit: unit ? t('sheet-in', { unit }) : '',
          instruments: instruments.join(', '),
        })
      }}
    </p>
    <template v-for="{ kind, places, sites, warm } in kinds" :key="kind">
      <div
        v-if="
          places.length === 2 && sites.every((site) => places.every((place) => at(site.readings, place).length === 1))
        "
        class="border-b border-rule py-1 print:py-0"
      >
        <span class="mr-4 font-semibold"
          >{{ kind }}
          <span class="font-normal text-dim"
            >{{ listed(places) }}<template v-if="warm != null">{{ t('sheet-as-read-at-c', { warm }) }}</template></span
          ></span
        >
        <span v-for="site in sites" :key="site.member" class="mr-4 inline-block whitespace-nowrap"
          ><span class="mr-1 text-dim">{{ site.member }}</span>
          <template v-for="place in places" :key="place"
            ><ReadingFigure
              v-for="reading in at(site.readings, place)"
              :key="reading.seq"
              :reading="reading"
              :warm="warm" /></template
        ></span>
      </div>
      <ScrollBox v-else-if="places.length > 1 && places.length <= ROOM" :label="t('sheet-readings', { kind })">
        <table class="w-full border-collapse text-left">
          <thead class="text-dim">
            <tr class="align-bottom">
              <th class="border-b border-ink pr-3 font-semibold text-ink">
                {{ kind
                }}<span v-if="warm != null" class="block font-normal text-dim">{{
                  t('sheet-as-read-at-c-below', { warm })
                }}</span>
              </th>
              <th v-for="place in places" :key="place" scope="col" class="border-b border-ink pr-3 font-normal">
                {{ place }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="site in sites" :key="site.member" class="break-inside-avoid border-b border-rule align-baseline">
              <th scope="row" class="py-1 pr-3 font-semibold print:py-0">{{ site.member }}</th>
              <td v-for="place in places" :key="place" class="py-1 pr-3 print:py-0">
                <ReadingFigure
                  v-for="reading in at(site.readings, place)"
                  :key="reading.seq"
                  :reading="reading"
                  :warm="warm"
                  below
                />
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
      <div v-else-if="places.length === 1" class="border-b border-rule py-1 print:py-0">
        <span class="mr-4 font-semibold"
          >{{ kind
          }}<span class="font-normal text-dim">
            {{ places[0]
            }}<template v-if="warm != null">{{ ' ' }}{{ t('sheet-as-read-at-c-2', { warm }) }}</template></span
          ></span
        >
        <span v-for="site in sites" :key="site.member" class="mr-4 inline-block whitespace-nowrap"
          ><span class="mr-1 text-dim">{{ site.member }}</span>
          <ReadingFigure v-for="reading in site.readings" :key="reading.seq" :reading="reading" :warm="warm"
        /></span>
      </div>
      <div v-for="site in sites" v-else :key="site.member" class="border-b border-rule py-1 print:py-0">
        <span class="mr-4 font-semibold"
          >{{ kind }} {{ site.member
          }}<span v-if="warm != null" class="font-normal text-dim">
            {{ ' ' }}{{ t('sheet-as-read-at-c-2', { warm }) }}</span
          ></span
        >
        <span v-for="reading in site.readings" :key="reading.seq" class="mr-4 inline-block whitespace-nowrap"
          ><span class="mr-1 text-dim">{{ reading.place }}</span> <ReadingFigure :reading="reading" :warm="warm"
        /></span>
      </div>
    </template>
    <p v-for="fault in faults" :key="fault ?? ''">▲ {{ fault }}</p>
  </div>
</template>
