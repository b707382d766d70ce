import { abs, type Complex, subtract } from './complex.js'
import { evaluate, gainAtInfinity, type TransferFunction } from './transferFunction.js'

/**
 * Most that the terms of a sum may exceed its size by, weighted with how near the poles lie to each other: rounding then
 * stays below 1e-12 of the size.
 */
const MOST_AMPLIFICATION = 2e3

/** H(s) = direct + Σ residue/(s − pole), every conjugate listed. */
export interface PartialFractions {
  readonly direct: number
  readonly poles: readonly Complex[]
  readonly residues: readonly Complex[]
  /** How crowded the poles around each one are: the relative error of its residue in units of rounding. */
  readonly crowding: readonly number[]
}

/**
 * The partial fractions of a response.
 *
 * @returns null where it has more zeros than poles, or a multiple pole
 */
export function partialFractions(h: TransferFunction): PartialFractions | null {
  if (h.zeros.length > h.poles.length) return null
  const residues: Complex[] = []
  const crowding: number[] = []
  for (const [k, pole] of h.poles.entries()) {
    // By place: a multiple pole may be one object.
    const others = h.poles.toSpliced(k, 1)
    let near = 1
    for (const p of others) near += Math.max(abs(pole), abs(p)) / abs(subtract(pole, p))
    if (!Number.isFinite(near)) return null
    // gain·∏(p − z)/∏(p − q)
    residues.push(evaluate({ ...h, poles: others }, pole))
    crowding.push(near)
  }
  return { direct: h.zeros.length === h.poles.length ? gainAtInfinity(h) : 0, poles: h.poles, residues, crowding }
}

/** Whether a sum of terms with these sizes keeps its digits against a result of this size. */
export function keepsDigits(sizes: readonly number[], crowding: readonly number[], size: number): boolean {
  return sizes.reduce((sum, v, k) => sum + v * crowding[k], 0) <= MOST_AMPLIFICATION * size
}
