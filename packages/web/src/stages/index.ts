import type { Component } from 'vue'
import { defineAsyncComponent } from 'vue'

export type StageId = 'specify' | 'circuit' | 'frequency' | 'time'

/** A way to look at a design. */
export interface Stage {
  readonly id: StageId
  readonly name: string
  /** Key that opens it. */
  readonly key: string
  /** Verdicts that are decided here. */
  readonly verdicts: readonly string[]
  readonly component: Component
}

/** Every stage, in the order of the tabs. A new one is one component and one entry here. */
export const stages: readonly Stage[] = [
  { id: 'specify', name: 'Specify', key: '1', verdicts: [], component: defineAsyncComponent(() => import('./SpecifyStage.vue')) },
  { id: 'circuit', name: 'Circuit', key: '2', verdicts: [], component: defineAsyncComponent(() => import('./CircuitStage.vue')) },
  {
    id: 'frequency',
    name: 'Frequency',
    key: '3',
    verdicts: ['passband', 'stopband'],
    component: defineAsyncComponent(() => import('./FrequencyStage.vue')),
  },
  {
    id: 'time',
    name: 'Time',
    key: '4',
    verdicts: ['overshoot', 'rise-time', 'settling-time', 'step-delay'],
    component: defineAsyncComponent(() => import('./TimeStage.vue')),
  },
]

export const stageOfVerdict = (id: string): StageId => stages.find((s) => s.verdicts.includes(id))?.id ?? 'specify'
