import type { Decimal } from 'decimal.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import {
  onAxis,
  overResonance,
  parity,
  plus,
  type Polynomial,
  polynomial,
  Precise,
  type PreciseRoot,
  product,
  upTo,
} from '../../numeric/precise.js'
import { preciseUpperRoots } from '../../numeric/simultaneousRoots.js'
import type { Arm } from './ladderArms.js'
import type { FirstPart } from './ladderElements.js'

/** A low-pass ladder for 1 Ω at its source (or, without one, at its load) and 1 rad/s. */
export interface Ladder {
  readonly arms: readonly Arm[]
}

/** Orders of the transmission zeros that are tried at the most. */
const MOST_ORDERS = 48

/** A coefficient this far below the largest is the rounding of the poles. */
const VANISHING = 1e-13

/** A transmission this little above the possible is rounding. */
const ROUNDING = 1e-9

/** The polynomial with these roots in the left half plane and their mirror images. */
function fromRoots(h: TransferFunction): Polynomial {
  return product(
    h.poles.flatMap(({ re, im }) => {
      if (im < 0) return []
      if (im === 0) return [polynomial(-re, 1)]
      const [x, y] = [new Precise(re), new Precise(im)]
      return [polynomial(x.mul(x).add(y.mul(y)), x.mul(-2), 1)]
    }),
  )
}

/** ω² of the transmission zeros on the axis. */
const zerosSquared = (h: TransferFunction): Decimal[] =>
  h.zeros.filter((z) => z.im > 0).map((z) => new Precise(z.im).pow(2))

/** a(s)·a(−s) as a polynomial in s². */
function squared(a: Polynomial): Polynomial {
  const mirrored = a.map((c, k) => (k % 2 === 1 ? c.neg() : c))
  const result = a.map(() => new Precise(0))
  a.forEach((x, i) =>
    mirrored.forEach((y, j) => {
      if ((i + j) % 2 === 0) result[(i + j) / 2] = result[(i + j) / 2].add(x.mul(y))
    }),
  )
  return result
}

/**
 * F and D where the roots of F are known, on the axis, ω ≥ 0 with multiplicity: D(s)·D(−s) = F(s)·F(−s) + κ²·N(s)·N(−s) is
 * factored anew, so that the three belong together to the last digit; poles and zeros of an elliptic response, each rounded
 * for itself, would leave a ladder of order 11 half of them.
 */
function matched(h: TransferFunction, rounded: Polynomial, known: readonly number[]): { d: Polynomial; f: Polynomial } {
  const f = product(known.map((w) => (w === 0 ? polynomial(0, 1) : polynomial(new Precise(w).pow(2), 0, 1))))
  const zeros = zerosSquared(h)
  if (zeros.length === 0) return { d: rounded, f }
  const n = product(zeros.map((w2) => polynomial(w2, 0, 1)))
  const whole = plus(squared(f), squared(n), rounded[0].div(n[0]).pow(2))
  return { d: product(preciseUpperRoots(whole).map(halfPlane)), f }
}

/**
 * The reflection's numerator F, monic, with F(s)·F(−s) = D(s)·D(−s) − K·N(s)·N(−s): its roots lie in the left half plane.
 *
 * @param passed |S21|² at DC
 */
function reflection(h: TransferFunction, d: Polynomial, passed: number): Polynomial {
  const order = d.length - 1
  const n = product(zerosSquared(h).map((w2) => polynomial(w2, 0, 1)))
  const ratio = d[0].div(n[0]).pow(2).mul(passed)
  let rest = plus(squared(d), squared(n), ratio.neg())
  // Where all of the power passes at DC, one root there is exact, and more may be, which rounding alone keeps off.
  let atOrigin = 0
  const vanishing = rest.reduce((most, c) => Precise.max(most, c.abs()), new Precise(0)).mul(VANISHING)
  while (passed === 1 && rest.length > 1 && (atOrigin === 0 || rest[0].abs().lt(vanishing))) {
    rest = rest.slice(1)
    atOrigin++
  }
  const roots = rest.length > 1 ? preciseUpperRoots(rest) : []
  const factors = roots.map((x) => halfPlane(x))
  const f = product([...factors, ...Array.from({ length: atOrigin }, () => polynomial(0, 1))])
  return upTo(f, order)
}

/** The factor with roots s in the left half plane whose squares are x (and its conjugate). */
function halfPlane({ re, im }: PreciseRoot): Polynomial {
  const size = re.pow(2).add(im.pow(2)).sqrt()
  if (im.isZero()) {
    // A real square: a real root, or, below zero, a pair on the axis.
    return re.isNegative() ? polynomial(re.neg(), 0, 1) : polynomial(re.sqrt(), 1)
  }
  // s = −√((|x| + Re x)/2) ± j…: s² + 2·a·s + |x|
  const larger = size.add(re.abs()).div(2).sqrt()
  const a = re.isNegative() ? im.abs().div(larger.mul(2)) : larger
  return polynomial(size, a.mul(2), 1)
}

/**
 * A ladder between two resistances: reflection by spectral factorisation, then elements one after the other, transmission
 * zeros in every order, the one with positive values and the least spread chosen.
 *
 * Sources: S. Darlington, J. Math. Phys. 18, 1939, 257–353; L. Weinberg, "Network Analysis and Synthesis", 1962.
 *
 * @param ratio load over source resistance
 * @param reflectionZeros where all the power passes: roots of the reflection on the axis, ω ≥ 0, if the family knows them
 * @returns null where no values are positive, or `first` is not to be had
 */
export function doublyTerminated(
  h: TransferFunction,
  ratio: number,
  first: FirstPart | undefined,
  reflectionZeros: readonly number[] | null,
): Ladder | null {
  const passed = (4 * ratio) / (1 + ratio) ** 2
  const rounded = fromRoots(h)
  const { d, f } = reflectionZeros
    ? matched(h, rounded, reflectionZeros)
    : { d: rounded, f: reflection(h, rounded, passed) }
  const tries: [Polynomial, FirstPart][] = []
  for (const g of ratio === 1 ? [f] : [f, mirrored(f)]) {
    for (const sign of [1, -1]) {
      // S11 at DC is what the resistances alone reflect.
      if (ratio !== 1 && Math.sign(ratio - 1) !== sign * Math.sign(g[0].toNumber())) continue
      const signed = g.map((c) => c.mul(sign))
      // A reflection of +1 at infinity begins with a coil in the line, −1 with a capacitor to ground.
      tries.push([signed, sign === 1 ? 'series' : 'shunt'])
    }
  }
  const wanted = tries.filter(([, place]) => first === undefined || place === first)
  const order =
    first === undefined ? [...wanted].sort(([, a], [, b]) => Number(b === 'shunt') - Number(a === 'shunt')) : wanted
  for (const [signed, place] of order) {
    const [sum, difference] = [plus(d, signed), plus(d, signed, -1)]
    const degree = d.length - 1
    // Z = (D + F)/(D − F); whichever of the two keeps its degree is above.
    const above = place === 'series' ? sum : difference
    const below = upTo(place === 'series' ? difference : sum, degree - 1)
    const ladder = extract(above, below, zerosSquared(h), place)
    if (ladder) return ladder
  }
  return null
}

/** The same with all roots moved over to the right half plane, which at odd orders exchanges what the ladder begins with. */
const mirrored = (f: Polynomial): Polynomial => f.map((c, k) => ((f.length - 1 - k) % 2 === 0 ? c : c.neg()))

/**
 * A ladder from an ideal voltage source into a load of 1 Ω, or from a source of 1 Ω into an open end: the arms from the
 * terminated end on.
 *
 * Source: L. Weinberg, "Network Analysis and Synthesis", 1962, ch. 10.
 */
export function singlyTerminated(h: TransferFunction, open: 'source' | 'load'): Ladder | null {
  const d = fromRoots(h)
  const order = d.length - 1
  const [higher, lower] = [parity(d, order % 2 === 1), upTo(parity(d, order % 2 === 0), order - 1)]
  // Seen from the load with the source shorted, y = m/n (order odd): a coil first; from the source with the load open, z = m/n.
  const odd = order % 2 === 1
  const place: FirstPart = (open === 'source') === odd ? 'series' : 'shunt'
  return extract(higher, lower, zerosSquared(h), place)
}

/**
 * Takes a reactance with a pole at infinity apart. Before each zero as much is taken out of that pole as puts a zero of
 * what is left at the transmission zero; its inverse then has a resonant arm to give away.
 */
function extract(above: Polynomial, below: Polynomial, zeros: readonly Decimal[], first: FirstPart): Ladder | null {
  let best: { arms: Arm[]; spread: number } | null = null
  let tried = 0
  const other: FirstPart = first === 'series' ? 'shunt' : 'series'
  const walk = (num: Polynomial, den: Polynomial, left: readonly Decimal[], arms: readonly Arm[]): void => {
    if (tried >= MOST_ORDERS) return
    const number = arms.length + 1
    if (left.length === 0) {
      tried++
      const all = finish(num, den, first, arms)
      if (!all) return
      const spread = spreadOf(all)
      if (!best || spread < best.spread) best = { arms: all, spread }
      return
    }
    left.forEach((w2, k) => {
      const [n, m] = [onAxis(num, w2), onAxis(den, w2)]
      // W(jω)/(jω), W being imaginary there: the larger parts of both tell it.
      const w = w2.sqrt()
      const value = m.re.abs().gt(m.im.abs()) ? n.im.div(m.re.mul(w)) : n.re.neg().div(m.im.mul(w))
      if (!value.isPositive() || value.isZero()) return
      const numLeft = overResonance(plus(num, den, value.neg(), 1), w2)
      const at = onAxis(numLeft, w2)
      // 1/c = den/(s·num) at the zero.
      const inverse = at.re.abs().gt(at.im.abs()) ? m.im.div(w.mul(at.re)) : m.re.neg().div(w.mul(at.im))
      if (!inverse.isPositive() || inverse.isZero()) return
      const denLeft = overResonance(plus(den, numLeft, inverse.neg(), 1), w2)
      const c = 1 / inverse.toNumber()
      const l = inverse.div(w2).toNumber()
      const resonant: Arm =
        other === 'series'
          ? { place: 'series', c, l, joined: 'parallel', number: number + 1 }
          : { place: 'shunt', l: c, c: l, joined: 'series', number: number + 1 }
      walk(numLeft, upTo(denLeft, numLeft.length - 2), left.toSpliced(k, 1), [
        ...arms,
        element(first, value, number),
        resonant,
      ])
    })
  }
  walk(above, below, zeros, [])
  return best
}

/** What is left without transmission zeros but those at infinity: one element after the other. */
function finish(above: Polynomial, below: Polynomial, first: FirstPart, before: readonly Arm[]): Arm[] | null {
  let [num, den, place] = [above, below, first]
  const arms = [...before]
  while (num.length > 1 && den.length > 0) {
    const value = num.at(-1)!.div(den.at(-1)!)
    if (!value.isPositive() || value.isZero()) return null
    arms.push(element(place, value, arms.length + 1))
    const rest = upTo(plus(num, den, value.neg(), 1), den.length - 2)
    ;[num, den, place] = [den, rest, place === 'series' ? 'shunt' : 'series']
    if (den.length === 0) break
  }
  return arms
}

const element = (place: FirstPart, value: Decimal, number: number): Arm =>
  place === 'series' ? { place, l: value.toNumber(), number } : { place, c: value.toNumber(), number }

/** Largest over smallest of the coils, times the same of the capacitors. */
function spreadOf(arms: readonly Arm[]): number {
  const ratio = (values: number[]) => (values.length > 0 ? Math.max(...values) / Math.min(...values) : 1)
  return (
    ratio(arms.flatMap((a) => (a.l === undefined ? [] : [a.l]))) *
    ratio(arms.flatMap((a) => (a.c === undefined ? [] : [a.c])))
  )
}

/** Load over source resistance from which on (and its inverse) a response can be had: its DC must not lie above its top. */
export function leastRatio(dcDb: number): number {
  const k = Math.sqrt(Math.max(0, -Math.expm1((dcDb * Math.LN10) / 10)))
  return dcDb >= -ROUNDING ? 1 : (1 + k) / (1 - k)
}
