import type { TransferFunction } from '../../numeric/transferFunction.js'

/** A value and where it is had: Hz or s. */
export interface At {
  readonly value: number
  /** Hz */
  readonly at: number
}

/** What a requirement may ask of a response, or of the circuit that has it. Solved, not read off a grid. */
export interface Judged {
  /** By poles and zeros. */
  readonly transfer: TransferFunction
  /** Its level, dB, where the ideal response has 0 dB. */
  readonly referenceDb: number
  /** Of the answer to a unit step: s, %. */
  readonly step: {
    readonly overshootPercent: number | null
    readonly peakTime: number | null
    readonly riseTime: number | null
    readonly settlingTime: number | null
    readonly delay: number | null
    readonly ringingPercent: number | null
  }
  /** Hz */
  readonly cutoffs: readonly number[]
  /** The highest level in the passbands, else anywhere, dB. */
  readonly topDb: number
  /** The highest level between two frequencies, Hz. */
  highest(from: number, to: number): At
  /** Greatest distance of the phase from the straight line that fits it best, °. */
  bend(from: number, to: number): At
  /** Least and greatest group delay, s. */
  delays(from: number, to: number): { readonly least: At; readonly greatest: At }
  /** What the source sees, Ω: unbounded at a pole. null without a circuit. */
  impedances(from: number, to: number): { readonly least: At; readonly greatest: At } | null
  /** Of the circuit's parts; null without a circuit. */
  readonly parts: {
    /** How many are bought. */
    readonly bought: number
    /** Largest over smallest value of one kind. */
    readonly spread: number
    /** How many are of a kind. */
    countOf(kind: string): number
    /** Main values of all parts of a kind. */
    valuesOf(kind: string): readonly number[]
  } | null
}

/** What one requirement says: its limit, and what its kind needs besides. */
export interface AskedValues {
  readonly limit: number
  /** Hz */
  readonly at?: number
  readonly from?: number
  readonly to?: number
  /** What the limit is a tolerance of. */
  readonly target?: number
}

/** What was found for a requirement, and where; null where there is no such value. */
export interface Achieved {
  readonly value: number | null
  readonly at?: number | null
  readonly unit?: 'Hz' | 's'
}

/**
 * A kind of requirement besides pass- and stop band. Each stands in a file of its own and in the list of index.ts: schema,
 * form, mask, ledger and tabs read it there.
 */
export interface RequirementKind<K extends string = string> {
  readonly kind: K
  readonly name: string
  /** Of its limit. */
  readonly unit: string
  readonly sense: 'at most' | 'at least'
  /** What it is asked at: one frequency, a band, or nothing. */
  readonly at: 'none' | 'frequency' | 'band'
  /** Unit of a wanted value that the limit is a tolerance of. */
  readonly target?: string
  /** The response alone does not tell it. */
  readonly ofCircuit?: true
  /** A form has a field for it at once; all others are added by name. */
  readonly usual?: true
  /** The limit that a new one begins with, in its unit; 1 where nothing is said. */
  readonly start?: number
  /** The stage that shows it. */
  readonly decided: 'frequency' | 'time' | 'circuit'
  judge(judged: Judged, asked: AskedValues): Achieved
}

/** Keeps the kind's name as a type. */
export const requirementKind = <const K extends string>(kind: RequirementKind<K>): RequirementKind<K> => kind
