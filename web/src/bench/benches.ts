// The bench of each kind of work.
import type { Component } from 'vue'
import type { Schemas } from '../api/client'
import CountBench from './CountBench.vue'
import ItemsBench from './ItemsBench.vue'
import MeasureBench from './MeasureBench.vue'
import PartsBench from './PartsBench.vue'
import SignBench from './SignBench.vue'
import TightenBench from './TightenBench.vue'
import TurnBench from './TurnBench.vue'

type Work = Schemas['BenchWork']
/** What the bench of a kind is given. */
export type WorkOf<Kind extends Work['work']> = Extract<Work, { work: Kind }>

export const benches: Record<Work['work'], Component> = {
  items: ItemsBench,
  tighten: TightenBench,
  measure: MeasureBench,
  parts: PartsBench,
  count: CountBench,
  turn: TurnBench,
  sign: SignBench,
}
