import { VoskelError } from '../errors/VoskelError.js'
import { abs } from '../numeric/complex.js'
import { dense, solveLinear } from '../numeric/dense.js'
import { eigenvalues } from '../numeric/eigenvalues.js'
import { commonPeriod, refuseLasting, unsettled } from './commonPeriod.js'
import type { Mna } from './mna.js'
import { settledByModes } from './exactTransient.js'
import { storedUnknowns, transient, type Transient } from './transient.js'

/** State before and after a period agree to this part of each unknown's swing. */
const SETTLED = 1e-6

/** Accuracy of the runs over a period that this is judged by. */
const RELTOL = 1e-7

/** Of a swing, by which an unknown is moved to see what becomes of it. */
const NUDGE = 1e-3

/** What a period leaves of a nudge is known to so much. */
const KNOWN = 1e-3

/** Periods that are waited for at first, and where nothing better is at hand. */
const FIRST_PERIODS = 3
const MOST_PERIODS = 256
const MOST_CORRECTIONS = 24

/** Unknowns beyond which moving each of them costs more than waiting. */
const MOST_STORED = 60

/** A quantity far below the largest has no swing worth speaking of: this part of that one is taken. */
const SWING_FLOOR = 1e-6

/**
 * What is stored at the begin of a period after any number of them: of a linear circuit by its modes, exactly; else what a period leads
 * back to itself, solved for by Newton's method (shooting).
 *
 * Source: T. J. Aprille, T. N. Trick, "Steady-state analysis of nonlinear circuits with periodic inputs", Proc. IEEE 60, 1972,
 * 108–114.
 *
 * @param period of all sources together, s
 * @returns by unknown; of those that store nothing a guess
 * @throws VoskelError `NO_SETTLED_STATE` where there is none, or what there is does not last; as `transient`
 */
export function settledState(mna: Mna, period: number): Float64Array {
  const stored = [...storedUnknowns(mna).entries()].flatMap(([k, is]) => (is ? [k] : []))
  const modes = settledByModes(mna, stored, period)
  if (modes) {
    const x = new Float64Array(mna.size)
    stored.forEach((k, j) => (x[k] = modes[j]))
    return x
  }
  const over = (start: Float64Array | 'op') => transient(mna, { stop: period, outputs: [], reltol: RELTOL, start })
  let run = over('op')
  for (let k = 1; k < FIRST_PERIODS; k++) run = over(run.end)
  if (stored.length > MOST_STORED) return waitedFor(run, over)
  let x = run.end
  let moves: readonly Float64Array[] | null = null
  let before = Infinity
  run = over(x)
  for (let k = 0; k < MOST_CORRECTIONS; k++) {
    const left = leftOf(run, x)
    if (left <= 1 && (moves || stored.length === 0)) {
      refuseUnstable(moves ?? [])
      return run.end
    }
    // What was found of a state far away leads nowhere from here.
    if (left > before / 2) moves = null
    moves ??= attempted(() => movesOf(run, x, stored, over))
    const next = moves && nearer(x, corrected(run, x, stored, moves), over)
    if (!next) moves = null
    before = next ? left : Infinity
    // Where no correction can be run, a period more is what there is.
    x = next?.x ?? run.end
    run = next?.run ?? over(x)
  }
  throw unsettled('no state was found that a period leads back to itself')
}

/** Parts of a correction that are tried where the whole leads to what cannot be run. */
const SHARES = [1, 0.5, 0.2, 0.05]

/** A corrected state that can be run, and its run; null where none can. */
function nearer(x: Float64Array, wanted: Float64Array, over: Over): { x: Float64Array; run: Transient } | null {
  for (const share of SHARES) {
    const next = x.map((v, k) => v + share * (wanted[k] - v))
    const run = attempted(() => over(next))
    if (run) return { x: next, run }
  }
  return null
}

/** null where an analysis fails. */
function attempted<T>(run: () => T): T | null {
  try {
    return run()
  } catch (error) {
    if (error instanceof VoskelError && error.kind === 'analysis' && error.code !== 'NO_SETTLED_STATE') return null
    throw error
  }
}

/** What a run begins from: the operating point, nothing stored, or where the circuit is after any number of periods. */
export type RunStart = 'op' | 'zero' | 'settled'

/** The same as a transient takes it. @throws VoskelError `NO_SETTLED_STATE` */
export const startState = (mna: Mna, start: RunStart = 'op'): 'op' | 'zero' | Float64Array =>
  start === 'settled' ? settledState(mna, commonPeriod(mna)) : start

type Over = (start: Float64Array) => Transient

/** How far a period's end is from its begin, against what it may. */
function leftOf({ end, swings }: Transient, begin: Float64Array): number {
  const largest = swings.reduce((most, s) => Math.max(most, s), 0)
  return end.reduce((left, v, k) => {
    const allowed = SETTLED * Math.max(swings[k], SWING_FLOOR * largest)
    return Math.max(left, v === begin[k] ? 0 : Math.abs(v - begin[k]) / allowed)
  }, 0)
}

/** By stored unknown: what a period makes of one more of each, for all stored ones. */
function movesOf(run: Transient, x: Float64Array, stored: readonly number[], over: Over): Float64Array[] {
  const largest = run.swings.reduce((most, s) => Math.max(most, s), 0)
  return stored.map((k) => {
    const by = NUDGE * (run.swings[k] || largest || 1)
    const { end } = over(x.with(k, x[k] + by))
    return Float64Array.from(stored, (j) => (end[j] - run.end[j]) / by)
  })
}

/** x + (1 − M)⁻¹·(Φ(x) − x) on what is stored. */
function corrected(
  { end }: Transient,
  x: Float64Array,
  stored: readonly number[],
  moves: readonly Float64Array[],
): Float64Array {
  if (stored.length === 0) return end
  refuseUnstable(moves)
  const rows = stored.map((_, i) => moves.map((column, j) => (i === j ? 1 : 0) - column[i]))
  const by = solveLinear(
    rows,
    stored.map((k) => end[k] - x[k]),
  )
  const next = end.slice()
  stored.forEach((k, i) => (next[k] = x[k] + by[i]))
  return next
}

/** @throws VoskelError `NO_SETTLED_STATE` */
function refuseUnstable(moves: readonly Float64Array[]): void {
  const n = moves.length
  if (n === 0) return
  const matrix = dense(n, n)
  moves.forEach((column, j) => column.forEach((v, i) => (matrix.data[i * n + j] = v)))
  for (const root of eigenvalues(matrix)) refuseLasting(abs(root), KNOWN)
}

function waitedFor(first: Transient, over: Over): Float64Array {
  let x = first.end
  for (let k = 0; k < MOST_PERIODS; k++) {
    const run = over(x)
    if (leftOf(run, x) <= 1) return run.end
    x = run.end
  }
  throw unsettled(`it has not come to rest after ${MOST_PERIODS} periods`)
}
