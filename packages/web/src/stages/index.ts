import type { Verdict } from '@voskel/core'
import { type Component, defineAsyncComponent } from 'vue'
import { type StageEntry, type StageId, stageList } from './list'

export type { StageId } from './list'

export interface Stage extends StageEntry {
  readonly component: Component
}

/** Every stage with the component that shows it, fetched when it is first wanted. */
export const stages: readonly Stage[] = stageList.map((entry) => ({
  ...entry,
  component: defineAsyncComponent(entry.load),
}))

/** The stage that shows what decides a verdict. */
export const stageOfVerdict = ({ decided }: Verdict): StageId => stages.find((s) => s.decides === decided)!.id
