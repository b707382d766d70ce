import type { z } from 'zod'
import { formatShort } from '../../quantity/formatQuantity.js'
import type { Complex } from '../../numeric/complex.js'

/** A stretch of a waveform in closed form: value + slope·τ + Re Σ c·e^(s·τ), τ = t − from. */
export interface Segment {
  readonly from: number
  readonly value: number
  readonly slope: number
  readonly waves: readonly { readonly s: Complex; readonly c: Complex }[]
}

/** One thing that a waveform is made of, for whoever types it. */
export interface WaveformField {
  readonly id: string
  readonly name: string
  /** `level` is the source's own unit: V or A. */
  readonly unit: 'level' | 's' | 'Hz' | '°' | '1/s' | ''
  /** It may be left out. */
  readonly optional?: string
  /** An amplitude, which may be said as a peak, peak to peak or as an effective value. */
  readonly isAmplitude?: boolean
  /** Words instead of a number, or one of some. */
  readonly words?: 'text' | readonly string[]
}

/** The offset that many waveforms stand on. */
export const OFFSET: WaveformField = { id: 'offset', name: 'Offset', unit: 'level' }
export const AMPLITUDE: WaveformField = { id: 'amplitude', name: 'Amplitude', unit: 'level', isAmplitude: true }
export const FREQUENCY: WaveformField = { id: 'frequency', name: 'Frequency', unit: 'Hz' }
export const DELAY: WaveformField = { id: 'delay', name: 'Begins after', unit: 's' }

/**
 * A kind of source waveform; each stands in a file of its own and in the list of index.ts. Values in volts or amperes
 * over time in seconds, t ≥ 0. A jump belongs to the time at which it happens: the value there is the one after it.
 */
export interface WaveformKind<W> {
  readonly kind: string
  readonly name: string
  /** The netlist's function name and its arguments in order; absent where the netlist has no word for it. */
  readonly card?: {
    readonly name: string
    /** Most arguments that it takes; left out, any number. */
    readonly most?: number
    read(values: readonly number[]): W
    write(waveform: W): readonly number[]
  }
  readonly schema: z.ZodType<W>
  /** In a few words; `said` writes a voltage or a current. */
  describe(waveform: W, said: (value: number) => string): string
  /** What it is made of; none where it is typed otherwise. */
  readonly fields: readonly WaveformField[]
  /** One that says something at once. */
  readonly usual: W
  /** Peak over effective value of what swings, where it has an amplitude. */
  crest?(waveform: W): number
  /** The value at time t. */
  at(waveform: W, t: number): number
  /** The value before anything happens: what the operating point sees. */
  initial(waveform: W): number
  /** Times in [0, stop] at which the waveform jumps or has a corner, ascending. */
  corners(waveform: W, stop: number): number[]
  /** The whole waveform from t = 0 to `stop` in closed form, stretches ascending, the first from 0; null where it has none. */
  segments(waveform: W, stop: number): Segment[] | null
  /** The longest time step that cannot step over its detail, s; Infinity where the corners say all. */
  longestStep(waveform: W): number
  /** s after which it begins anew, where it does so for ever; left out by kinds that never do. */
  period?(waveform: W): number | null
  /** The time, s, in which one has seen what it does: some periods, or its last corner. */
  span(waveform: W): number
}

/** A frequency in the few words of a description. */
export const saidHz = (frequency: number): string => formatShort(frequency, 'Hz')

/** Periods of a repeating waveform that a proposed window shows. */
export const PERIODS_SHOWN = 5

/**
 * The begin of the period in which a time lies, and its number: by the very sums that list the corners, so that no
 * rounding puts a time on the wrong side of one. Before the delay it is the first period.
 */
export function periodOf(t: number, delay: number, period: number): { start: number; k: number } {
  const startOf = (k: number) => delay + k * period
  let k = Math.max(0, Math.floor((t - delay) / period))
  while (t >= startOf(k + 1)) k++
  while (k > 0 && t < startOf(k)) k--
  return { start: startOf(k), k }
}

/** The segments of a waveform that is straight between its corners. */
export function straightSegments<W>(
  kind: Pick<WaveformKind<W>, 'at' | 'corners'>,
  waveform: W,
  stop: number,
): Segment[] {
  const corners = kind.corners(waveform, stop).filter((t) => t > 0 && t < stop)
  const starts = [...new Set([0, ...corners])]
  return starts.flatMap((from, k) => {
    const end = starts[k + 1] ?? stop
    const middle = from + (end - from) / 2
    if (!(middle > from)) return []
    const value = kind.at(waveform, from)
    return [{ from, value, slope: (kind.at(waveform, middle) - value) / (middle - from), waves: [] }]
  })
}

/**
 * Fewest time steps in a period of a sine: the interpolation between them (a polynomial of order 7) then errs by less than
 * 1e-4 of the amplitude, at the ends of a stretch included.
 */
export const POINTS_PER_PERIOD = 14
