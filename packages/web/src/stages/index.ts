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

/** Stages that are shown beside: one, or two of them one above the other, as `frequency+time`. */
export const besides = (choice: string | null): readonly Stage[] =>
  (choice ?? '').split('+').flatMap((id) => stages.find((s) => s.id === id) ?? [])

/** What can be chosen to stand beside. */
export const BESIDE_CHOICES: readonly { readonly id: string; readonly name: string }[] = [
  ...stages.map(({ id, name }) => ({ id, name })),
  { id: 'frequency+time', name: 'Frequency · Time' },
]
