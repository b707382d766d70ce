import { abs } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import type { StepMeasures } from './stepMeasures.js'

/** Decades shown beyond the outermost poles and zeros on each side. */
const BELOW = 1.4
const ABOVE = 1.1

/** A window shows the settled response for this part of it. */
const SETTLED_PART = 0.35

/**
 * A frequency range, Hz, that shows what a response does: its poles, zeros and what else matters, with room around,
 * rounded outwards to 1, 2 or 5.
 *
 * @param also further frequencies that must be inside, Hz
 */
export function proposedRange(h: TransferFunction, also: readonly number[] = []): { from: number; to: number } {
  const marks = [...h.poles, ...h.zeros].map((r) => abs(r) / (2 * Math.PI)).filter((f) => f > 0)
  const all = [...marks, ...also.filter((f) => f > 0)]
  if (all.length === 0) return { from: 1, to: 1e6 }
  return { from: roundDown(Math.min(...all) / 10 ** BELOW), to: roundUp(Math.max(...all) * 10 ** ABOVE) }
}

/** A time window, s, in which a step response rises and settles. */
export function proposedWindow(h: TransferFunction, step: StepMeasures): number {
  if (step.settlingTime) return roundUp(step.settlingTime / (1 - SETTLED_PART))
  const decay = Math.min(...h.poles.map((p) => -p.re).filter((d) => d > 0))
  return Number.isFinite(decay) ? roundUp(7 / decay) : 1
}

const STEPS = [1, 2, 5, 10]

function roundUp(value: number): number {
  const decade = 10 ** Math.floor(Math.log10(value))
  return STEPS.find((s) => s * decade >= value * (1 - 1e-12))! * decade
}

function roundDown(value: number): number {
  const decade = 10 ** Math.floor(Math.log10(value))
  return STEPS.findLast((s) => s * decade <= value * (1 + 1e-12))! * decade
}
