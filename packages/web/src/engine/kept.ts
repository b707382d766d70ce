import {
  type Compared,
  type KeptCurve,
  type KeptCurves,
  type MeasuredCurve,
  sampledResponseMeasures,
  sampledStepMeasures,
  type Samples,
} from '@voskel/core'
import type { Named, TimeCurve } from './curves'
import type { SweptCurve } from './jobs/frequency'

/** A pinned run or measured data, as diagrams draw it. */
export interface ComparedCurves {
  readonly entry: Compared
  readonly kept: KeptCurves
  readonly frequency: readonly SweptCurve[]
  readonly time: readonly (TimeCurve & Named)[]
  /** By the paths of measures. */
  readonly measures: Readonly<Record<string, number>>
}

/** Kept curves as diagrams draw them: what was not measured is no number. */
export function comparedCurves(entry: Compared, kept: KeptCurves): ComparedCurves {
  const frequency = kept.curves.filter((c) => c.over === 'frequency').map(swept)
  const time = kept.curves.flatMap(({ signal, unit, numbers: { x, value } }) =>
    x && value ? [{ signal, unit, time: x, value }] : [],
  )
  return { entry, kept, frequency, time, measures: kept.measures ?? measured(frequency, time) }
}

function measured(frequency: readonly SweptCurve[], time: readonly (TimeCurve & Named)[]) {
  const [response, course] = [frequency[0], time[0]]
  return {
    ...(response && sampledResponseMeasures(response.frequency, response.db, response.phase)),
    ...(course && sampledStepMeasures(course.time, course.value)),
  }
}

function swept({ signal, unit, isPower = false, isLevel = false, numbers }: KeptCurve): SweptCurve {
  const x = numbers.x!
  const nothing = () => new Float64Array(x.length).fill(NaN)
  const factor = isPower ? 10 : 20
  const { re, im } = numbers
  const db = numbers.db ?? (re && im ? re.map((v, k) => factor * Math.log10(Math.hypot(v, im[k]!))) : nothing())
  const turned = numbers.phase ?? (re && im ? re.map((v, k) => (180 / Math.PI) * Math.atan2(im[k]!, v)) : nothing())
  // A run's phase follows its curve already; what was measured wraps.
  const phase = numbers.delay ? turned : unwrapped(turned)
  const size = db.map((v) => 10 ** (v / factor))
  const angle = phase.map((v) => (v * Math.PI) / 180)
  return {
    signal,
    unit,
    isPower,
    isLevel,
    frequency: x,
    db,
    phase,
    re: re ?? size.map((v, k) => v * Math.cos(angle[k]!)),
    im: im ?? size.map((v, k) => v * Math.sin(angle[k]!)),
    delay: numbers.delay ?? nothing(),
  }
}

/** Phases without the jumps by whole turns. */
function unwrapped(phase: Float64Array): Float64Array {
  let turns = 0
  let last = NaN
  return phase.map((v) => {
    if (Number.isFinite(last)) turns -= 360 * Math.round((v - last) / 360)
    if (Number.isFinite(v)) last = v
    return v + turns
  })
}

/** A curve as its samples. */
export function samplesOf({ over, numbers: { x, re, im, db, phase, value } }: KeptCurve): Samples | null {
  if (!x) return null
  if (over === 'time') return value ? { over, x, value } : null
  if (re && im) return { over, x, re, im }
  return db || phase ? { over, x, ...(db && { db }), ...(phase && { phase }) } : null
}

/** What was read of a table, as it is kept. */
export const keptOfMeasured = ({ name, unit, samples }: MeasuredCurve, signal: string): KeptCurve => {
  const { over, ...numbers } = samples
  return { signal, unit, over, ...(name !== '' && { name: name.slice(0, 200) }), numbers }
}
