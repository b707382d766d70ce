import type { Part } from '../circuit.js'
import type { Waveform } from '../waveforms/index.js'

/** Index of the ground net among the unknowns: entries in its row or column are dropped. */
export const GROUND = -1

/** One number that a part carries. */
export interface ValueField {
  readonly id: string
  readonly name: string
  /** SI unit as on screen. */
  readonly unit: string
  readonly default: number
  /**
   * What values make sense: `nonzero` (zero is an error, negative a warning), `any`, or `nonnegative-warned`
   * (zero is meaningful, negative a warning).
   */
  readonly range: 'nonzero' | 'nonnegative-warned' | 'any'
}

/**
 * Where a part writes its equations. Rows and columns are unknowns of the modified nodal analysis: node voltages, then
 * branch currents. Source: C.-W. Ho, A. E. Ruehli, P. A. Brennan, IEEE Trans. CAS-22, 1975, 504–509.
 */
export interface Stamper {
  /** Adds conductance + s·capacitance at (row, column). */
  entry(row: number, column: number, g: number, c?: number): void
  /** Opens the extra unknown "current through this part", with its own row, and returns its index. */
  branch(): number
  /** The part is an independent source: `sign` times its value stands on the right-hand side of `row`. */
  source(row: number, sign: number): void
  /** The current into the first pin, as a combination of unknowns: terms [column, g, c] of (g + s·c)·x. */
  current(terms: readonly (readonly [column: number, g: number, c: number])[]): void
  /** The part stores energy: `value` d(stored)/dt, for the state equations. See analysis/stateSpace.ts. */
  store(element: StoredEnergy): void
}

/** A capacitance C between two nets, or an inductance L in a branch. */
export type StoredEnergy =
  | { readonly kind: 'capacitance'; readonly plus: number; readonly minus: number; readonly value: number }
  | { readonly kind: 'inductance'; readonly branch: number; readonly value: number }

/** A part as an analysis sees it: names and numbers only. */
export interface FlatElement {
  /** As in the netlist; inside subcircuits `X1.R2`. */
  readonly name: string
  readonly kind: PartKind
  /** Unknown index of each pin's net; `GROUND` for ground. */
  readonly nodes: readonly number[]
  readonly values: Readonly<Record<string, number>>
  readonly waveform?: Waveform
}

/** What follows the name and nodes on a netlist line, handed to the part that reads it. */
export interface CardReader {
  /** The next item as a number; `what` names it in the error. */
  number(what: string): number
  /** True when nothing is left. */
  readonly done: boolean
  /** Takes the next word if it is this one (any case). */
  take(word: string): boolean
  /** The next item if it is a number. */
  maybeNumber(): number | undefined
  /** A waveform function such as `PULSE(…)` if one comes next. */
  maybeWaveform(): Waveform | undefined
  /** An error at the next item. */
  fail(problem: string, fix?: string): never
}

/**
 * A kind of part. Each stands in a file of its own and in the list of index.ts: pins, values, equations and netlist
 * form together, so that a new kind is one file and one line.
 */
export interface PartKind {
  readonly id: string
  readonly name: string
  /** First letter of its names. */
  readonly letter: string
  readonly pins: readonly string[]
  /** Where each pin lies from the part's centre, unrotated, in grid units; y points down. */
  readonly pinPlaces: Readonly<Record<string, readonly [x: number, y: number]>>
  readonly values: readonly ValueField[]
  /** The field that a drawing shows and a person types on the part. */
  readonly mainValue?: string
  readonly takesWaveform?: boolean
  stamp(s: Stamper, element: FlatElement): void
  /** The netlist form after name and nodes; absent where the netlist writes the part as a subcircuit or not at all. */
  readonly card?: {
    read(reader: CardReader): { values: Record<string, number>; waveform?: Waveform }
    write(part: Part, number: (value: number) => string): string
  }
}

/** Stamps the admittance g + s·c between two nets and notes its current. */
export function stampAdmittance(s: Stamper, a: number, b: number, g: number, c: number): void {
  s.entry(a, a, g, c)
  s.entry(b, b, g, c)
  s.entry(a, b, -g, -c)
  s.entry(b, a, -g, -c)
  s.current([
    [a, g, c],
    [b, -g, -c],
  ])
}

/** Opens the branch of a part between two nets, its current flowing from the first to the second. */
export function stampBranch(s: Stamper, a: number, b: number): number {
  const k = s.branch()
  s.entry(a, k, 1)
  s.entry(b, k, -1)
  s.entry(k, a, 1)
  s.entry(k, b, -1)
  s.current([[k, 1, 0]])
  return k
}

/** The netlist form of a part with one number. */
export function oneValueCard(field: string, what: string): NonNullable<PartKind['card']> {
  return {
    read: (reader) => ({ values: { [field]: reader.number(what) } }),
    write: (part, number) => number(part.values[field]!),
  }
}
