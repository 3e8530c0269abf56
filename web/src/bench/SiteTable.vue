<script setup lang="ts">
// What was read so far, kind by kind and place by place; a tap measures a place again.
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import ScrollBox from '../ui/ScrollBox.vue'
import { digits } from '../ui/units'
import ChoiceTabs from '../ui/ChoiceTabs.vue'
import { t } from './texts'

const props = defineProps<{ sites: Schemas['SiteView'][]; here: { site: string; place: number } | null }>()
const emit = defineEmits<{ select: [site: string, place: number] }>()
/** A kind of sites that is looked at while another is measured. */
const looked = ref('')

const family = computed(() => props.sites.find((s) => s.id === props.here?.site)?.family)
const families = computed(() =>
  [...new Set(props.sites.map((s) => s.family))].map((id) => {
    const sites = props.sites.filter((s) => s.family === id)
    const places = sites.flatMap((s) => s.places)
    const name = sites.length > 1 ? sites[0]!.kind : sites[0]!.name
    return { id, sites, name, done: places.filter((p) => !p.open).length, total: places.length }
  }),
)
const opened = computed(() => families.value.find((f) => f.id === (looked.value || family.value)))
const text = (value: number | null | undefined, dimension: Schemas['Dimension']) =>
  value == null ? '·' : digits(value, dimension)

watch(family, () => (looked.value = ''))
</script>

<template>
  <div>
    <ChoiceTabs
      class="border-b border-ink"
      :model-value="opened?.id ?? ''"
      :options="families.map((f) => ({ value: f.id, name: `${f.name} ${f.done}/${f.total}` }))"
      :label="t('bench-what-is-measured')"
      test="family"
      @update:model-value="looked = $event"
    />
    <ScrollBox v-if="opened" :label="t('bench-readings-by-site')">
      <table class="w-full text-left" data-test="sites">
        <caption class="sr-only">
          {{
            t('bench-readings-by-site')
          }}
        </caption>
        <thead v-if="opened.sites[0]!.places.length > 1" class="text-dim">
          <tr>
            <td />
            <th
              v-for="p in opened.sites[0]!.places"
              :key="p.name"
              scope="col"
              class="pt-1 pr-2 pl-1 text-[0.9375rem] font-normal whitespace-nowrap"
            >
              {{ p.crank_deg == null ? p.name : `${p.crank_deg}°` }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="s in opened.sites"
            :key="s.id"
            class="border-b border-rule"
            :class="s.id === here?.site && 'font-semibold'"
          >
            <th scope="row" class="py-0.5 pr-3 font-[inherit] whitespace-nowrap">{{ s.name }}</th>
            <td v-for="(p, at) in s.places" :key="at" class="py-0.5 pr-2">
              <button
                class="min-h-9 w-full border-b-2 px-1 text-left whitespace-nowrap"
                :class="s.id === here?.site && at === here?.place ? 'border-layout bg-layout/15' : 'border-transparent'"
                :aria-label="`${text(p.value, s.dimension)}, ${s.name} ${p.name}`"
                :title="p.name"
                :data-test="`${s.id}/${at}`"
                @click="emit('select', s.id, at)"
              >
                {{ text(p.value, s.dimension) }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
  </div>
</template>
