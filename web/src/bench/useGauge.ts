// The gauge taken for each kind of site, and the unit it reads in.
import { computed, type Ref } from 'vue'
import type { Schemas } from '../api/client'
import { gauges, gaugeUnits } from '../ui/preferences'
import { unitOf, unitsOf } from '../ui/units'

export function useGauge(site: Ref<Schemas['SiteView'] | undefined>, families: Ref<Schemas['FamilyTools'][]>) {
  /** Gauges that measure such a thing, in the order the server puts them in. */
  const suiting = computed(() => {
    const fits = families.value.find((family) => family.family === site.value?.family)?.tools ?? []
    return fits.filter((tool) => tool.suits)
  })
  const gauge = computed({
    get: () => {
      const kept = gauges.value[site.value?.family ?? '']
      const chosen = suiting.value.find((tool) => tool.id === kept)
      // What cannot do the job is never taken by itself.
      return (chosen ?? suiting.value.find((tool) => !tool.fault && !tool.made_for_other))?.id ?? ''
    },
    set: (id: string) => {
      if (site.value) gauges.value = { ...gauges.value, [site.value.family]: id }
    },
  })
  const units = computed(() => (site.value ? unitsOf(site.value.dimension) : []))
  const unit = computed({
    get: () => {
      const known = (symbol: string | undefined) => units.value.find((u) => u.symbol === symbol)?.symbol
      return (
        known(gaugeUnits.value[gauge.value]) ??
        known(site.value && unitOf(site.value.dimension)) ??
        units.value[0]?.symbol ??
        ''
      )
    },
    set: (symbol: string) => {
      gaugeUnits.value = { ...gaugeUnits.value, [gauge.value]: symbol }
    },
  })
  return {
    tools: suiting,
    tool: computed(() => suiting.value.find((tool) => tool.id === gauge.value)),
    gauge,
    unit,
    units,
  }
}
