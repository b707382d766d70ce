import type { Ideal } from '../../approximation/approximate.js'
import { abs } from '../../numeric/complex.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import { impossible } from '../Line.js'

/** A section of an all-pass for R = 1 Ω: (a − s)/(a + s), or (s² − b·s + ω²)/(s² + b·s + ω²). */
export type AllpassSection = { readonly a: number } | { readonly b: number; readonly w2: number }

/** Two levels this near to each other, relative, are one. */
const ALIKE = 1e-9

/** Whether every frequency passes alike: each zero mirrors a pole. */
export function isAllpass({ poles, zeros }: TransferFunction): boolean {
  return (
    poles.length === zeros.length &&
    poles.length > 0 &&
    poles.every((p) => zeros.some((z) => Math.hypot(z.re + p.re, z.im - p.im) <= ALIKE * abs(p)))
  )
}

/** Its sections, real poles one by one. */
export function allpassSections(poles: TransferFunction['poles']): AllpassSection[] {
  return poles.flatMap((p): AllpassSection[] => {
    if (p.im < 0) return []
    return p.im === 0 ? [{ a: -p.re }] : [{ b: -2 * p.re, w2: p.re * p.re + p.im * p.im }]
  })
}

/** @throws VoskelError `REALIZATION_IMPOSSIBLE` for a response that is no all-pass */
export function demandAllpass({ transfer }: Ideal): AllpassSection[] {
  if (isAllpass(transfer)) return allpassSections(transfer.poles)
  throw impossible(
    'response',
    'Lattice and bridged-T sections of constant resistance pass every frequency alike, and this response does not.',
    'Choose the allpass or phase-shifter response, or another family.',
  )
}
