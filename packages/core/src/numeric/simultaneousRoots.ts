import { Decimal } from 'decimal.js'
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

/** Digits of the arithmetic in which ill-conditioned roots are finished. */
const Precise = Decimal.clone({ precision: 50 })
const MOST_POLISHES = 12

/**
 * Roots of a real polynomial, each to the last digit of a double: found with doubles, finished with 50 decimal digits.
 *
 * @param coefficients of z⁰, z¹, …, exact
 */
export function preciseRoots(coefficients: readonly Decimal.Value[]): Complex[] {
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
  const finished = [...upper, ...real].map((z) => polished(scaled, z, radius))
  return finished.flatMap((z) => (z.im === 0 ? [z] : [z, complex(z.re, -z.im)]))
}

/** Roots whose imaginary part is below this part of them are real: those of a real polynomial come in pairs else. */
const REAL = 1e-6

function polished(scaled: readonly Decimal[], start: Complex, radius: Decimal): Complex {
  let [x, y] = [new Precise(start.re), new Precise(start.im)]
  for (let iteration = 0; iteration < MOST_POLISHES; iteration++) {
    let [vr, vi] = [scaled.at(-1)!, new Precise(0)]
    let [dr, di] = [new Precise(0), new Precise(0)]
    for (let k = scaled.length - 2; k >= 0; k--) {
      ;[dr, di] = [dr.mul(x).sub(di.mul(y)).add(vr), dr.mul(y).add(di.mul(x)).add(vi)]
      ;[vr, vi] = [vr.mul(x).sub(vi.mul(y)).add(scaled[k]), vr.mul(y).add(vi.mul(x))]
    }
    const size = dr.mul(dr).add(di.mul(di))
    const [stepX, stepY] = [vr.mul(dr).add(vi.mul(di)).div(size), vi.mul(dr).sub(vr.mul(di)).div(size)]
    ;[x, y] = [x.sub(stepX), y.sub(stepY)]
    if (stepX.abs().add(stepY.abs()).lt(1e-25)) break
  }
  return complex(x.mul(radius).toNumber(), y.mul(radius).toNumber())
}
