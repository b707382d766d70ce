import type { Diagram } from '@voskel/core'
import { frequencyViews } from './frequencyViews'
import { PLANES } from './planes'
import { timeViews } from './timeViews'

/** Something that can be drawn, as it is offered. */
export interface OfferedView {
  readonly id: Diagram['view']
  readonly name: string
  /** It stands along a vertical axis, so that another may stand along the one at the right. */
  readonly isAxis: boolean
}

const OVER_FREQUENCY: readonly OfferedView[] = [
  ...frequencyViews.map(({ id, name }) => ({ id, name, isAxis: true })),
  ...Object.entries(PLANES).map(([id, { name }]) => ({ id: id as Diagram['view'], name, isAxis: false })),
]
const OVER_TIME: readonly OfferedView[] = timeViews.map(({ id, name }) => ({ id, name, isAxis: id === 'value' }))

/** What can be drawn of a side. */
export const viewsOver = (over: Diagram['over']): readonly OfferedView[] =>
  over === 'frequency' ? OVER_FREQUENCY : OVER_TIME

/** What a magnitude is read in. */
export const MAGNITUDE_SCALES = [
  { id: '', name: 'dB' },
  { id: 'db-relative', name: 'dB over the highest' },
  { id: 'factor', name: 'factor' },
  { id: 'percent', name: '%' },
] as const

/** The units whose quantities belong along a diagram's left axis; null where all do. */
export const axisUnit = ({ view }: Diagram): readonly string[] | null => (view === 'db' ? ['V', '', 'dB'] : null)
