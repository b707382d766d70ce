import type { Circuit } from '../circuit/circuit.js'
import { flatten } from '../circuit/flatten.js'
import { VoskelError } from '../errors/VoskelError.js'
import { fourier, type Spectrum } from './fourier.js'
import { formulate } from './mna.js'
import { inputSource } from './elements.js'
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
  /** Whether two periods after each other agreed. */
  readonly settled: boolean
}

/** Periods that are simulated at first, and at the most. */
const FIRST_PERIODS = 4
const MOST_PERIODS = 256

/** Two periods agree when the fundamental has moved by less than this part. */
const SETTLED = 1e-4
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
 * The response to a sine of real size, one point after the other: at each frequency the transient runs until a period repeats, and gain and phase
 * of the fundamental are taken from it. Laid over the AC curve it shows where the small-signal picture stops holding.
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
    let before: Spectrum | null = null
    for (let periods = FIRST_PERIODS; ; periods *= 2) {
      const run = transient(mna, { stop: periods / frequency, outputs: [output], reltol })
      const spectrum = fourier(run, 0, { frequency, harmonics: HARMONICS })
      const settled = before !== null && agree(before, spectrum)
      if (settled || periods >= MOST_PERIODS) {
        const { amplitude: level, phase } = spectrum.harmonics[1]
        // The input is a sine: a cosine 90° later.
        return {
          frequency,
          gain: level / amplitude,
          phase: turned(phase + 90),
          distortionPercent: spectrum.distortionPercent,
          settled,
        }
      }
      before = spectrum
    }
  }
}

function agree(a: Spectrum, b: Spectrum): boolean {
  const [x, y] = [a.harmonics[1], b.harmonics[1]]
  const turn = (turned(x.phase - y.phase) * Math.PI) / 180
  const moved = Math.hypot(x.amplitude * Math.cos(turn) - y.amplitude, x.amplitude * Math.sin(turn))
  return moved <= SETTLED * y.amplitude
}

/** An angle in (−180, 180]. */
const turned = (degrees: number): number => degrees - 360 * Math.ceil(degrees / 360 - 0.5)
