import { abs, complex, divide } from '../numeric/complex.js'
import { keepsDigits, partialFractions } from '../numeric/partialFractions.js'
import { evaluate, type TransferFunction } from '../numeric/transferFunction.js'

/** The response to a unit step as partial fractions: y(t) = y(∞) + Σ rₖ·e^(pₖ·t). */
export class StepModes {
  private constructor(
    private readonly final: number,
    /** One of each conjugate pair: [σ, ω, 2·Re r, 2·Im r]; real poles have ω = 0 and r undoubled. */
    private readonly terms: readonly (readonly [number, number, number, number])[],
  ) {}

  /**
   * @param h with no more zeros than poles and no pole at the origin
   * @returns null where the fractions would lose digits: multiple or crowded poles
   */
  static of(h: TransferFunction): StepModes | null {
    const fractions = h.poles.some((p) => abs(p) === 0) ? null : partialFractions(h)
    if (!fractions) return null
    const final = evaluate(h, complex(0)).re
    // Residues of H(s)/s.
    const residues = fractions.residues.map((r, k) => divide(r, h.poles[k]))
    const sizes = residues.map(abs)
    const peak = Math.max(Math.abs(final), Math.abs(fractions.direct))
    // A response that returns to zero has no size of its own here; its largest term stands for it.
    if (!keepsDigits(sizes, fractions.crowding, peak > 0 ? peak : Math.max(...sizes))) return null
    const terms = h.poles.flatMap((pole, k): [number, number, number, number][] => {
      if (pole.im < 0) return []
      const twice = pole.im === 0 ? 1 : 2
      return [[pole.re, pole.im, twice * residues[k].re, twice * residues[k].im]]
    })
    return new StepModes(final, terms)
  }

  /** Value and slope at time t, in the time unit of the poles. */
  at(t: number): { value: number; slope: number } {
    let value = this.final
    let slope = 0
    for (const [sigma, omega, re, im] of this.terms) {
      const e = Math.exp(sigma * t)
      const c = e * Math.cos(omega * t)
      const s = e * Math.sin(omega * t)
      const a = re * c - im * s
      const b = re * s + im * c
      value += a
      slope += sigma * a - omega * b
    }
    return { value, slope }
  }
}
