import type { Circuit } from '../circuit/circuit.js'
import { flatten } from '../circuit/flatten.js'
import { VoskelError } from '../errors/VoskelError.js'
import { fourier } from './fourier.js'
import { formulate, type Mna } from './mna.js'
import { inputSource } from './elements.js'
import { settledState } from './settledState.js'
import type { SignalLike } from './signals.js'
import { transient } from './transient.js'

export interface LargeSignalPoint {
  /** Hz */
  readonly frequency: number
  /** Output's fundamental over the input's amplitude. */
  readonly gain: number
  /** degrees, negative where the output lags */
  readonly phase: number
  readonly distortionPercent: number
  /** Whether this is where the circuit is after any number of periods (`settledState`); else some periods from rest. */
  readonly settled: boolean
}

/** Periods from rest, of what settles to nothing. */
const UNSETTLED_PERIODS = 4
const HARMONICS = 9

/** As `largeSignalPoints`, all at once. */
export const largeSignalResponse = (circuit: Circuit, options: LargeSignalOptions): LargeSignalPoint[] => [
  ...largeSignalPoints(circuit, options),
]

export interface LargeSignalOptions {
  readonly input?: string
  readonly output?: SignalLike
  /** Of the input, V or A, > 0; its bias stays. */
  readonly amplitude: number
  /** Hz */
  readonly frequencies: readonly number[]
  readonly reltol?: number
}

/**
 * The response to a sine of real size, one point after the other: at each frequency the state that a period leads back to itself is
 * solved for, and gain and phase of the fundamental are taken from that period. Laid over the AC curve it shows where the small-signal picture stops holding.
 *
 * @throws VoskelError as `transient`
 */
export function* largeSignalPoints(circuit: Circuit, options: LargeSignalOptions): Generator<LargeSignalPoint> {
  const { input, output = 'out', amplitude, frequencies, reltol } = options
  if (!(amplitude > 0))
    throw new VoskelError('ARGUMENT', { problem: 'The amplitude must be above 0.', fix: 'Give a value such as 1.' })
  const flat = flatten(circuit)
  const source = inputSource(formulate(flat), input).index
  for (const frequency of frequencies) yield pointAt(frequency)

  function pointAt(frequency: number): LargeSignalPoint {
    const elements = flat.elements.map((e, k) => {
      // Every other source rests at its bias.
      if (k !== source) return { ...e, waveform: undefined }
      const wave = {
        kind: 'sine' as const,
        offset: e.values.bias,
        amplitude,
        frequency,
        delay: 0,
        damping: 0,
        phase: 0,
      }
      return { ...e, waveform: wave }
    })
    const mna = formulate({ ...flat, elements })
    const start = stateOf(mna, 1 / frequency)
    const periods = start ? 1 : UNSETTLED_PERIODS
    const run = transient(mna, { stop: periods / frequency, outputs: [output], reltol, start: start ?? 'op' })
    const { harmonics, distortionPercent } = fourier(run, 0, { frequency, harmonics: HARMONICS })
    const { amplitude: level, phase } = harmonics[1]
    // The input is a sine: a cosine 90° later.
    return { frequency, gain: level / amplitude, phase: turned(phase + 90), distortionPercent, settled: start !== null }
  }
}

/** Where the circuit is after any number of periods; null where it settles to nothing. */
function stateOf(mna: Mna, period: number): Float64Array | null {
  try {
    return settledState(mna, period)
  } catch (error) {
    if (error instanceof VoskelError && error.code === 'NO_SETTLED_STATE') return null
    throw error
  }
}

/** An angle in (−180, 180]. */
const turned = (degrees: number): number => degrees - 360 * Math.ceil(degrees / 360 - 0.5)
