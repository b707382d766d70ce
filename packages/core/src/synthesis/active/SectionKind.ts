import { add, type Complex, complex, divide, multiply, scale } from '../../numeric/complex.js'
import { quadraticRoots } from '../../numeric/roots.js'
import type { Plan } from '../Plan.js'
import type { Slot, SlotKind, Values } from '../Sketch.js'
import type { Biquad } from './biquad.js'
import { derivedBy, type Dual, valueOf } from './closedForm.js'
import type { Factor } from './factors.js'
import type { Figure } from './Figure.js'

/** Why a section cannot make a factor: which bound, and what would be right. */
export interface Refusal {
  readonly problem: string
  readonly fix: string
}

/** The gains that a section can have, as factors of the highest power of s; equal ones where it has one of its own. */
export interface Gains {
  readonly least: number
  readonly most: number
}

/** Coefficients by powers of s, in closed form over the values of its parts. */
export type Polynomial = readonly string[]

/**
 * A section with amplifiers that makes one factor of a response; sections follow each other without loading. Each stands in a
 * file of its own and in the list of the families that use it. All that is known of it follows from what it says here: its
 * response and sensitivities from two polynomials, its drawing from a figure.
 */
export interface SectionKind {
  readonly id: string
  readonly name: string
  /** What it makes, as in "these sections are low-pass ones". */
  readonly makes: string
  /** Published source of the design equations. */
  readonly source: string
  readonly amplifiers: number
  /** 1, or −1 where it turns its output over. */
  readonly sign: 1 | -1
  /** The design equations as TeX. */
  readonly design: readonly string[]
  /** What each part does, by its name. */
  readonly roles: Readonly<Record<string, string>>
  /** Whether the zeros of a factor are of its kind. */
  fits(factor: Factor): boolean
  /** A bound on f₀ or Q that it does not keep. */
  refuses?(biquad: Biquad): Refusal | null
  gains(biquad: Biquad): Gains
  /** H = numerator/denominator, both without the sign of the section. */
  readonly numerator: Polynomial
  readonly denominator: Polynomial
  /**
   * Its values.
   *
   * @param biquad what is wanted, its gain inside `gains`
   * @param size capacitance, F, around which its capacitors lie
   * @param chosen what is held
   * @returns in the order in which they are chosen; null where nothing goes with what is held
   */
  solve(biquad: Biquad, size: number, chosen: Values): Values | null
  /** Slots whose chosen value must not lie below the computed one, lest nothing goes with it. */
  readonly atLeast?: readonly string[]
  /** The part through which it is driven: a source resistance, or a divider, goes there. Null where it is driven otherwise. */
  readonly entrance: string | null
  /** How it is drawn from (0, 0), where the line has come to behind its entrance. */
  figure(has: (part: string) => boolean): Figure
}

/** A section with the values that it needs for what is wanted. */
export interface SectionPlan extends Omit<Plan<void>, 'draw'> {
  readonly kind: SectionKind
  readonly wanted: Biquad
}

const KINDS: Readonly<Record<string, SlotKind>> = { R: 'resistor', C: 'capacitor', P: 'resistor' }

export const slotKind = (part: string): SlotKind => KINDS[part[0]]

/** @param size of its capacitors, F */
export function planSection(kind: SectionKind, wanted: Biquad, size: number): SectionPlan {
  const exact = kind.solve(wanted, size, {})
  const ids = Object.keys(exact ?? {})
  return {
    kind,
    wanted,
    slots: ids.map((id): Slot => ({ id, kind: slotKind(id), ...(kind.atLeast?.includes(id) && { atLeast: true }) })),
    solve: (chosen) => kind.solve(wanted, size, chosen),
  }
}

const horner = (p: Polynomial, s: Complex, value: (text: string) => number): Complex =>
  p.reduceRight((sum, text) => add(multiply(sum, s), complex(value(text))), complex(0))

/** A section's response at a complex frequency, rad/s, by its closed form. */
export function sectionResponse(kind: SectionKind, values: Values, s: Complex): Complex {
  const of = (text: string) => valueOf(text, values)
  return scale(divide(horner(kind.numerator, s, of), horner(kind.denominator, s, of)), kind.sign)
}

/** What a part does to a section: relative changes for a relative change of its value. */
export interface SectionSensitivity {
  readonly omega: number
  readonly q: number
  /** Of the zeros' frequency; null without zeros off the origin. */
  readonly zero: number | null
  /** Of the factor of the highest power of s. */
  readonly gain: number
}

/**
 * Sensitivities of a section in closed form, by differentiation of ω₀² = d₀/d₂ and Q = √(d₀·d₂)/d₁ (common practice, no
 * source); of a denominator of third order, in which a zero hides one root, by the shift −(∂D/∂ln x)/(∂D/∂s) of the others.
 */
export function sectionSensitivities(
  kind: SectionKind,
  values: Values,
  wanted: Biquad,
): Record<string, SectionSensitivity> {
  return Object.fromEntries(
    Object.keys(values).map((part) => {
      const [n, d] = [kind.numerator, kind.denominator].map((p) => p.map((text) => derivedBy(text, values, part)))
      return [part, { ...poleMotion(d, wanted), ...zeroMotion(n, d, wanted) }]
    }),
  )
}

const relative = ([value, slope]: Dual): number => (value === 0 ? 0 : slope / value)

function poleMotion(d: readonly Dual[], { w0, q }: Biquad): Pick<SectionSensitivity, 'omega' | 'q'> {
  if (d.length === 2) return { omega: relative(d[0]) - relative(d[1]), q: 0 }
  if (d.length === 3) {
    const [low, middle, high] = d.map(relative)
    return { omega: (low - high) / 2, q: (low + high) / 2 - middle }
  }
  const roots = quadraticRoots(w0, w0 / q)
  const shifts = roots.map((p) => shiftOf(d, p))
  const omega = shifts.reduce((sum, shift, k) => sum + divide(shift, roots[k]).re, 0) / 2
  return { omega, q: omega + ((shifts[0].re + shifts[1].re) * q) / w0 }
}

function zeroMotion(n: readonly Dual[], d: readonly Dual[], wanted: Biquad): Pick<SectionSensitivity, 'zero' | 'gain'> {
  const leading = (p: readonly Dual[]) => relative(p.findLast(([value]) => value !== 0)!)
  const gain = leading(n) - leading(d)
  const [n0, , n2] = wanted.n
  if (wanted.order === 1 || n0 <= 0 || n2 <= 0) return { zero: null, gain }
  if (n.length === 3) return { zero: (relative(n[0]) - relative(n[2])) / 2, gain }
  const zero = complex(0, Math.sqrt(n0 / n2))
  return { zero: divide(shiftOf(n, zero), zero).re, gain }
}

/** How a simple root moves. */
function shiftOf(p: readonly Dual[], root: Complex): Complex {
  const sum = (terms: readonly number[]) => terms.reduceRight((s, c) => add(multiply(s, root), complex(c)), complex(0))
  return scale(divide(sum(p.map(([, slope]) => slope)), sum(p.slice(1).map(([value], k) => (k + 1) * value))), -1)
}

/** The sum of all parts' |d ln|H|/d ln x| at a frequency, rad/s. */
export function magnitudeSensitivity(kind: SectionKind, values: Values, omega: number): number {
  const s = complex(0, omega)
  return Object.keys(values).reduce((sum, part) => {
    const log = (p: Polynomial) =>
      divide(
        horner(p, s, (text) => derivedBy(text, values, part)[1]),
        horner(p, s, (text) => valueOf(text, values)),
      ).re
    return sum + Math.abs(log(kind.numerator) - log(kind.denominator))
  }, 0)
}
