import { type Complex, complex, multiply } from '../../numeric/complex.js'
import { magnitudeDb, type TransferFunction } from '../../numeric/transferFunction.js'
import {
  type Arithmetic,
  QUAD_DOUBLES,
  DOUBLE_DOUBLES,
  type Polynomial,
  Polynomials,
  type Real,
  upTo,
} from '../../numeric/real.js'
import { type PreciseRoot, preciseUpperRoots } from '../../numeric/simultaneousRoots.js'
import { type Arm, passedBy } from './ladderArms.js'
import type { FirstPart } from './ladderElements.js'

/** A low-pass ladder for 1 Ω at its source (or, without one, at its load) and 1 rad/s. */
export interface Ladder {
  readonly arms: readonly Arm[]
  /** Which transmission zero was taken out first, second, …, as places in their list. */
  readonly taken: readonly number[]
}

/** Orders of the transmission zeros that are tried at the most. */
const MOST_ORDERS = 48

/** The same where 60 digits are needed, which take their time. */
const MOST_SLOW_ORDERS = 4

/** A coefficient this far below the largest is the rounding of the poles. */
const VANISHING = 1e-13

/** A transmission this little above the possible is rounding. */
const ROUNDING = 1e-9

/** Orders up to which 31 digits have always been enough to tell that no values are positive. */
const TOLD_APART = 10

/** A ladder that misses its response by less than this, dB, has kept its digits. */
const KEPT_DB = 1e-9

/** One that misses it by more than this has lost them. */
const LOST_DB = 1e-6

/** Frequencies inside the passband at which a ladder is held against its response. */
const PROOFS = [0.07, 0.23, 0.41, 0.58, 0.71, 0.83, 0.92, 0.98, 1]

/**
 * A ladder between two resistances: reflection by spectral factorisation, then elements one after the other, transmission
 * zeros in every order, the one with positive values and the least spread chosen. 31 digits are tried first and 60 where
 * the ladder does not come out as its response.
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
  return withEnoughDigits(h, { source: 1, load: ratio }, (synthesis) =>
    synthesis.doublyTerminated(ratio, first, reflectionZeros),
  )
}

/**
 * A ladder from an ideal voltage source into a load of 1 Ω, or from a source of 1 Ω into an open end: the arms from the
 * terminated end on.
 *
 * Source: L. Weinberg, "Network Analysis and Synthesis", 1962, ch. 10.
 */
export function singlyTerminated(h: TransferFunction, open: 'source' | 'load'): Ladder | null {
  const ends = open === 'load' ? { source: 1 } : { source: 0, load: 1, turned: true }
  return withEnoughDigits(h, ends, (synthesis) => synthesis.singlyTerminated(open))
}

/** Resistances at both ends, Ω; `turned` where the ladder is told from its load on. */
interface Ends {
  readonly source: number
  readonly load?: number
  readonly turned?: boolean
}

function withEnoughDigits(
  h: TransferFunction,
  ends: Ends,
  make: (synthesis: Synthesis) => Ladder | null,
): Ladder | null {
  const found = make(new Synthesis(h, DOUBLE_DOUBLES))
  if (found ? misses(h, found, ends) < KEPT_DB : h.poles.length <= TOLD_APART) return found
  // Fewer digits tell which order of the zeros is best, if not always the values.
  const precise = (found && make(new Synthesis(h, QUAD_DOUBLES, found.taken))) ?? make(new Synthesis(h, QUAD_DOUBLES))
  // What even these digits have lost is no ladder of this response.
  return precise && misses(h, precise, ends) < LOST_DB ? precise : null
}

/** The greatest difference, dB, between a ladder and its response inside the passband, both against DC. */
function misses(h: TransferFunction, ladder: Ladder, ends: Ends): number {
  const arms = ends.turned ? ladder.arms.toReversed() : ladder.arms
  const [dcDb, passedDb] = [magnitudeDb(h, 0), passedBy(arms, ends, 0)]
  const off = PROOFS.map((w) => Math.abs(passedBy(arms, ends, w) - passedDb - (magnitudeDb(h, w) - dcDb)))
  return Math.max(...off)
}

/** Whether a ladder passes at DC what its response has there against its top: then nothing is reflected at the top. */
const isMatched = (h: TransferFunction, passed: number): boolean =>
  Math.abs(passed - 10 ** (magnitudeDb(h, 0) / 10)) < 1e-12

/** Ladders of one response, by numbers of one kind. */
class Synthesis {
  private readonly p: Polynomials
  /** ω² of the transmission zeros on the axis. */
  private readonly zeros: readonly Real[]

  constructor(
    private readonly h: TransferFunction,
    private readonly arithmetic: Arithmetic,
    /** The only order of the zeros to be tried. */
    private readonly given?: readonly number[],
  ) {
    this.p = new Polynomials(arithmetic)
    this.zeros = h.zeros.flatMap((z) => (z.im > 0 ? [arithmetic.of(z.im).mul(z.im)] : []))
  }

  doublyTerminated(
    ratio: number,
    first: FirstPart | undefined,
    reflectionZeros: readonly number[] | null,
  ): Ladder | null {
    const { p } = this
    const passed = (4 * ratio) / (1 + ratio) ** 2
    const rounded = this.denominator()
    const { d, f } =
      reflectionZeros && isMatched(this.h, passed)
        ? this.matched(rounded, reflectionZeros)
        : { d: rounded, f: this.reflection(rounded, passed, reflectionZeros) }
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
      const [sum, difference] = [p.plus(d, signed), p.plus(d, signed, -1)]
      const degree = d.length - 1
      // Z = (D + F)/(D − F); whichever of the two keeps its degree is above.
      const above = place === 'series' ? sum : difference
      const below = upTo(place === 'series' ? difference : sum, degree - 1)
      const ladder = this.extract(above, below, place)
      if (ladder) return ladder
    }
    return null
  }

  singlyTerminated(open: 'source' | 'load'): Ladder | null {
    const { p } = this
    const d = this.denominator()
    const order = d.length - 1
    const odd = order % 2 === 1
    const [higher, lower] = [p.parity(d, odd), upTo(p.parity(d, !odd), order - 1)]
    // Seen from the load with the source shorted, y = m/n (order odd): a coil first; from the source with the load open, z = m/n.
    const place: FirstPart = (open === 'source') === odd ? 'series' : 'shunt'
    return this.extract(higher, lower, place)
  }

  /** The polynomial whose roots the poles are. */
  private denominator(): Polynomial {
    const { p, arithmetic } = this
    return p.product(
      this.h.poles.flatMap(({ re, im }) => {
        if (im < 0) return []
        if (im === 0) return [p.of(-re, 1)]
        const [x, y] = [arithmetic.of(re), arithmetic.of(im)]
        return [p.of(x.mul(x).add(y.mul(y)), x.mul(-2), 1)]
      }),
    )
  }

  private numerator(): Polynomial {
    return this.p.product(this.zeros.map((w2) => this.p.of(w2, 0, 1)))
  }

  /**
   * F and D where the roots of F are known, on the axis, ω ≥ 0 with multiplicity: D(s)·D(−s) = F(s)·F(−s) + κ²·N(s)·N(−s) is
   * factored anew, so that the three belong together to the last digit; poles and zeros of an elliptic response, each rounded
   * for itself, would leave a ladder of order 11 half of them.
   */
  private matched(rounded: Polynomial, known: readonly number[]): { d: Polynomial; f: Polynomial } {
    const { p, arithmetic } = this
    const f = p.product(known.map((w) => (w === 0 ? p.of(0, 1) : p.of(arithmetic.of(w).mul(w), 0, 1))))
    if (this.zeros.length === 0) return { d: rounded, f }
    const n = this.numerator()
    const size = rounded[0].div(n[0])
    const whole = p.plus(p.squared(f), p.squared(n), size.mul(size))
    const near = this.h.poles.flatMap((pole) => (pole.im < 0 ? [] : [multiply(pole, pole)]))
    const upper = near.map(({ re, im }) => complex(re, Math.abs(im)))
    const roots = preciseUpperRoots(upTo(whole, rounded.length - 1), arithmetic, { roots: upper, known: true })
    return { d: p.product(roots.map((x) => this.halfPlane(x))), f }
  }

  /**
   * The reflection's numerator F, monic, with F(s)·F(−s) = D(s)·D(−s) − K·N(s)·N(−s): its roots lie in the left half plane.
   *
   * @param passed |S21|² at DC
   * @param matched where it would have its roots if all the power passed there, ω ≥ 0
   */
  private reflection(d: Polynomial, passed: number, matched: readonly number[] | null): Polynomial {
    const { p } = this
    const order = d.length - 1
    const n = this.numerator()
    const size = d[0].div(n[0])
    const ratio = size.mul(size).mul(passed)
    let rest = upTo(p.plus(p.squared(d), p.squared(n), ratio.neg()), order)
    // Where all of the power passes at DC, one root there is exact, and more may be, which rounding alone keeps off.
    let atOrigin = 0
    const vanishing = VANISHING * Math.max(...rest.map((c) => Math.abs(c.toNumber())))
    while (passed === 1 && rest.length > 1 && (atOrigin === 0 || rest[0].abs().lt(vanishing))) {
      rest = rest.slice(1)
      atOrigin++
    }
    const near = matched && atOrigin === 0 ? this.beside(matched, d, passed) : undefined
    const roots = rest.length > 1 ? preciseUpperRoots(rest, this.arithmetic, near && { roots: near, known: false }) : []
    const f = p.product([...roots.map((x) => this.halfPlane(x)), ...Array.from({ length: atOrigin }, () => p.of(0, 1))])
    return upTo(f, order)
  }

  /**
   * Where the roots x = s² of F(s)·F(−s) lie next to those of the matched response, which are double: F₀F₀⁻ + (K₀ − K)·κ²·NN⁻,
   * each factor (x − x₀)² taken with the others at x₀. Undefined where more than one root lies at DC.
   */
  private beside(matched: readonly number[], d: Polynomial, passed: number): Complex[] | undefined {
    const zeros = this.zeros.map((w2) => w2.toNumber())
    const numerator = (x: number) => zeros.reduce((product, w2) => product * (x + w2), 1)
    const kappa = d[0].toNumber() / numerator(0)
    const rest = (10 ** (magnitudeDb(this.h, 0) / 10) - passed) * kappa * kappa
    if (matched.filter((w) => w === 0).length > 1 || !(rest > 0)) return undefined
    return matched.map((w) => {
      const x = -w * w
      const others = matched.reduce((product, v) => {
        if (v === w) return product
        return product * (v === 0 ? -x : (x + v * v) ** 2)
      }, 1)
      const off = (rest * numerator(x) ** 2) / others
      return w === 0 ? complex(off) : complex(x, Math.sqrt(off))
    })
  }

  /** The factor with roots s in the left half plane whose squares are x (and its conjugate). */
  private halfPlane({ re, im }: PreciseRoot): Polynomial {
    const { p } = this
    const size = re.mul(re).add(im.mul(im)).sqrt()
    if (im.isZero()) {
      // A real square: a real root, or, below zero, a pair on the axis.
      return re.lt(0) ? p.of(re.neg(), 0, 1) : p.of(re.sqrt(), 1)
    }
    // s = −√((|x| + Re x)/2) ± j…: s² + 2·a·s + |x|
    const larger = size.add(re.abs()).div(2).sqrt()
    const a = re.lt(0) ? im.abs().div(larger.mul(2)) : larger
    return p.of(size, a.mul(2), 1)
  }

  /**
   * Takes a reactance with a pole at infinity apart. Before each zero as much is taken out of that pole as puts a zero of
   * what is left at the transmission zero; its inverse then has a resonant arm to give away.
   */
  private extract(above: Polynomial, below: Polynomial, first: FirstPart): Ladder | null {
    const { p } = this
    let best: (Ladder & { spread: number }) | null = null
    let tried = 0
    const most = this.arithmetic === QUAD_DOUBLES ? MOST_SLOW_ORDERS : MOST_ORDERS
    const other: FirstPart = first === 'series' ? 'shunt' : 'series'
    const walk = (num: Polynomial, den: Polynomial, taken: readonly number[], arms: readonly Arm[]): void => {
      if (tried >= most) return
      const number = arms.length + 1
      if (taken.length === this.zeros.length) {
        tried++
        const all = this.finish(num, den, first, arms)
        if (!all) return
        const spread = spreadOf(all)
        if (!best || spread < best.spread) best = { arms: all, taken, spread }
        return
      }
      this.zeros.forEach((w2, k) => {
        if (taken.includes(k) || (this.given && this.given[taken.length] !== k)) return
        const [n, m] = [p.onAxis(num, w2), p.onAxis(den, w2)]
        // W(jω)/(jω), W being imaginary there: the larger parts of both tell it.
        const w = w2.sqrt()
        const value = m.re.abs().gt(m.im.abs()) ? n.im.div(m.re.mul(w)) : n.re.neg().div(m.im.mul(w))
        if (!value.gt(0)) return
        const numLeft = p.overResonance(p.plus(num, den, value.neg(), 1), w2)
        const at = p.onAxis(numLeft, w2)
        // 1/c = den/(s·num) at the zero.
        const inverse = at.re.abs().gt(at.im.abs()) ? m.im.div(w.mul(at.re)) : m.re.neg().div(w.mul(at.im))
        if (!inverse.gt(0)) return
        const denLeft = p.overResonance(p.plus(den, numLeft, inverse.neg(), 1), w2)
        const c = 1 / inverse.toNumber()
        const l = inverse.div(w2).toNumber()
        const resonant: Arm =
          other === 'series'
            ? { place: 'series', c, l, joined: 'parallel', number: number + 1 }
            : { place: 'shunt', l: c, c: l, joined: 'series', number: number + 1 }
        walk(
          numLeft,
          upTo(denLeft, numLeft.length - 2),
          [...taken, k],
          [...arms, element(first, value, number), resonant],
        )
      })
    }
    walk(above, below, [], [])
    return best
  }

  /** What is left without transmission zeros but those at infinity: one element after the other. */
  private finish(above: Polynomial, below: Polynomial, first: FirstPart, before: readonly Arm[]): Arm[] | null {
    const { p } = this
    let [num, den, place] = [above, below, first]
    const arms = [...before]
    while (num.length > 1 && den.length > 0) {
      const value = num.at(-1)!.div(den.at(-1)!)
      if (!value.gt(0)) return null
      arms.push(element(place, value, arms.length + 1))
      const rest = upTo(p.plus(num, den, value.neg(), 1), den.length - 2)
      ;[num, den, place] = [den, rest, place === 'series' ? 'shunt' : 'series']
    }
    return arms
  }
}

/** The same with all roots moved over to the right half plane, which at odd orders exchanges what the ladder begins with. */
const mirrored = (f: Polynomial): Polynomial => f.map((c, k) => ((f.length - 1 - k) % 2 === 0 ? c : c.neg()))

const element = (place: FirstPart, value: Real, number: number): Arm =>
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
