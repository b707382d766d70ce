import { VoskelError } from '../errors/VoskelError.js'
import { type Complex, complex } from '../numeric/complex.js'
import { type Dense, cleanDifference, cleanProduct, dense, identity, rankFactors, transpose } from '../numeric/dense.js'
import { eigenvalues } from '../numeric/eigenvalues.js'
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
 * @throws VoskelError `SINGULAR` where the equations do not determine the circuit at any frequency
 */
export function naturalFrequencies(mna: Mna, border?: Border): Complex[] {
  let pencil = stateForm(mna, border)
  // Each round takes one differentiation index out; circuits have index 2 at the most, controlled sources rarely more.
  for (let round = 0; round <= mna.places.length + 1; round++) {
    if (pencil.m.rows === 0) return []
    const factors = rankFactors(pencil.m)
    if (factors.rank === pencil.m.rows) {
      const a = cleanProduct(factors.inverse, pencil.a)
      return withoutZeros({ ...a, data: a.data.map((v) => -v) })
    }
    pencil = splitAlgebraic(pencil, factors)
  }
  throw undetermined()
}

/** s·M·ζ + A·ζ = 0. */
interface StatePencil {
  readonly m: Dense
  readonly a: Dense
}

/** s·M·z + K11·z + K12·w = 0 with K21·z + K22·w = 0. */
interface SplitPencil {
  readonly m: Dense
  readonly k11: Dense
  readonly k12: Dense
  readonly k21: Dense
  readonly k22: Dense
}

function stateForm(mna: Mna, border?: Border): StatePencil {
  const n = mna.size
  const k = mna.places.length
  const extra = border ? 1 : 0
  const size = n + k + extra
  const rest = dense(size, size)
  const { rows, cols } = mna.pattern
  for (let e = 0; e < rows.length; e++) rest.data[rows[e] * size + cols[e]] = mna.g[e]
  const m = dense(k, k)
  for (const { at, of, value } of mna.stores) m.data[at * k + of] += value
  mna.places.forEach((place, j) => {
    // A current leaves the net at plus; the branch row reads v(a) − v(b) − y = 0.
    const into = 'branch' in place ? -1 : 1
    for (const [unknown, sign] of placeTerms(place)) {
      if (unknown === GROUND) continue
      rest.data[unknown * size + n + j] += into * sign
      rest.data[(n + j) * size + unknown] += sign
    }
  })
  if (border) {
    for (const [row, value] of border.drive) rest.data[row * size + size - 1] -= value
    for (const [column, value] of border.sense) rest.data[(size - 1) * size + column] += value
  }
  const k12 = dense(k, size)
  const k21 = dense(size, k)
  for (let j = 0; j < k; j++) {
    k12.data[j * size + n + j] = -1
    k21.data[(n + j) * k + j] = -1
  }
  return eliminate({ m, k11: dense(k, k), k12, k21, k22: rest })
}

/** Takes w out: what K22 determines by substitution, what it leaves open by projection. */
function eliminate({ m, k11, k12, k21, k22 }: SplitPencil): StatePencil {
  const f = rankFactors(k22)
  const a = cleanDifference(k11, cleanProduct(cleanProduct(k12, f.inverse), k21))
  if (f.rank === k22.rows) return { m, a }
  // Rows that K22 does not reach bind the states; columns that nothing determines are forces that keep them bound.
  const bound = rankFactors(cleanProduct(f.left, k21))
  const forces = rankFactors(cleanProduct(k12, f.right))
  const open = k22.rows - f.rank
  if (bound.rank !== open || forces.rank !== open) throw undetermined()
  return {
    m: cleanProduct(cleanProduct(forces.left, m), bound.right),
    a: cleanProduct(cleanProduct(forces.left, a), bound.right),
  }
}

/** A singular M hides algebraic equations among the states: bring them out and eliminate them. */
function splitAlgebraic({ m, a }: StatePencil, f: ReturnType<typeof rankFactors>): StatePencil {
  // New states: the range that M sees (coordinates of a generalised inverse) and its null space.
  const mt = rankFactors(transpose(m))
  const rangeBasis = transpose(complement(mt))
  const rowBasis = complement(f)
  const left = f.left
  const right = f.right
  return eliminate({
    m: cleanProduct(cleanProduct(rowBasis, m), rangeBasis),
    k11: cleanProduct(cleanProduct(rowBasis, a), rangeBasis),
    k12: cleanProduct(cleanProduct(rowBasis, a), right),
    k21: cleanProduct(cleanProduct(left, a), rangeBasis),
    k22: cleanProduct(cleanProduct(left, a), right),
  })
}

/** rank × rows: rows that, together with `left`, span everything. Unit rows where `left` has no pivot. */
function complement(f: ReturnType<typeof rankFactors>): Dense {
  const n = f.left.cols
  const pivots = new Set<number>()
  const w = f.left.data.slice()
  for (let i = 0; i < f.left.rows; i++) {
    let best = 0
    for (let j = 1; j < n; j++) if (Math.abs(w[i * n + j]) > Math.abs(w[i * n + best])) best = j
    pivots.add(best)
    for (let r = i + 1; r < f.left.rows; r++) {
      const factor = w[r * n + best] / w[i * n + best]
      for (let j = 0; j < n; j++) w[r * n + j] -= factor * w[i * n + j]
    }
  }
  const free = Array.from({ length: n }, (_, j) => j).filter((j) => !pivots.has(j))
  const result = dense(free.length, n)
  free.forEach((j, i) => (result.data[i * n + j] = 1))
  return result
}

/**
 * Eigenvalues with those at the origin made exactly zero: S = U·V with U of full column and V of full row rank has the
 * nonzero eigenvalues of V·U, which is smaller, and so on until nothing is singular.
 */
function withoutZeros(s: Dense): Complex[] {
  let matrix = s
  let zeros = 0
  while (matrix.rows > 0) {
    const f = rankFactors(matrix)
    if (f.rank === matrix.rows) break
    zeros += matrix.rows - f.rank
    if (f.rank === 0) {
      matrix = dense(0, 0)
      break
    }
    // Columns of S that span its range, and the coordinates of all columns in them.
    const basis = columnBasis(matrix, f.rank)
    const u = pickColumns(matrix, basis)
    const v = cleanProduct(rankFactors(u).inverse, matrix)
    matrix = cleanProduct(v, u)
  }
  const origin = Array.from({ length: zeros }, () => complex(0))
  return matrix.rows === 0 ? origin : [...origin, ...eigenvalues(matrix)]
}

/** `rank` columns of A that are independent, found from the free columns of its null space. */
function columnBasis(a: Dense, rank: number): number[] {
  const f = rankFactors(transpose(a))
  const c = complement(f)
  return Array.from({ length: rank }, (_, i) => c.data.subarray(i * a.cols, (i + 1) * a.cols).indexOf(1))
}

function pickColumns(a: Dense, columns: readonly number[]): Dense {
  const select = dense(a.cols, columns.length)
  columns.forEach((j, k) => (select.data[j * columns.length + k] = 1))
  return cleanProduct(a, columns.length === a.cols ? identity(a.cols) : select)
}

function undetermined(): VoskelError {
  return new VoskelError('SINGULAR', { unknown: 'some combination of voltages and currents', at: 'at any frequency' })
}
