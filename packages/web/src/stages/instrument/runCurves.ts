import type { KeptCurve } from '@voskel/core'
import type { Computed } from './Over'

/** Every curve on the screen as it is kept; of a design without a circuit those of the ideal response. */
export function runCurves({ frequency, time, ideal, output }: Computed): KeptCurve[] {
  const swept = frequency?.curves.length
    ? frequency.curves
    : ideal
      ? [{ ...ideal.frequency, signal: output, unit: 'V', isPower: false, isLevel: false }]
      : []
  const courses = time?.curves.length ? time.curves : ideal ? [{ ...ideal.time, signal: output, unit: 'V' }] : []
  return [
    ...swept.map(({ signal, unit, isPower, isLevel, frequency: x, re, im, db, phase, delay }): KeptCurve => ({
      signal,
      over: 'frequency',
      unit,
      ...(isPower && { isPower }),
      ...(isLevel && { isLevel }),
      numbers: { x, re, im, db, phase, delay },
    })),
    ...courses.map(({ signal, unit, time: x, value }): KeptCurve => ({
      signal,
      over: 'time',
      unit,
      numbers: { x, value },
    })),
  ]
}
