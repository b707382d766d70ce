import type { Decimal } from 'decimal.js'
import { type Polynomial, Precise, type PreciseRoot, product } from './precise.js'
import { abs, add, type Complex, complex, divide, subtract } from './complex.js'

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
  for (let iteration = 0; iteration < MOST_ITERATIONS; iteration++) {
    let moved = 0
    for (let k = 0; k < roots.length; k++) {
      const step = newton(roots[k])
      let repulsion = complex(0)
      for (let j = 0; j < roots.length; j++) {
        if (j !== k) repulsion = add(repulsion, divide(complex(1), subtract(roots[k], roots[j])))
      }
      const factor = complex(
        1 - (step.re * repulsion.re - step.im * repulsion.im),
        -(step.re * repulsion.im + step.im * repulsion.re),
      )
      const delta = divide(step, factor)
      roots[k] = subtract(roots[k], delta)
      moved = Math.max(moved, abs(delta) / abs(roots[k]))
    }
    if (moved < 4e-16) break
  }
  return roots
}

/** Double roots are come to by halves. */
const MOST_POLISHES = 150

/** Finished roots as near as this, relative to their size, may be one root found twice. */
const SAME = 1e-9
const MOST_PRECISE_ITERATIONS = 120

/**
 * Roots of a real polynomial, each to the last digit of a double: found with doubles, finished with 50 decimal digits.
 *
 * @param coefficients of z⁰, z¹, …, exact
 */
export function preciseRoots(coefficients: readonly Decimal.Value[]): Complex[] {
  return preciseUpperRoots(coefficients).flatMap(({ re, im }) => {
    const [x, y] = [re.toNumber(), im.toNumber()]
    return y === 0 ? [complex(x)] : [complex(x, y), complex(x, -y)]
  })
}

/** The same with all their digits, those of the upper half plane and the real ones. */
export function preciseUpperRoots(coefficients: readonly Decimal.Value[]): PreciseRoot[] {
  const exact = coefficients.map((c) => new Precise(c))
  const n = exact.length - 1
  // Scaled so that the first and the last coefficient are of one size: the roots then lie around the unit circle.
  const radius = exact[0].div(exact[n]).abs().pow(new Precise(1).div(n))
  const scaled = exact.map((c, k) => c.div(exact[0]).mul(radius.pow(k)))
  const rough = scaled.map(Number)
  const starts = Array.from({ length: n }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.37)) / n
    return complex(Math.cos(angle), Math.sin(angle))
  })
  const newton = (z: Complex): Complex => {
    let [v, d] = [complex(rough[n]), complex(0)]
    for (let k = n - 1; k >= 0; k--) {
      d = complex(d.re * z.re - d.im * z.im + v.re, d.re * z.im + d.im * z.re + v.im)
      v = complex(v.re * z.re - v.im * z.im + rough[k], v.re * z.im + v.im * z.re)
    }
    return divide(v, d)
  }
  const found = simultaneousRoots(newton, starts)
  const real = found.filter((z) => Math.abs(z.im) <= REAL * abs(z)).map((z) => complex(z.re))
  const upper = found.filter((z) => z.im > REAL * abs(z))
  const finished = [...upper, ...real].map((z) => polished(scaled, z))
  const sound = upper.length * 2 + real.length === n && apart(finished) && rebuilds(scaled, finished)
  const roots = sound ? finished : preciselySimultaneous(scaled, found)
  return roots.map(({ re, im }) => ({ re: re.mul(radius), im: im.mul(radius) }))
}

/** Whether the roots multiply to the polynomial: none was found twice, none is missing. */
function rebuilds(scaled: readonly Decimal[], roots: readonly PreciseRoot[]): boolean {
  const factors = roots.map(({ re, im }): Polynomial =>
    im.isZero() ? [re.neg(), new Precise(1)] : [re.mul(re).add(im.mul(im)), re.mul(-2), new Precise(1)],
  )
  const whole = product(factors)
  const lead = scaled.at(-1)!
  const size = scaled.reduce((most, c) => Precise.max(most, c.abs()), new Precise(0))
  return (
    whole.length === scaled.length && whole.every((c, k) => c.mul(lead).sub(scaled[k]).abs().lte(size.mul(REBUILT)))
  )
}

/** What rounding may leave between a polynomial and the product of its roots. */
const REBUILT = 1e-25

function apart(roots: readonly PreciseRoot[]): boolean {
  const plain = roots.map(({ re, im }) => complex(re.toNumber(), im.toNumber()))
  return plain.every((a, k) => plain.slice(k + 1).every((b) => abs(subtract(a, b)) > SAME * abs(a)))
}

/** Ehrlich's and Aberth's iteration with all digits, where doubles have not told the roots apart. */
function preciselySimultaneous(scaled: readonly Decimal[], starts: readonly Complex[]): PreciseRoot[] {
  const roots = starts.map((z, k) => {
    // Two starts in one place would stay together.
    const turn = 1 + 1e-9 * (k + 1)
    return { re: new Precise(z.re * turn), im: new Precise(z.im * turn + 1e-12 * abs(z) * (k % 2 === 0 ? 1 : -1)) }
  })
  for (let iteration = 0; iteration < MOST_PRECISE_ITERATIONS; iteration++) {
    let moved = new Precise(0)
    for (let k = 0; k < roots.length; k++) {
      const step = newtonStep(scaled, roots[k])
      let [sr, si] = [new Precise(0), new Precise(0)]
      for (let j = 0; j < roots.length; j++) {
        if (j === k) continue
        const [dx, dy] = [roots[k].re.sub(roots[j].re), roots[k].im.sub(roots[j].im)]
        const size = dx.mul(dx).add(dy.mul(dy))
        if (size.isZero()) continue
        ;[sr, si] = [sr.add(dx.div(size)), si.sub(dy.div(size))]
      }
      const [fr, fi] = [
        new Precise(1).sub(step.re.mul(sr).sub(step.im.mul(si))),
        step.re.mul(si).add(step.im.mul(sr)).neg(),
      ]
      const size = fr.mul(fr).add(fi.mul(fi))
      const delta = {
        re: step.re.mul(fr).add(step.im.mul(fi)).div(size),
        im: step.im.mul(fr).sub(step.re.mul(fi)).div(size),
      }
      roots[k] = { re: roots[k].re.sub(delta.re), im: roots[k].im.sub(delta.im) }
      moved = Precise.max(moved, delta.re.abs().add(delta.im.abs()))
    }
    if (moved.lt(1e-40)) break
  }
  return roots.flatMap(({ re, im }) => {
    if (im.abs().lte(re.abs().mul(PRECISELY_REAL))) return [{ re, im: new Precise(0) }]
    return im.isPositive() ? [{ re, im }] : []
  })
}

/** As `REAL`, of roots with all digits; double real ones part by half of these. */
const PRECISELY_REAL = 1e-15

/** Roots whose imaginary part is below this part of them are real: those of a real polynomial come in pairs else. */
const REAL = 1e-6

function polished(scaled: readonly Decimal[], start: Complex): PreciseRoot {
  let root: PreciseRoot = { re: new Precise(start.re), im: new Precise(start.im) }
  for (let iteration = 0; iteration < MOST_POLISHES; iteration++) {
    const step = newtonStep(scaled, root)
    root = { re: root.re.sub(step.re), im: root.im.sub(step.im) }
    if (step.re.abs().add(step.im.abs()).lt(1e-40)) break
  }
  return root
}

/** Value over derivative; 0 where the derivative is. */
function newtonStep(coefficients: readonly Decimal[], { re: x, im: y }: PreciseRoot): PreciseRoot {
  let [vr, vi] = [coefficients.at(-1)!, new Precise(0)]
  let [dr, di] = [new Precise(0), new Precise(0)]
  for (let k = coefficients.length - 2; k >= 0; k--) {
    ;[dr, di] = [dr.mul(x).sub(di.mul(y)).add(vr), dr.mul(y).add(di.mul(x)).add(vi)]
    ;[vr, vi] = [vr.mul(x).sub(vi.mul(y)).add(coefficients[k]), vr.mul(y).add(vi.mul(x))]
  }
  const size = dr.mul(dr).add(di.mul(di))
  if (size.isZero()) return { re: size, im: size }
  return { re: vr.mul(dr).add(vi.mul(di)).div(size), im: vi.mul(dr).sub(vr.mul(di)).div(size) }
}
