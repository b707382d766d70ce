import { abs, complex, divide } from '../numeric/complex.js'
import { keepsDigits, partialFractions } from '../numeric/partialFractions.js'
import { evaluate, type TransferFunction } from '../numeric/transferFunction.js'

/** A final value below this part of what passes elsewhere is what leaks. */
const NEXT_TO_NOTHING = 0.05

/** The response to a unit step as partial fractions: y(t) = y(∞) + Σ rₖ·e^(pₖ·t). */
export class StepModes {
  private constructor(
    private readonly final: number,
    /** One of each conjugate pair: [σ, ω, 2·Re r, 2·Im r]; real poles have ω = 0 and r undoubled. */
    private readonly terms: readonly (readonly [number, number, number, number])[],
    /** How crowded the poles around each term are, and the size that its digits are to be kept of. */
    private readonly crowding: readonly number[],
    private readonly size: number,
  ) {}

  /**
   * @param h with no more zeros than poles and no pole at the origin
   * @returns null where there are none: multiple poles
   */
  static of(h: TransferFunction): StepModes | null {
    const fractions = h.poles.some((p) => abs(p) === 0) ? null : partialFractions(h)
    if (!fractions) return null
    const final = evaluate(h, complex(0)).re
    // Residues of H(s)/s.
    const residues = fractions.residues.map((r, k) => divide(r, h.poles[k]))
    const ends = Math.max(Math.abs(final), Math.abs(fractions.direct))
    const passed = h.poles.reduce((most, p) => Math.max(most, abs(evaluate(h, complex(0, p.im)))), 0)
    // A response that returns to nothing, or next to nothing, has no size of its own here; its largest term stands for it.
    const size = ends > NEXT_TO_NOTHING * passed ? ends : Math.max(...residues.map(abs))
    const kept = h.poles.flatMap((pole, k) => (pole.im < 0 ? [] : [k]))
    const terms = kept.map((k): [number, number, number, number] => {
      const twice = h.poles[k].im === 0 ? 1 : 2
      return [h.poles[k].re, h.poles[k].im, twice * residues[k].re, twice * residues[k].im]
    })
    return new StepModes(
      final,
      terms,
      kept.map((k) => fractions.crowding[k]),
      size,
    )
  }

  /** Whether the terms keep their digits from time t on: crowded poles cancel each other at first. */
  keepsFrom(t: number): boolean {
    return keepsDigits(this.sizesAt(t), this.crowding, this.size)
  }

  /** The most that the response is still away from its final value at time t or later. */
  away(t: number): number {
    return this.sizesAt(t).reduce((sum, v) => sum + v, 0)
  }

  private sizesAt(t: number): number[] {
    return this.terms.map(([sigma, , re, im]) => Math.exp(sigma * t) * Math.hypot(re, im))
  }

  /**
   * Values and slopes at t + h, t + 2h, …, each from the one before by a turn of every mode.
   *
   * @param visit called `count` times
   */
  walk(t: number, h: number, count: number, visit: (k: number, value: number, slope: number) => void): void {
    const turns = this.terms.map(([sigma, omega, re, im]) => {
      const [e, f] = [Math.exp(sigma * t), Math.exp(sigma * h)]
      const [c, s] = [e * Math.cos(omega * t), e * Math.sin(omega * t)]
      const state = { sigma, omega, c: f * Math.cos(omega * h), s: f * Math.sin(omega * h) }
      return { ...state, a: re * c - im * s, b: re * s + im * c }
    })
    for (let k = 1; k <= count; k++) {
      let [value, slope] = [this.final, 0]
      for (const turn of turns) {
        const { a, b, c, s, sigma, omega } = turn
        turn.a = a * c - b * s
        turn.b = a * s + b * c
        value += turn.a
        slope += sigma * turn.a - omega * turn.b
      }
      visit(k, value, slope)
    }
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
