import type { Component } from 'vue'
import type { Verdict } from '@voskel/core'
import { defineAsyncComponent } from 'vue'

export type StageId = 'specify' | 'compare' | 'circuit' | 'frequency' | 'time'

/** A way to look at a design. */
export interface Stage {
  readonly id: StageId
  readonly name: string
  /** Key that opens it. */
  readonly key: string
  /** What verdicts are decided here, if any. */
  readonly decides?: Verdict['decided']
  readonly component: Component
  readonly props?: Readonly<Record<string, unknown>>
  /** Fetches the component's code before it is shown. */
  readonly load: () => Promise<unknown>
}

function stage(rest: Omit<Stage, 'component'> & { load: () => Promise<{ default: Component }> }): Stage {
  return { ...rest, component: defineAsyncComponent(rest.load) }
}

/** Every stage, in the order of the tabs. A new one is one component and one entry here. */
export const stages: readonly Stage[] = [
  stage({ id: 'specify', name: 'Specify', key: '1', load: () => import('./SpecifyStage.vue') }),
  stage({ id: 'compare', name: 'Compare', key: '2', load: () => import('./CompareStage.vue') }),
  stage({
    id: 'circuit',
    name: 'Circuit',
    key: '3',
    decides: 'circuit',
    load: () => import('./CircuitStage.vue'),
  }),
  stage({
    id: 'frequency',
    name: 'Frequency',
    key: '4',
    decides: 'frequency',
    props: { over: 'frequency' },
    load: () => import('./InstrumentStage.vue'),
  }),
  stage({
    id: 'time',
    name: 'Time',
    key: '5',
    decides: 'time',
    props: { over: 'time' },
    load: () => import('./InstrumentStage.vue'),
  }),
]

/** The stage of this name, or null. */
export const maybeStage = (id: string | undefined): Stage | null => stages.find((s) => s.id === id) ?? null

/** The stage that shows what decides a verdict. */
export const stageOfVerdict = ({ decided }: Verdict): StageId => stages.find((s) => s.decides === decided)!.id
