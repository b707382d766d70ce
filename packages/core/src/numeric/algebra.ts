import type { Complex } from './complex.js'
import type { Dense } from './dense.js'
import type { Real } from './real.js'

/** What any matrix says of itself. */
export interface Shape {
  readonly rows: number
  readonly cols: number
}

/**
 * What complete elimination of A finds: its rank, bases of its null spaces, and a generalised inverse G with A·G·A = A.
 */
export interface RankFactors<M extends Shape> {
  readonly rank: number
  /** cols × (cols − rank): A·right = 0 */
  readonly right: M
  /** (rows − rank) × rows: left·A = 0 */
  readonly left: M
  /** cols × rows */
  readonly inverse: M
}

/**
 * Real matrices of one kind of number. Sums that cancel to rounding are made zero: decisions on rank must not fall on what is left.
 */
export interface Algebra<M extends Shape> {
  readonly zeros: (rows: number, cols: number) => M
  /** m[i][j] += value, in place */
  readonly put: (m: M, i: number, j: number, value: number | Real) => void
  readonly rounded: (m: M) => Dense
  readonly transpose: (m: M) => M
  readonly negative: (m: M) => M
  readonly product: (a: M, b: M) => M
  readonly difference: (a: M, b: M) => M
  readonly rankFactors: (m: M) => RankFactors<M>
  /** Conjugates in exact pairs. */
  readonly eigenvalues: (m: M) => Complex[]
}
