import { waveformKind } from '../circuit/waveforms/index.js'
import { VoskelError } from '../errors/VoskelError.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import type { Mna } from './mna.js'

/** Periods of one source that may fit into a common one. */
const MOST_PERIODS = 1000

/** Ratios of periods that are that of whole numbers to this part are. */
const SAME_RATIO = 1e-9

/** What is left of anything after a period, beyond which it never settles: the rest is rounding. */
const LASTING = 1e-9

/**
 * The time after which all sources together come again, s: what settles does so at its pace.
 *
 * @throws VoskelError `NO_SETTLED_STATE` where a source moves only once, begins later, or has a period unrelated to the others'
 */
export function commonPeriod(mna: Mna): number {
  const moving = mna.circuit.elements.flatMap(({ name, waveform }) =>
    waveform ? [{ name, waveform, period: waveformKind(waveform).period?.(waveform) ?? null }] : [],
  )
  const once = moving.find(({ period }) => period === null)
  if (once) throw unsettled(`${once.name} does not come again and again`)
  const late = moving.find(({ waveform }) => 'delay' in waveform && (waveform.delay ?? 0) > 0)
  if (late) throw unsettled(`${late.name} begins only after a delay`)
  if (moving.length === 0) throw unsettled('no source moves')
  const [first, ...others] = moving
  return others.reduce((common, { name, period }) => {
    for (let k = 1; k <= MOST_PERIODS; k++) {
      const ratio = (k * common) / period!
      if (Math.abs(ratio - Math.round(ratio)) <= SAME_RATIO * ratio && Math.round(ratio) > 0) return k * common
    }
    throw unsettled(
      `the period of ${name}, ${formatQuantity(period!, 's')}, is unrelated to ${formatQuantity(common, 's')} of the others`,
    )
  }, first.period!)
}

/**
 * Refuses what does not die away.
 *
 * @param size what is left after a period of something that is left to itself, against what it was
 * @param known what that is known to
 * @throws VoskelError `NO_SETTLED_STATE`
 */
export function refuseLasting(size: number, known = LASTING): void {
  if (size > 1 + known) throw unsettled('something in it grows without end, or falls into a period of its own')
  if (size >= 1 - LASTING)
    throw unsettled('a pole lies on the axis, as that of an integrator does, and forgets nothing')
}

export const unsettled = (problem: string): VoskelError => new VoskelError('NO_SETTLED_STATE', { problem })
