import { VoskelError } from '../errors/VoskelError.js'
import { interpolate } from './interpolate.js'
import type { Transient } from './transient.js'

/** One harmonic of a periodic signal: amplitude·cos(2πft + phase). */
export interface Harmonic {
  /** Hz; 0 is the mean */
  readonly frequency: number
  readonly amplitude: number
  /** degrees */
  readonly phase: number
}

export interface Spectrum {
  /** The mean, the fundamental, and what is above it. */
  readonly harmonics: readonly Harmonic[]
  /** Root of the harmonics' power over the fundamental's, %. */
  readonly distortionPercent: number
}

/** Samples of a period for each harmonic: what lies above aliases far beyond those that are wanted. */
const SAMPLES_PER_HARMONIC = 32

/**
 * The spectrum of the last period of a transient that has settled.
 *
 * @param options.frequency fundamental, Hz
 * @param options.harmonics how many, the fundamental included, ≥ 1
 * @throws VoskelError `ARGUMENT` where the run is shorter than a period
 */
export function fourier(run: Transient, output: number, options: { frequency: number; harmonics: number }): Spectrum {
  const { frequency, harmonics } = options
  const period = 1 / frequency
  const end = run.time.at(-1)!
  if (!(period <= end)) {
    throw new VoskelError('ARGUMENT', {
      problem: `The run of ${end} s is shorter than a period of ${period} s.`,
      fix: 'Choose a longer stop time or a higher frequency.',
    })
  }
  const n = SAMPLES_PER_HARMONIC * harmonics
  const begin = end - period
  const values = interpolate(
    run,
    output,
    Float64Array.from({ length: n }, (_, k) => begin + (period * k) / n),
  )
  const found: Harmonic[] = []
  for (let h = 0; h <= harmonics; h++) {
    let re = 0
    let im = 0
    for (let k = 0; k < n; k++) {
      const angle = 2 * Math.PI * h * frequency * (begin + (period * k) / n)
      re += values[k] * Math.cos(angle)
      im -= values[k] * Math.sin(angle)
    }
    const scale = (h === 0 ? 1 : 2) / n
    found.push({
      frequency: h * frequency,
      amplitude: scale * Math.hypot(re, im),
      phase: (Math.atan2(im, re) * 180) / Math.PI,
    })
  }
  const above = found.slice(2).reduce((sum, { amplitude }) => sum + amplitude ** 2, 0)
  return { harmonics: found, distortionPercent: (100 * Math.sqrt(above)) / found[1].amplitude }
}
