import { abs, type Complex, complex, divide, subtract } from '../numeric/complex.js'
import { ComplexSystem } from './complexSystem.js'
import { bilinear } from './influence.js'
import type { Mna } from './mna.js'
import { type Sensitive, sensitiveParts } from './sensitivity.js'

/** How a natural frequency follows each value: d ln ω₀/d ln x and d ln Q/d ln x. */
export interface PoleSensitivity {
  /** rad/s */
  readonly pole: Complex
  /** |s|, rad/s, and |s|/(−2·Re s) */
  readonly w0: number
  readonly q: number
  readonly components: Readonly<Record<string, { readonly w0: number; readonly q: number }>>
}

/** The system is solved this near to a pole, relative to it: near enough to be all null vector, far enough to be solved. */
const NEAR = 1e-9
const ITERATIONS = 3

/** Two poles this close, relative to their size, are a double one, which moves with the root of a change. */
const DOUBLE = 1e-5

/**
 * Sensitivities of simple poles: with right and left null vectors x and y of G + s·C, ds = −yᵀ(dG + s·dC)x/(yᵀCx).
 * Inverse iteration finds the vectors.
 *
 * Source: P. Lancaster, Numerische Mathematik 6, 1964, 377–387 (from memory).
 *
 * @param poles rad/s; those in the lower half plane follow their conjugates and may be left out
 * @param among all natural frequencies, those that cancel in the transfer included
 * @returns for each pole; null for one that is not simple or at 0
 * @throws VoskelError `SINGULAR`
 */
export function poleSensitivities(
  mna: Mna,
  poles: readonly Complex[],
  among: readonly Complex[] = poles,
  to: readonly Sensitive[] = sensitiveParts(mna),
): (PoleSensitivity | null)[] {
  return poles.map((pole) => {
    const size = abs(pole)
    if (size === 0 || among.filter((other) => abs(subtract(other, pole)) <= DOUBLE * size).length > 1) return null
    const beside = complex(pole.re * (1 + NEAR) - pole.im * NEAR, pole.im * (1 + NEAR) + pole.re * NEAR)
    const system = new ComplexSystem(mna, [beside])
    system.factor(beside)
    let right: [number, number, number][] = start(mna.size)
    let left = right
    for (let k = 0; k < ITERATIONS; k++) {
      system.solve(right)
      system.solveAdjoint(left)
      right = weighted(mna, system.xRe, system.xIm, false)
      left = weighted(mna, system.yRe, system.yIm, true)
      normalize(system.xRe, system.xIm)
      normalize(system.yRe, system.yIm)
    }
    const below = system.adjointDerivative()
    const components = to.map(({ name, influence }) => {
      const moved = divide(bilinear(influence, pole, system), below)
      const ds = complex(-moved.re, -moved.im)
      const relative = divide(ds, pole).re
      return [name, { w0: relative, q: pole.re === 0 ? Number.NaN : relative - ds.re / pole.re }] as const
    })
    return { pole, w0: size, q: size / (-2 * pole.re), components: Object.fromEntries(components) }
  })
}

/** A vector without a pattern that a null vector could be orthogonal to. */
const start = (n: number): [number, number, number][] =>
  Array.from({ length: n }, (_, k) => [k, Math.cos(1 + 2.4 * k), Math.sin(2 + 1.7 * k)])

/** C·x by row (Cᵀ·y by column): the right-hand side of the next iteration. */
function weighted(mna: Mna, re: Float64Array, im: Float64Array, transposed: boolean): [number, number, number][] {
  const { rows, cols } = mna.pattern
  const largest = re.reduce((most, v, k) => Math.max(most, Math.hypot(v, im[k])), 0)
  const sums = Array.from({ length: mna.size }, (_, k): [number, number, number] => [k, 0, 0])
  for (let e = 0; e < rows.length; e++) {
    const [into, from] = transposed ? [cols[e], rows[e]] : [rows[e], cols[e]]
    sums[into][1] += (mna.c[e] * re[from]) / largest
    sums[into][2] += (mna.c[e] * im[from]) / largest
  }
  const size = sums.reduce((most, [, a, b]) => Math.max(most, Math.hypot(a, b)), 0)
  return sums.map(([k, a, b]) => [k, a / size, b / size])
}

function normalize(re: Float64Array, im: Float64Array): void {
  const largest = re.reduce((most, v, k) => Math.max(most, Math.hypot(v, im[k])), 0)
  for (let k = 0; k < re.length; k++) {
    re[k] /= largest
    im[k] /= largest
  }
}
