// The gauge that the stretch of a bolt is read with: the one that was taken last.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { gauges } from '../ui/preferences'

const STRETCH = 'stretch'

export function useStretchGauge(tools: () => Schemas['ToolFit'][]) {
  const fitting = computed(() => tools().filter((tool) => tool.suits))
  const gauge = computed({
    get: () => (fitting.value.find((tool) => tool.id === gauges.value[STRETCH]) ?? fitting.value[0])?.id,
    set: (id) => {
      if (id) gauges.value = { ...gauges.value, [STRETCH]: id }
    },
  })
  return { fitting, gauge }
}
