import { VoskelError } from '../errors/VoskelError.js'
import type { Algebra, RankFactors, Shape } from '../numeric/algebra.js'
import { type Complex, complex } from '../numeric/complex.js'
import type { Dense } from '../numeric/dense.js'
import { IN_DOUBLES } from '../numeric/doubleMatrix.js'
import { IN_DOUBLE_DOUBLES, IN_QUAD_DOUBLES } from '../numeric/preciseMatrix.js'
import { GROUND } from '../circuit/parts/PartKind.js'
import { type Mna, placeTerms } from './mna.js'

/**
 * A border around the equations: an input becomes an unknown (its column `drive`) and an output is held at zero (its
 * row `sense`). The natural frequencies of the bordered circuit are the zeros of the transfer.
 */
export interface Border {
  readonly drive: readonly (readonly [row: number, value: number])[]
  /** Terms over unknowns of the circuit. */
  readonly sense: readonly (readonly [column: number, value: number])[]
}

/**
 * The natural frequencies of a linear circuit (with a border: of the circuit so constrained), rad/s, multiplicities
 * listed. Loops of capacitors and cuts of inductors carry no state of their own and are taken out exactly: the rank
 * decisions fall on incidences and gains, never on values of L and C.
 *
 * The circuit is written with its stored voltages and currents z as states, `D·z′ = y` (D the values of C, L and M, y
 * capacitor currents and inductor voltages) and the resistive rest `[G Q; P 0]·[x; y] = [b; z]`. What the rest leaves
 * undetermined is projected away until ordinary state equations remain (the reduction of differential-algebraic
 * equations by their own constraints, as in P. Kunkel, V. Mehrmann, "Differential-Algebraic Equations", EMS 2006, ch. 3).
 *
 * @throws VoskelError `SINGULAR` where the equations do not determine the circuit at any frequency, `POLES_UNCERTAIN` where one lies
 *   beyond what numbers hold
 */
export const naturalFrequencies = (mna: Mna, border?: Border): Complex[] =>
  new Reduction(IN_DOUBLES).naturalFrequencies(mna, border)

/** The same with twice or four times the digits, for those that fewer cannot tell apart: in turn far slower. */
export const preciseFrequencies: readonly ((mna: Mna, border?: Border) => Complex[])[] = [
  (mna, border) => new Reduction(IN_DOUBLE_DOUBLES).naturalFrequencies(mna, border),
  (mna, border) => new Reduction(IN_QUAD_DOUBLES).naturalFrequencies(mna, border),
]

/** s·M·ζ + A·ζ = 0. */
interface StatePencil<M> {
  readonly m: M
  readonly a: M
}

/** s·M·z + K11·z + K12·w = 0 with K21·z + K22·w = 0. */
interface SplitPencil<M> {
  readonly m: M
  readonly k11: M
  readonly k12: M
  readonly k21: M
  readonly k22: M
}

class Reduction<M extends Shape> {
  constructor(private readonly algebra: Algebra<M>) {}

  naturalFrequencies(mna: Mna, border?: Border): Complex[] {
    const { algebra } = this
    let pencil = this.stateForm(mna, border)
    // Each round takes one differentiation index out; circuits have index 2 at the most, controlled sources rarely more.
    for (let round = 0; round <= mna.places.length + 1; round++) {
      if (pencil.m.rows === 0) return []
      const factors = algebra.rankFactors(pencil.m)
      if (factors.rank === pencil.m.rows) {
        return this.withoutZeros(algebra.negative(algebra.product(factors.inverse, pencil.a)))
      }
      pencil = this.splitAlgebraic(pencil, factors)
    }
    throw undetermined()
  }

  private stateForm(mna: Mna, border?: Border): StatePencil<M> {
    const { zeros, put } = this.algebra
    const n = mna.size
    const k = mna.places.length
    const size = n + k + (border ? 1 : 0)
    const rest = zeros(size, size)
    const { rows, cols } = mna.pattern
    mna.summands.slots.forEach((e, k) => put(rest, rows[e], cols[e], mna.summands.values[k]))
    const m = zeros(k, k)
    for (const { at, of, value } of mna.stores) put(m, at, of, value)
    mna.places.forEach((place, j) => {
      // A current leaves the net at plus; the branch row reads v(a) − v(b) − y = 0.
      const into = 'branch' in place ? -1 : 1
      for (const [unknown, sign] of placeTerms(place)) {
        if (unknown === GROUND) continue
        put(rest, unknown, n + j, into * sign)
        put(rest, n + j, unknown, sign)
      }
    })
    if (border) {
      for (const [row, value] of border.drive) put(rest, row, size - 1, -value)
      for (const [column, value] of border.sense) put(rest, size - 1, column, value)
    }
    const k12 = zeros(k, size)
    const k21 = zeros(size, k)
    for (let j = 0; j < k; j++) {
      put(k12, j, n + j, -1)
      put(k21, n + j, j, -1)
    }
    return this.eliminate({ m, k11: zeros(k, k), k12, k21, k22: rest })
  }

  /** Takes w out: what K22 determines by substitution, what it leaves open by projection. */
  private eliminate({ m, k11, k12, k21, k22 }: SplitPencil<M>): StatePencil<M> {
    const { rankFactors, product, difference } = this.algebra
    const f = rankFactors(k22)
    const a = difference(k11, product(product(k12, f.inverse), k21))
    if (f.rank === k22.rows) return { m, a }
    // Rows that K22 does not reach bind the states; columns that nothing determines are forces that keep them bound.
    const bound = rankFactors(product(f.left, k21))
    const forces = rankFactors(product(k12, f.right))
    const open = k22.rows - f.rank
    if (bound.rank !== open || forces.rank !== open) throw undetermined()
    return {
      m: product(product(forces.left, m), bound.right),
      a: product(product(forces.left, a), bound.right),
    }
  }

  /** A singular M hides algebraic equations among the states: bring them out and eliminate them. */
  private splitAlgebraic({ m, a }: StatePencil<M>, f: RankFactors<M>): StatePencil<M> {
    const { rankFactors, product, transpose } = this.algebra
    // New states: the range that M sees (coordinates of a generalised inverse) and its null space.
    const rangeBasis = transpose(this.complement(rankFactors(transpose(m))))
    const rowBasis = this.complement(f)
    const { left, right } = f
    return this.eliminate({
      m: product(product(rowBasis, m), rangeBasis),
      k11: product(product(rowBasis, a), rangeBasis),
      k12: product(product(rowBasis, a), right),
      k21: product(product(left, a), rangeBasis),
      k22: product(product(left, a), right),
    })
  }

  /** rank × rows: rows that, together with `left`, span everything. */
  private complement(f: RankFactors<M>): M {
    return this.unitRows(freeColumns(this.algebra.rounded(f.left)), f.left.cols)
  }

  private unitRows(places: readonly number[], cols: number): M {
    const result = this.algebra.zeros(places.length, cols)
    places.forEach((j, i) => this.algebra.put(result, i, j, 1))
    return result
  }

  /**
   * Eigenvalues with those at the origin made exactly zero: S = U·V with U of full column and V of full row rank has the
   * nonzero eigenvalues of V·U, which is smaller, and so on until nothing is singular.
   */
  private withoutZeros(s: M): Complex[] {
    const { rankFactors, product, transpose, rounded, eigenvalues } = this.algebra
    // A value next to nothing beside others leads beyond what numbers hold.
    if (!rounded(s).data.every(Number.isFinite)) throw new VoskelError('POLES_UNCERTAIN', {})
    let matrix = s
    let zeros = 0
    while (matrix.rows > 0) {
      const f = rankFactors(matrix)
      if (f.rank === matrix.rows) break
      zeros += matrix.rows - f.rank
      if (f.rank === 0) {
        matrix = this.algebra.zeros(0, 0)
        break
      }
      // Columns of S that span its range, and the coordinates of all columns in them.
      const basis = freeColumns(rounded(rankFactors(transpose(matrix)).left))
      const u = product(matrix, transpose(this.unitRows(basis, matrix.cols)))
      const v = product(rankFactors(u).inverse, matrix)
      matrix = product(v, u)
    }
    const origin = Array.from({ length: zeros }, () => complex(0))
    return matrix.rows === 0 ? origin : [...origin, ...eigenvalues(matrix)]
  }
}

/** Columns in which independent rows have no pivot. */
function freeColumns({ rows, cols, data }: Dense): number[] {
  const pivots = new Set<number>()
  const w = data.slice()
  for (let i = 0; i < rows; i++) {
    let best = 0
    for (let j = 1; j < cols; j++) if (Math.abs(w[i * cols + j]) > Math.abs(w[i * cols + best])) best = j
    pivots.add(best)
    for (let r = i + 1; r < rows; r++) {
      const factor = w[r * cols + best] / w[i * cols + best]
      for (let j = 0; j < cols; j++) w[r * cols + j] -= factor * w[i * cols + j]
    }
  }
  return Array.from({ length: cols }, (_, j) => j).filter((j) => !pivots.has(j))
}

function undetermined(): VoskelError {
  return new VoskelError('SINGULAR', { unknown: 'some combination of voltages and currents', at: 'at any frequency' })
}
