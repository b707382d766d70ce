import { abs, type Complex, complex, divide, multiply, subtract } from '../numeric/complex.js'
import { evaluate, type TransferFunction } from '../numeric/transferFunction.js'

/**
 * Most that the terms may exceed the response by, weighted with how near the poles lie to each other: rounding then
 * stays below 1e-12 of the response.
 */
const MOST_AMPLIFICATION = 2e3

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
    if (h.poles.some((p) => abs(p) === 0)) return null
    const final = evaluate(h, complex(0)).re
    const peak = Math.max(Math.abs(final), h.zeros.length === h.poles.length ? Math.abs(h.gain) : 0)
    const terms: [number, number, number, number][] = []
    let amplification = 0
    for (const pole of h.poles) {
      if (pole.im < 0) continue
      const others = h.poles.filter((p) => p !== pole)
      const crowding = others.reduce((sum, p) => sum + abs(pole) / abs(subtract(pole, p)), 1)
      if (!Number.isFinite(crowding)) return null
      // Residue of H(s)/s at the pole.
      const r = divide(residue(h, pole, others), pole)
      const twice = pole.im === 0 ? 1 : 2
      amplification += twice * abs(r) * crowding
      terms.push([pole.re, pole.im, twice * r.re, twice * r.im])
    }
    // A response that returns to zero has no size of its own here; its largest term stands for it.
    const size = peak > 0 ? peak : Math.max(...terms.map((t) => Math.hypot(t[2], t[3])))
    return amplification <= MOST_AMPLIFICATION * size ? new StepModes(final, terms) : null
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

/** gain·∏(p − z)/∏(p − q), factors taken in turn so that nothing over- or underflows. */
function residue(h: TransferFunction, pole: Complex, others: readonly Complex[]): Complex {
  let value = complex(h.gain)
  for (let k = 0; k < Math.max(others.length, h.zeros.length); k++) {
    if (h.zeros[k]) value = multiply(value, subtract(pole, h.zeros[k]))
    if (others[k]) value = divide(value, subtract(pole, others[k]))
  }
  return value
}
