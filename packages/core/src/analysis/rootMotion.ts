import { abs, add, type Complex, complex, conjugate, divide, multiply, scale, subtract } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import type { Mna } from './mna.js'
import { RelativeSlopes, type Sensitive, sensitiveParts } from './sensitivity.js'
import type { SignalLike } from './signals.js'

/** How a response's roots and gain follow one number x of its circuit: x·d/dx. */
export interface RootMotion {
  readonly name: string
  /** rad/s, for each root of the response, in its order */
  readonly poles: readonly Complex[]
  readonly zeros: readonly Complex[]
  /** d ln gain */
  readonly gain: number
}

/** Points of the circle around a root, and its radius as a part of the way to the next one: the eighth power is left. */
const POINTS = 8
const RADIUS = 0.04

/** Roots nearer to each other than this part of their size move together, and not by a slope. */
const DOUBLE = 1e-3

/**
 * The motion of every root and of the gain with every part's value. d ln H/d ln x has a simple pole at each root, whose residue
 * is the root's motion with the sign of its kind; the residue is the mean of (s − root)·d ln H over a circle around it
 * (trapezoidal rule, which is exact but for the eighth power of radius over distance to the next root).
 *
 * @param h the response by its roots, as `polesAndZeros` has it
 * @returns null where two roots lie too near to each other, or where roots that cancel part as a value changes
 * @throws VoskelError as `RelativeSlopes`
 */
export function rootMotions(
  mna: Mna,
  h: TransferFunction,
  options: { input?: string; output?: SignalLike } = {},
  to: readonly Sensitive[] = sensitiveParts(mna),
): RootMotion[] | null {
  const all = [...h.poles, ...h.zeros]
  const sizes = all.map(abs).filter((v) => v > 0)
  if (sizes.length === 0) return null
  const least = sizes.reduce((a, b) => Math.min(a, b))
  const slopes = new RelativeSlopes(mna, options, to, [least, sizes.reduce((a, b) => Math.max(a, b))])
  const moved = new Map<Complex, readonly Complex[]>()
  for (const root of all) {
    if (root.im < 0) continue
    const gap = all.reduce((nearest, r) => (r === root ? nearest : Math.min(nearest, abs(subtract(r, root)))), Infinity)
    const size = abs(root)
    if (size > 0 && gap < DOUBLE * size) return null
    const radius = RADIUS * Math.min(gap, size > 0 ? size : least)
    if (!(radius > 0)) return null
    moved.set(root, residues(slopes, root, radius, to.length))
  }
  const motionOf = (root: Complex, list: readonly Complex[], k: number): Complex => {
    const own = moved.get(root)
    if (own) return own[k]
    const twin = list.find((r) => r.im > 0 && r.re === root.re && r.im === -root.im)!
    return conjugate(moved.get(twin)![k])
  }
  const perPart = to.map(({ name }, k) => ({
    name,
    // ln H holds −ln(s − p): its residue is the pole's own motion, a zero's the other way.
    poles: h.poles.map((p) => motionOf(p, h.poles, k)),
    zeros: h.zeros.map((z) => scale(motionOf(z, h.zeros, k), -1)),
  }))
  // What is left at a place clear of the roots is the gain's.
  const place = complex(1.7 * sizes.reduce((a, b) => Math.max(a, b)))
  const there = slopes.at(place)
  const changeAt = (s: Complex, part: Pick<RootMotion, 'poles' | 'zeros'>): Complex => {
    const sum = (roots: readonly Complex[], moves: readonly Complex[]) =>
      roots.reduce((total, r, j) => add(total, divide(moves[j], subtract(s, r))), complex(0))
    return subtract(sum(h.poles, part.poles), sum(h.zeros, part.zeros))
  }
  const motions = perPart.map((part, k) => ({ ...part, gain: there[k].re - changeAt(place, part).re }))
  // What is seen elsewhere must be what these roots say.
  const isWhole = [1.3 * least, 2.1 * place.re].every((omega) => {
    const s = complex(0, omega)
    const seen = slopes.at(s)
    return motions.every((part, k) => {
      const said = add(changeAt(s, part), complex(part.gain))
      return !(abs(subtract(said, seen[k])) > AGREED * Math.max(1, abs(seen[k])))
    })
  })
  return isWhole ? motions : null
}

/** What a motion may miss of the change that the circuit itself shows. */
const AGREED = 1e-5

/** The mean of (s − root)·d ln H over a circle, for each number. */
function residues(slopes: RelativeSlopes, root: Complex, radius: number, count: number): Complex[] {
  const sums = Array.from({ length: count }, () => complex(0))
  const isReal = root.im === 0
  for (let n = 0; n < POINTS; n++) {
    const angle = (2 * Math.PI * (n + 0.5)) / POINTS
    // Around a real root the lower half mirrors the upper one.
    if (isReal && angle > Math.PI) continue
    const away = { re: radius * Math.cos(angle), im: radius * Math.sin(angle) }
    slopes.at(add(root, away)).forEach((value, k) => {
      const term = multiply(value, away)
      sums[k] = add(sums[k], isReal ? complex(2 * term.re) : term)
    })
  }
  return sums.map((v) => scale(v, 1 / POINTS))
}

/** A response after one number of its circuit has changed by a small part. */
export function movedResponse(h: TransferFunction, { poles, zeros, gain }: RootMotion, part: number): TransferFunction {
  const moved = (roots: readonly Complex[], by: readonly Complex[]) => roots.map((r, k) => add(r, scale(by[k], part)))
  return {
    ...h,
    poles: moved(h.poles, poles),
    zeros: moved(h.zeros, zeros),
    gain: h.gain * Math.exp(gain * part),
  }
}
