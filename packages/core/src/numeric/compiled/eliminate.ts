import type { Program } from '../sparse/program.js'
import { type Graph, type Value, ZERO } from './graph.js'

/** A complex value in the graph. */
export interface ComplexValue {
  readonly re: Value
  readonly im: Value
}

export const NOTHING: ComplexValue = { re: ZERO, im: ZERO }

export const isNothing = (v: ComplexValue): boolean => v.re === ZERO && v.im === ZERO

export const times = (g: Graph, a: ComplexValue, b: ComplexValue): ComplexValue => ({
  re: g.sub(g.mul(a.re, b.re), g.mul(a.im, b.im)),
  im: g.add(g.mul(a.re, b.im), g.mul(a.im, b.re)),
})

const minus = (g: Graph, a: ComplexValue, b: ComplexValue): ComplexValue => ({
  re: g.sub(a.re, b.re),
  im: g.sub(a.im, b.im),
})

export const plus = (g: Graph, a: ComplexValue, b: ComplexValue): ComplexValue => ({
  re: g.add(a.re, b.re),
  im: g.add(a.im, b.im),
})

/** 1/v; purely real and purely imaginary pivots need one division and nothing else. */
function inverse(g: Graph, v: ComplexValue): ComplexValue {
  if (v.im === ZERO) return { re: g.reciprocal(v.re), im: ZERO }
  if (v.re === ZERO) return { re: ZERO, im: g.negate(g.reciprocal(v.im)) }
  const d = g.reciprocal(g.add(g.mul(v.re, v.re), g.mul(v.im, v.im)))
  return { re: g.mul(v.re, d), im: g.negate(g.mul(v.im, d)) }
}

/** A factored matrix in the graph: as `factorComplex` leaves it. */
export class SymbolicFactors {
  private readonly values: ComplexValue[]

  /** @param given the matrix's entries by slot */
  constructor(
    private readonly graph: Graph,
    private readonly program: Program,
    given: readonly ComplexValue[],
  ) {
    const p = program
    const g = graph
    const a = (this.values = Array.from({ length: p.slots }, (_, k) => given[k] ?? NOTHING))
    for (let k = 0; k < p.size; k++) {
      const inv = (a[p.pivotSlot[k]] = inverse(g, a[p.pivotSlot[k]]))
      let t = p.targetStart[k]
      for (let l = p.lowerStart[k]; l < p.lowerStart[k + 1]; l++) {
        const factor = (a[p.lowerSlot[l]] = times(g, a[p.lowerSlot[l]], inv))
        for (let u = p.upperStart[k]; u < p.upperStart[k + 1]; u++, t++) {
          a[p.target[t]] = minus(g, a[p.target[t]], times(g, factor, a[p.upperSlot[u]]))
        }
      }
    }
  }

  /** x of A·x = b; `b` by row. */
  solve(right: readonly ComplexValue[]): ComplexValue[] {
    const { graph: g, program: p, values: a } = this
    const b = [...right]
    for (let k = 0; k < p.size; k++) {
      const y = b[p.pivotRow[k]]
      if (isNothing(y)) continue
      for (let l = p.lowerStart[k]; l < p.lowerStart[k + 1]; l++) {
        const row = p.lowerRow[l]
        b[row] = minus(g, b[row], times(g, a[p.lowerSlot[l]], y))
      }
    }
    const x: ComplexValue[] = Array.from({ length: p.size }, () => NOTHING)
    for (let k = p.size - 1; k >= 0; k--) {
      let y = b[p.pivotRow[k]]
      for (let u = p.upperStart[k]; u < p.upperStart[k + 1]; u++)
        y = minus(g, y, times(g, a[p.upperSlot[u]], x[p.upperCol[u]]))
      x[p.pivotCol[k]] = times(g, y, a[p.pivotSlot[k]])
    }
    return x
  }

  /** y of Aᵀ·y = c; `c` by column. */
  solveTransposed(right: readonly ComplexValue[]): ComplexValue[] {
    const { graph: g, program: p, values: a } = this
    const c = [...right]
    const y: ComplexValue[] = Array.from({ length: p.size }, () => NOTHING)
    for (let k = 0; k < p.size; k++) {
      const w = times(g, c[p.pivotCol[k]], a[p.pivotSlot[k]])
      y[p.pivotRow[k]] = w
      if (isNothing(w)) continue
      for (let u = p.upperStart[k]; u < p.upperStart[k + 1]; u++) {
        const column = p.upperCol[u]
        c[column] = minus(g, c[column], times(g, a[p.upperSlot[u]], w))
      }
    }
    for (let k = p.size - 1; k >= 0; k--) {
      let w = y[p.pivotRow[k]]
      for (let l = p.lowerStart[k]; l < p.lowerStart[k + 1]; l++)
        w = minus(g, w, times(g, a[p.lowerSlot[l]], y[p.lowerRow[l]]))
      y[p.pivotRow[k]] = w
    }
    return y
  }
}
