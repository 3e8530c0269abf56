// The tools of the pull in hand: which ones suit, which one is chosen, and the target as that one shows it.
import { computed, type ComputedRef } from 'vue'
import type { Schemas } from '../api/client'
import { chosenTools, gauges, person, wrench } from '../ui/preferences'
import { isLength, unitOf } from '../ui/units'
import type { WorkOf } from './benches'
import { useHand } from './hand'

/** A bolt is pulled with one tool and measured with another: each is chosen for itself. */
const STRETCH = 'stretch'

interface Pull {
  work: () => WorkOf<'tighten'>
  step: () => Schemas['PullStep']
  /** Whether another fastener was tapped than the next one. */
  off: ComputedRef<boolean>
  asks: ComputedRef<Schemas['PullStep']['asks']>
  stage: ComputedRef<Schemas['StageView'] | undefined>
  mark: ComputedRef<Schemas['FastenerMark'] | undefined>
}

export function usePullTool({ work, step, off, asks, stage, mark }: Pull) {
  const { build, bench } = useHand()
  /** The tools by what the fastener is reached with. */
  const reached = computed(() => {
    const by = mark.value?.adapter ?? null
    return work().tools.find((ways) => (ways.adapter ?? null) === by) ?? work().tools[0]
  })
  const measures = computed(() => isLength(asks.value.dimension))
  const own = computed(() => (measures.value ? (gauges.value[STRETCH] ?? '') : wrench.value))
  /** Where a tool was chosen by hand: it stays chosen for this operation, whatever is said of it. */
  const here = computed(() => `${person.value} ${build.value} ${bench.value.operation.id} ${asks.value.dimension}`)
  const tools = computed(() => (reached.value?.tools ?? []).filter((tool) => tool.suits))
  /** What cannot do the job is used only where it was chosen here. */
  const tool = computed(
    () =>
      tools.value.find((tool) => tool.id === chosenTools.value[here.value]) ??
      tools.value.find((tool) => tool.id === own.value && !tool.fault) ??
      tools.value.find((tool) => !tool.fault),
  )
  const chosen = computed({
    get: () => tool.value?.id ?? '',
    set: (id: string) => {
      chosenTools.value = { ...chosenTools.value, [here.value]: id }
      if (measures.value) gauges.value = { ...gauges.value, [STRETCH]: id }
      else wrench.value = id
    },
  })
  const target = computed(() => {
    const own = tool.value?.target
    if (!off.value) return own ?? step().target
    // What another fastener has already is not known here.
    return own && own.dimension === 'torque' ? own : (stage.value?.target ?? step().target)
  })
  const unit = computed(() => target.value.unit || unitOf(target.value.dimension))
  const click = computed(() => tool.value?.click ?? null)
  const simulated = computed(() => reached.value?.tools.find((tool) => tool.nature === 'stand-in' && tool.suits))
  return { reached, measures, tools, tool, chosen, target, unit, click, simulated }
}
