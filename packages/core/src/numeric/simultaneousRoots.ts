import { abs, type Complex, complex, divide, subtract } from './complex.js'
import { type Arithmetic, DOUBLE_DOUBLES, type Polynomial, Polynomials, type Real } from './real.js'

/** A root with all its digits. */
export interface PreciseRoot {
  readonly re: Real
  readonly im: Real
}

const MOST_ITERATIONS = 200

/**
 * All roots of a function with as many roots as starting points, by Ehrlich's and Aberth's iteration; simple roots.
 *
 * Source: O. Aberth, Math. Comp. 27, 1973, 339–344 (from memory).
 *
 * @param newton value over derivative at a point
 * @param starts distinct, none of them symmetric to the whole
 */
export function simultaneousRoots(newton: (z: Complex) => Complex, starts: readonly Complex[]): Complex[] {
  const roots = [...starts]
  let before = Infinity
  for (let iteration = 0; iteration < MOST_ITERATIONS; iteration++) {
    let moved = 0
    for (let k = 0; k < roots.length; k++) {
      const root = roots[k]
      const step = newton(root)
      // Σ 1/(zₖ − zⱼ), written out: this is where the time goes.
      let [re, im] = [0, 0]
      for (let j = 0; j < roots.length; j++) {
        if (j === k) continue
        const [x, y] = [root.re - roots[j].re, root.im - roots[j].im]
        const size = x * x + y * y
        re += x / size
        im -= y / size
      }
      const delta = divide(step, complex(1 - (step.re * re - step.im * im), -(step.re * im + step.im * re)))
      roots[k] = subtract(root, delta)
      moved = Math.max(moved, abs(delta) / abs(roots[k]))
    }
    // What is left moves by rounding alone.
    if (moved < 4e-16 || (moved < SETTLED && moved > before / 2)) break
    before = moved
  }
  return roots
}

/** Relative movement below which roots that do not come nearer have come as near as they can. */
const SETTLED = 1e-9

/** Double roots are come to by halves. */
const MOST_POLISHES = 150

/** Finished roots as near as this, relative to their size, may be one root found twice. */
const SAME = 1e-9
const MOST_PRECISE_ITERATIONS = 120

/**
 * Roots of a real polynomial, each to the last digit of a double: found with doubles, finished with the digits of its
 * coefficients.
 *
 * @param coefficients of z⁰, z¹, …, exact
 */
export function preciseRoots(coefficients: Polynomial, arithmetic: Arithmetic): Complex[] {
  return preciseUpperRoots(coefficients, arithmetic).flatMap(({ re, im }) => {
    const [x, y] = [re.toNumber(), im.toNumber()]
    return y === 0 ? [complex(x)] : [complex(x, y), complex(x, -y)]
  })
}

/**
 * The same with all their digits, those of the upper half plane and the real ones.
 *
 * @param near where the roots are or may be, conjugates left out: `known` to a double's digits, or about there
 */
export function preciseUpperRoots(
  exact: Polynomial,
  arithmetic: Arithmetic,
  near?: { readonly roots: readonly Complex[]; readonly known: boolean },
): PreciseRoot[] {
  const n = exact.length - 1
  // Scaled so that the first and the last coefficient are of one size: the roots then lie around the unit circle.
  const radius = Math.abs(exact[0].div(exact[n]).toNumber()) ** (1 / n)
  let power = arithmetic.of(1)
  const scaled = exact.map((c, k) => {
    if (k > 0) power = power.mul(radius)
    return c.div(exact[0]).mul(power)
  })
  const rough = scaled.map((c) => c.toNumber())
  const finisher = new Finisher(scaled, arithmetic)
  const known =
    near &&
    finisher.finished(
      near.roots.map((z) => complex(z.re / radius, z.im / radius)),
      near.known && arithmetic === DOUBLE_DOUBLES,
    )
  const finished = known ?? finishedFrom(scaled, arithmetic, finisher, found(rough))
  return finished.map(({ re, im }) => ({ re: re.mul(radius), im: im.mul(radius) }))
}

/** From what doubles have found; where that does not do, from what 31 digits find; where that does not, by all digits. */
function finishedFrom(
  scaled: Polynomial,
  arithmetic: Arithmetic,
  finisher: Finisher,
  doubles: readonly Complex[],
): PreciseRoot[] {
  const ready = finisher.finished(upperAndReal(doubles))
  if (ready || arithmetic === DOUBLE_DOUBLES) return ready ?? finisher.simultaneous(doubles)
  const fewer = scaled.map((c) => {
    const high = c.toNumber()
    return DOUBLE_DOUBLES.of(high).add(c.sub(high).toNumber())
  })
  const near = new Finisher(fewer, DOUBLE_DOUBLES).simultaneous(doubles)
  const again = finisher.finished(near.map(({ re, im }) => complex(re.toNumber(), im.toNumber())))
  return again ?? finisher.simultaneous(doubles)
}

/** Roots of the upper half plane, and real ones without what rounding has put beside the axis. */
function upperAndReal(found: readonly Complex[]): Complex[] {
  const real = found.filter((z) => Math.abs(z.im) <= REAL * abs(z)).map((z) => complex(z.re))
  return [...found.filter((z) => z.im > REAL * abs(z)), ...real]
}

/** All roots of a real polynomial whose roots lie around the unit circle, in doubles. */
function found(coefficients: readonly number[]): Complex[] {
  const n = coefficients.length - 1
  const starts = Array.from({ length: n }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.37)) / n
    return complex(Math.cos(angle), Math.sin(angle))
  })
  const newton = (z: Complex): Complex => {
    let [v, d] = [complex(coefficients[n]), complex(0)]
    for (let k = n - 1; k >= 0; k--) {
      d = complex(d.re * z.re - d.im * z.im + v.re, d.re * z.im + d.im * z.re + v.im)
      v = complex(v.re * z.re - v.im * z.im + coefficients[k], v.re * z.im + v.im * z.re)
    }
    return divide(v, d)
  }
  return simultaneousRoots(newton, starts)
}

/** What rounding may leave between a polynomial and the product of its roots. */
const REBUILT = 1e-25

/** Roundings that roots may have lost which lie near to each other; a root that is missing shows far more. */
const ROUNDINGS = 1e14

/** Roots whose imaginary part is below this part of them are real: those of a real polynomial come in pairs else. */
const REAL = 1e-6

/** The same of roots with all digits; double real ones part by half of these. */
const PRECISELY_REAL = 1e-15

/** A Newton step this small that shrinks no more is rounding. */
const STALLED = 1e-12

/** Gives roots that doubles have found the digits of their polynomial. */
class Finisher {
  private readonly zero: Real
  private readonly still: number
  private readonly polynomials: Polynomials

  constructor(
    private readonly scaled: Polynomial,
    private readonly arithmetic: Arithmetic,
  ) {
    this.zero = arithmetic.of(0)
    // Newton's steps double the digits: what a step of half of them leaves is rounding.
    this.still = 1e-3 * Math.sqrt(arithmetic.epsilon)
    this.polynomials = new Polynomials(arithmetic)
  }

  /**
   * Roots of the upper half plane and real ones, finished; null where these do not lead to all of them.
   *
   * @param known they are all there: what these digits leave open only more digits could tell
   */
  finished(near: readonly Complex[], known = false): PreciseRoot[] | null {
    const finished = near.map((z) => this.polished(z))
    const count = near.reduce((sum, z) => sum + (z.im === 0 ? 1 : 2), 0)
    return count === this.scaled.length - 1 && apart(finished) && (known || this.rebuilds(finished)) ? finished : null
  }

  /** Whether the roots multiply to the polynomial: none was found twice, none is missing. */
  private rebuilds(roots: readonly PreciseRoot[]): boolean {
    const { scaled, polynomials } = this
    const factors = roots.map(({ re, im }) =>
      im.isZero() ? polynomials.of(re.neg(), 1) : polynomials.of(re.mul(re).add(im.mul(im)), re.mul(-2), 1),
    )
    const whole = polynomials.product(factors)
    const lead = scaled.at(-1)!
    const size = Math.max(...scaled.map((c) => Math.abs(c.toNumber())))
    const most = size * Math.max(REBUILT, ROUNDINGS * this.arithmetic.epsilon)
    return whole.length === scaled.length && whole.every((c, k) => !c.mul(lead).sub(scaled[k]).abs().gt(most))
  }

  /** Ehrlich's and Aberth's iteration with all digits, where doubles have not told the roots apart. */
  simultaneous(starts: readonly Complex[]): PreciseRoot[] {
    const roots: PreciseRoot[] = starts.map((z, k) => {
      // Two starts in one place would stay together.
      const turn = 1 + 1e-9 * (k + 1)
      return {
        re: this.arithmetic.of(z.re * turn),
        im: this.arithmetic.of(z.im * turn + 1e-12 * abs(z) * (k % 2 === 0 ? 1 : -1)),
      }
    })
    for (let iteration = 0; iteration < MOST_PRECISE_ITERATIONS; iteration++) {
      let moved = 0
      for (let k = 0; k < roots.length; k++) {
        const step = this.newtonStep(roots[k])
        let [sr, si] = [this.zero, this.zero]
        for (let j = 0; j < roots.length; j++) {
          if (j === k) continue
          const [dx, dy] = [roots[k].re.sub(roots[j].re), roots[k].im.sub(roots[j].im)]
          const size = dx.mul(dx).add(dy.mul(dy))
          if (size.isZero()) continue
          ;[sr, si] = [sr.add(dx.div(size)), si.sub(dy.div(size))]
        }
        const fr = step.re.mul(sr).sub(step.im.mul(si)).neg().add(1)
        const fi = step.re.mul(si).add(step.im.mul(sr)).neg()
        const size = fr.mul(fr).add(fi.mul(fi))
        const re = step.re.mul(fr).add(step.im.mul(fi)).div(size)
        const im = step.im.mul(fr).sub(step.re.mul(fi)).div(size)
        roots[k] = { re: roots[k].re.sub(re), im: roots[k].im.sub(im) }
        moved = Math.max(moved, Math.abs(re.toNumber()) + Math.abs(im.toNumber()))
      }
      if (moved < this.still) break
    }
    return roots.flatMap(({ re, im }) => {
      if (!im.abs().gt(re.abs().mul(PRECISELY_REAL))) return [{ re, im: this.zero }]
      return im.gt(0) ? [{ re, im }] : []
    })
  }

  private polished(start: Complex): PreciseRoot {
    let root: PreciseRoot = { re: this.arithmetic.of(start.re), im: this.arithmetic.of(start.im) }
    let before = Infinity
    for (let iteration = 0; iteration < MOST_POLISHES; iteration++) {
      const step = this.newtonStep(root)
      root = { re: root.re.sub(step.re), im: root.im.sub(step.im) }
      const size = Math.abs(step.re.toNumber()) + Math.abs(step.im.toNumber())
      // Double roots are come to by halves.
      if (size < this.still || (size < STALLED && size > 0.6 * before)) break
      before = size
    }
    return root
  }

  /**
   * Value over derivative; 0 where the derivative is. Divided by z's own quadratic twice, which takes half of the work of
   * complex numbers: P = (t² − 2x·t + |z|²)·Q + b₁·(t − 2x) + b₀, and the same of Q. Source: L. Bairstow, Reports and
   * Memoranda 154, Advisory Committee for Aeronautics, 1914 (from memory).
   */
  private newtonStep({ re: x, im: y }: PreciseRoot): PreciseRoot {
    const { scaled, zero } = this
    const p = x.mul(2)
    const q = x.mul(x).add(y.mul(y))
    let [b0, b1, c2, c3] = [scaled.at(-1)!, zero, zero, zero]
    for (let k = scaled.length - 2; k >= 0; k--) {
      // The quotient's own division is two steps behind.
      if (k < scaled.length - 2) [c2, c3] = [b1.add(c2.mul(p)).sub(c3.mul(q)), c2]
      ;[b0, b1] = [scaled[k].add(b0.mul(p)).sub(b1.mul(q)), b0]
    }
    const [vr, vi] = [b0.sub(x.mul(b1)), y.mul(b1)]
    // P′(z) = b₁ + 2jy·Q(z)
    const twice = y.mul(2)
    const [dr, di] = [b1.sub(twice.mul(y.mul(c3))), twice.mul(c2.sub(x.mul(c3)))]
    const size = dr.mul(dr).add(di.mul(di))
    if (size.isZero()) return { re: size, im: size }
    return { re: vr.mul(dr).add(vi.mul(di)).div(size), im: vi.mul(dr).sub(vr.mul(di)).div(size) }
  }
}

function apart(roots: readonly PreciseRoot[]): boolean {
  const plain = roots.map(({ re, im }) => complex(re.toNumber(), im.toNumber()))
  return plain.every((a, k) => plain.slice(k + 1).every((b) => abs(subtract(a, b)) > SAME * abs(a)))
}
