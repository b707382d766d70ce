import type { z } from 'zod'

/**
 * A kind of source waveform; each stands in a file of its own and in the list of index.ts. Values in volts or amperes
 * over time in seconds, t ≥ 0. A jump belongs to the time at which it happens: the value there is the one after it.
 */
export interface WaveformKind<W> {
  readonly kind: string
  readonly name: string
  /** The netlist's function name and its arguments in order, as field names of the schema. */
  readonly card: { readonly name: string; read(values: readonly number[]): W; write(waveform: W): readonly number[] }
  readonly schema: z.ZodType<W>
  /** The value at time t. */
  at(waveform: W, t: number): number
  /** The value before anything happens: what the operating point sees. */
  initial(waveform: W): number
  /** Times in [0, stop] at which the waveform jumps or has a corner, ascending. */
  corners(waveform: W, stop: number): number[]
  /** The longest time step that cannot step over its detail, s; Infinity where the corners say all. */
  longestStep(waveform: W): number
}
