import type { Mna } from '../analysis/mna.js'
import { netlistName } from '../analysis/elements.js'
import { sensitiveParts, sensitivity } from '../analysis/sensitivity.js'
import type { SignalLike } from '../analysis/signals.js'

/** What a part does to a response, and how far its value may be off what was meant. */
export interface RoundedPart {
  /** Standard deviation of its value, relative. */
  readonly spread: number
  /** d ln H / d ln x by frequency: of the magnitude, and of the phase, rad. */
  readonly magnitude: readonly number[]
  readonly phase: readonly number[]
}

/** The rounding of a circuit's parts. */
export interface Rounding {
  /** Every value is rounded, so that nothing is to be found exactly. */
  readonly ofAll: boolean
  /** Some values were computed: what has few digits beside them was chosen, and the others were made to suit it. */
  readonly ofNone: boolean
  /** What it does to the response at some frequencies, Hz. */
  at(frequencies: readonly number[]): readonly RoundedPart[]
}

/** Half a step of E24 and of E96, as shares: values of two and of three digits are taken as such. Source: IEC 60063:2015. */
const HALF_STEPS = [10 ** (1 / 48) - 1, 10 ** (1 / 192) - 1] as const

/** Whatever has more digits is known to so much. */
const KNOWN = 0.003

/** Standard deviation of what lies anywhere between two ends, over half their distance. */
const EVEN = 1 / Math.sqrt(3)

/** How far a value may be off, by its digits. */
const spreadOf = (value: number): number => {
  const has = (digits: number) => Math.abs(Number(value.toPrecision(digits)) / value - 1) < 1e-9
  return EVEN * (has(2) ? HALF_STEPS[0] : has(3) ? HALF_STEPS[1] : KNOWN)
}

/** A value with more digits than this is what a computation gave. */
const WRITTEN = 6

const isComputed = (value: number) => Math.abs(Number(value.toPrecision(WRITTEN)) / value - 1) > 1e-12

/** The rounding of the parts of a linear circuit, of the values that they have. */
export function roundingOf(mna: Mna, study: { input?: string; output?: SignalLike } = {}): Rounding {
  const parts = sensitiveParts(mna)
  let ofNone = false
  const spreads = new Map(
    mna.circuit.elements.flatMap((element) => {
      const { sensitive, mainValue } = element.kind
      const value = sensitive && mainValue ? element.values[mainValue] : 0
      if (isComputed(value)) ofNone = true
      return value === 0 ? [] : [[netlistName(element), spreadOf(value)] as const]
    }),
  )
  return {
    ofNone,
    ofAll: [...spreads.values()].every((spread) => spread > KNOWN),
    at: (frequencies) =>
      Object.entries(sensitivity(mna, frequencies, study, parts).components).flatMap(([name, slopes]) => {
        const spread = spreads.get(name)
        return spread === undefined ? [] : [{ spread, ...slopes }]
      }),
  }
}
