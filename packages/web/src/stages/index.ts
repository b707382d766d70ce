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
  /** Fetches the component's code before it is shown. */
  readonly load: () => Promise<unknown>
}

function stage(rest: Omit<Stage, 'component'> & { load: () => Promise<{ default: Component }> }): Stage {
  return { ...rest, component: defineAsyncComponent(rest.load) }
}

/** Every stage, in the order of the tabs. A new one is one component and one entry here. */
export const stages: readonly Stage[] = [
  stage({ id: 'specify', name: 'Specify', key: '1', verdicts: [], load: () => import('./SpecifyStage.vue') }),
  stage({ id: 'circuit', name: 'Circuit', key: '2', verdicts: [], load: () => import('./CircuitStage.vue') }),
  stage({
    id: 'frequency',
    name: 'Frequency',
    key: '3',
    verdicts: ['passband', 'stopband'],
    load: () => import('./FrequencyStage.vue'),
  }),
  stage({
    id: 'time',
    name: 'Time',
    key: '4',
    verdicts: ['overshoot', 'rise-time', 'settling-time', 'step-delay'],
    load: () => import('./TimeStage.vue'),
  }),
]

/** The stage of this name, or null. */
export const maybeStage = (id: string | undefined): Stage | null => stages.find((s) => s.id === id) ?? null

export const stageOfVerdict = (id: string): StageId => stages.find((s) => s.verdicts.includes(id))?.id ?? 'specify'
