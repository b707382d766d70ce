import type { Component } from 'vue'
import { REQUIREMENT_KINDS, type RequirementKind } from '@voskel/core'
import { defineAsyncComponent } from 'vue'

export type StageId = 'specify' | 'compare' | 'circuit' | 'frequency' | 'time'

/** A way to look at a design. */
export interface Stage {
  readonly id: StageId
  readonly name: string
  /** Key that opens it. */
  readonly key: string
  /** Verdicts that are decided here. */
  readonly verdicts: readonly string[]
  readonly component: Component
  readonly props?: Readonly<Record<string, unknown>>
  /** Fetches the component's code before it is shown. */
  readonly load: () => Promise<unknown>
}

/** Requirements that a stage shows. */
const decidedIn = (where: RequirementKind['decided']) =>
  REQUIREMENT_KINDS.filter((k) => k.decided === where).map((k) => k.kind)

function stage(rest: Omit<Stage, 'component'> & { load: () => Promise<{ default: Component }> }): Stage {
  return { ...rest, component: defineAsyncComponent(rest.load) }
}

/** Every stage, in the order of the tabs. A new one is one component and one entry here. */
export const stages: readonly Stage[] = [
  stage({ id: 'specify', name: 'Specify', key: '1', verdicts: [], load: () => import('./SpecifyStage.vue') }),
  stage({ id: 'compare', name: 'Compare', key: '2', verdicts: [], load: () => import('./CompareStage.vue') }),
  stage({
    id: 'circuit',
    name: 'Circuit',
    key: '3',
    verdicts: decidedIn('circuit'),
    load: () => import('./CircuitStage.vue'),
  }),
  stage({
    id: 'frequency',
    name: 'Frequency',
    key: '4',
    verdicts: ['passband', 'stopband', 'limits', ...decidedIn('frequency')],
    props: { over: 'frequency' },
    load: () => import('./InstrumentStage.vue'),
  }),
  stage({
    id: 'time',
    name: 'Time',
    key: '5',
    verdicts: decidedIn('time'),
    props: { over: 'time' },
    load: () => import('./InstrumentStage.vue'),
  }),
]

/** The stage of this name, or null. */
export const maybeStage = (id: string | undefined): Stage | null => stages.find((s) => s.id === id) ?? null

export const stageOfVerdict = (id: string): StageId => stages.find((s) => decides(s, id))?.id ?? 'specify'

/** Whether a verdict is decided in a stage; several of one kind have a number behind its name. */
export const decides = (stage: Stage, verdict: string): boolean => stage.verdicts.includes(verdict.split(' ')[0]!)
