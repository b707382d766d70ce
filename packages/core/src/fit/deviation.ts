import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { interpolate } from '../analysis/interpolate.js'
import { formulate } from '../analysis/mna.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { startState } from '../analysis/settledState.js'
import { transient } from '../analysis/transient.js'
import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { ModelOptions } from './model.js'
import type { Samples } from './Samples.js'

/** How far a circuit is from samples of one of its signals: the circuit's less the sample's. */
export interface SampleDeviation {
  /** Root of the mean square, dB and degrees over frequency, or in the signal's unit over time. */
  readonly rms: { readonly db?: number; readonly phase?: number; readonly value?: number }
  /** Where it is greatest by size. */
  readonly worst: { readonly at: number; readonly by: number; readonly unit: 'dB' | '°' | 'value' }
  readonly samples: number
}

/** Samples beyond which every so many are looked at. */
const MOST_SAMPLES = 20_000

/**
 * How far a circuit is from what was measured, solved at the samples.
 *
 * @throws VoskelError as the analysis; `ARGUMENT` where no sample can be compared
 */
export function deviationFrom(circuit: Circuit, samples: Samples, options: ModelOptions): SampleDeviation {
  const every = Math.ceil(samples.x.length / MOST_SAMPLES)
  const kept = (values: Float64Array) => (every > 1 ? values.filter((_, k) => k % every === 0) : values)
  const mna = formulate(circuit, options)
  const { input, output, start } = options
  if (samples.over === 'time') {
    const begin = samples.x.findIndex((t) => t >= 0)
    if (begin < 0) throw nothing()
    const [x, value] = [kept(samples.x.subarray(begin)), kept(samples.value.subarray(begin))]
    const run = transient(mna, { stop: x.at(-1)!, outputs: [output], start: startState(mna, start) })
    const off = interpolate(run, 0, x).map((v, k) => v - value[k])
    return { rms: { value: rmsOf(off) }, worst: { ...worstOf(x, off), unit: 'value' }, samples: x.length }
  }
  const x = kept(samples.x)
  const range = [2 * Math.PI * x[0], 2 * Math.PI * x.at(-1)!] as const
  const analysis = new AcAnalysis(smallSignal(mna), { output, range, ...(input !== undefined && { input }) })
  const { re, im } = analysis.sweep(x)
  const decibels = analysis.isPower ? 10 : 20
  const own = levelsOf(re, im, decibels)
  const other =
    're' in samples
      ? levelsOf(kept(samples.re), kept(samples.im), 20)
      : { db: samples.db && kept(samples.db), phase: samples.phase && kept(samples.phase) }
  const db = other.db && own.db.map((v, k) => v - other.db![k])
  const phase =
    other.phase &&
    own.phase.map((v, k) => {
      const off = v - other.phase![k]
      return off - 360 * Math.round(off / 360)
    })
  if (!db && !phase) throw nothing()
  return {
    rms: { ...(db && { db: rmsOf(db) }), ...(phase && { phase: rmsOf(phase) }) },
    worst: { ...worstOf(x, (db ?? phase)!), unit: db ? 'dB' : '°' },
    samples: x.length,
  }
}

const levelsOf = (re: Float64Array, im: Float64Array, decibels: number) => ({
  db: re.map((v, k) => decibels * Math.log10(Math.hypot(v, im[k]))),
  phase: re.map((v, k) => (180 / Math.PI) * Math.atan2(im[k], v)),
})

/** Over what is a number. */
function rmsOf(off: Float64Array): number {
  const known = off.filter((v) => Number.isFinite(v))
  if (known.length === 0) throw nothing()
  return Math.sqrt(known.reduce((sum, v) => sum + v * v, 0) / known.length)
}

function worstOf(x: Float64Array, off: Float64Array): { at: number; by: number } {
  const k = off.reduce(
    (worst, v, j) => (Math.abs(v) > Math.abs(off[worst]) || !Number.isFinite(off[worst]) ? j : worst),
    0,
  )
  return { at: x[k], by: off[k] }
}

const nothing = () =>
  new VoskelError('ARGUMENT', {
    problem: 'There is no sample that can be compared.',
    fix: 'Choose another signal, or count the time from the source’s change on.',
  })
