import type { Component } from 'vue'
import type { Verdict } from '@voskel/core'

export type StageId = 'specify' | 'compare' | 'circuit' | 'frequency' | 'time'

/** A way to look at a design, as far as it is known before its code is there. */
export interface StageEntry {
  readonly id: StageId
  readonly name: string
  /** Key that opens it. */
  readonly key: string
  /** What verdicts are decided here, if any. */
  readonly decides?: Verdict['decided']
  readonly props?: Readonly<Record<string, unknown>>
  /** Fetches the component's code before it is shown. */
  readonly load: () => Promise<{ default: Component }>
}

const instrument = () => import('./InstrumentStage.vue')

/** Every stage, in the order of the tabs. A new one is one component and one entry here. */
export const stageList: readonly StageEntry[] = [
  { id: 'specify', name: 'Specify', key: 'Alt+1', load: () => import('./SpecifyStage.vue') },
  { id: 'compare', name: 'Compare', key: 'Alt+2', load: () => import('./CompareStage.vue') },
  { id: 'circuit', name: 'Circuit', key: 'Alt+3', decides: 'circuit', load: () => import('./CircuitStage.vue') },
  {
    id: 'frequency',
    name: 'Frequency',
    key: 'Alt+4',
    decides: 'frequency',
    props: { over: 'frequency' },
    load: instrument,
  },
  { id: 'time', name: 'Time', key: 'Alt+5', decides: 'time', props: { over: 'time' }, load: instrument },
]
