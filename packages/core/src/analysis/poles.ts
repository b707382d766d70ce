import { abs, type Complex, compareRoots, complex, conjugate, divide, scale, subtract } from '../numeric/complex.js'
import { evaluate, scaleFrequency, type TransferFunction } from '../numeric/transferFunction.js'
import { VoskelError } from '../errors/VoskelError.js'
import { SignalAnalysis } from './signalAnalysis.js'
import { cancelled, onAxis, type Root } from './cancellation.js'
import { ComplexSystem, type Pencil } from './complexSystem.js'
import { GROUND } from '../circuit/parts/PartKind.js'
import type { Mna, Probe } from './mna.js'
import { type BoundSignals, bindSignals, type Leaf, type SignalLike } from './signals.js'
import { type Border, naturalFrequencies, preciseFrequencies } from './naturalFrequencies.js'
import { agrees, areNatural, middleOf, placesOf, PROOF, PROOFS_OF_PRECISE } from './rootProof.js'

/** Poles and zeros of a transfer, and natural frequencies that cancel in it. */
export interface PoleZeroAnalysis {
  readonly transfer: TransferFunction
  readonly hidden: readonly Complex[]
}

/** Poles are found on dense matrices: their cost grows with the cube of the unknowns, and zeros' with one power more. */
const MOST_UNKNOWNS_FOR_POLES = 600

/** Energy-storing parts up to which the roots cost next to nothing. */
const FEW_PLACES = 40

/** How much may be spent on roots that are a help and no need. */
export type Effort = 'small' | 'any'

/**
 * Poles, zeros and gain of output over input of a linear circuit; simple ones to about 1e-12 relative.
 *
 * @param options.most unknowns that are worth the time: it grows with their cube, for zeros with one power more
 * @throws VoskelError `SINGULAR`, `ARGUMENT` (no such input or output), `OUTPUT_INDEPENDENT`,
 *   `TOO_LARGE`, `POLES_UNCERTAIN` where rounding has spoilt the roots: they are proved against the equations
 */
export function polesAndZeros(
  mna: Mna,
  options: { input?: string; output?: SignalLike; most?: number } = {},
): PoleZeroAnalysis {
  const most = options.most ?? MOST_UNKNOWNS_FOR_POLES
  if (mna.size > most) throw new VoskelError('TOO_LARGE', { what: 'poles and zeros', unknowns: mna.size, most })
  return rootsOfBound(mna, bindSignals(mna, [options.output ?? 'out'], options.input))
}

/** The same of a signal that has been asked of these equations. */
export function rootsOfBound(mna: Mna, bound: BoundSignals): PoleZeroAnalysis {
  const failures: VoskelError[] = []
  for (const { find, proofs } of findersFor(mna)) {
    try {
      const { poles, zeros } = rootsOf(mna, bound, find(mna), find)
      for (const proof of proofs) {
        const found = proved(mna, bound, poles, zeros, proof)
        if (found) return found
      }
      failures.push(new VoskelError('POLES_UNCERTAIN', {}))
    } catch (error) {
      // A rank that rounding has decided says this, too.
      if (!(error instanceof VoskelError) || !MAYBE_ROUNDING.has(error.code)) throw error
      failures.push(error)
    }
  }
  // What only some of them say is rounding.
  const isSure = failures.every(({ code }) => code === failures[0].code)
  throw isSure ? failures[0] : new VoskelError('POLES_UNCERTAIN', {})
}

const MAYBE_ROUNDING: ReadonlySet<string> = new Set(['SINGULAR', 'OUTPUT_INDEPENDENT', 'POLES_UNCERTAIN'])

/** Relative rounding of a root of twice the digits that lies alone, with digits to spare for equations of far different sizes. */
const PRECISE_ROUNDING = 1e-22

/** Each with what rounding may have moved it by: the nearer the others, the more. */
function withErrors(roots: readonly Complex[]): Root[] {
  return roots.map((at, k) => {
    const size = abs(at)
    if (size === 0) return ORIGIN
    let error = PRECISE_ROUNDING * size
    roots.forEach((other, j) => {
      const distance = abs(subtract(other, at))
      if (j !== k && distance < size) error *= size / Math.max(distance, error)
    })
    return onAxis({ at, error: Math.min(error, size) })
  })
}

/** Finds the natural frequencies of equations, or those of equations in a border. */
type Finder = (mna: Mna, border?: Border) => Root[]

/** In doubles; then, where the equations do not agree, with twice and four times their digits. */
const FINDERS: readonly { readonly find: Finder; readonly proofs: readonly number[] }[] = [
  { find: (mna, border) => refined(naturalFrequencies(mna, border), pencilOf(mna, border)), proofs: [PROOF] },
  ...preciseFrequencies.map((frequencies) => ({
    find: (mna: Mna, border?: Border) => withErrors(frequencies(mna, border)),
    proofs: PROOFS_OF_PRECISE,
  })),
]

/** Unknowns and storing parts up to which more digits are worth their time: it grows with their cube. */
const MOST_FOR_PRECISE = 200

const isWorthPrecise = (mna: Mna) => mna.size + mna.places.length <= MOST_FOR_PRECISE

const findersFor = (mna: Mna) => (isWorthPrecise(mna) ? FINDERS : FINDERS.slice(0, 1))

/** Poles and zeros of a signal before anything cancels. @throws VoskelError `ARGUMENT` where it has none of its own */
function rootsOf(mna: Mna, { leaves, signals }: BoundSignals, natural: readonly Root[], find: Finder): Roots {
  const factors = signals[0].factors()
  if (!factors) {
    throw new VoskelError('ARGUMENT', {
      problem: 'A power, or a sum of impedances and other quantities, has no poles and zeros of its own.',
      fix: 'Ask for a net, a difference, a current, an impedance, or a product or quotient of such.',
    })
  }
  const own = leaves.map((leaf) => {
    const zeros = zerosOf(mna, leaf, find)
    return leaf.inverse ? { poles: zeros, zeros: natural } : { poles: natural, zeros }
  })
  const { above, below } = factors
  const all = (indices: readonly number[], of: 'poles' | 'zeros') => indices.flatMap((k) => own[k][of])
  const poles = [...all(above, 'poles'), ...all(below, 'zeros')]
  const zeros = [...all(above, 'zeros'), ...all(below, 'poles')]
  // Natural frequencies that stand above and below are the very same: no rounding is to be weighed.
  return below.length === 0 ? { poles, zeros } : withoutCommon(poles, zeros)
}

interface Roots {
  readonly poles: readonly Root[]
  readonly zeros: readonly Root[]
}

function withoutCommon(poles: readonly Root[], zeros: readonly Root[]): Roots {
  const left = [...zeros]
  const kept = poles.filter((pole) => {
    const k = left.indexOf(pole)
    if (k >= 0) left.splice(k, 1)
    return k < 0
  })
  return { poles: kept, zeros: left }
}

/** Failures that say only that roots cannot be had, nothing against the circuit. */
const WITHOUT_ROOTS: ReadonlySet<string> = new Set(['POLES_UNCERTAIN', 'OUTPUT_INDEPENDENT', 'TOO_LARGE'])

/**
 * The transfer by its roots for those that are the better for it but can do without.
 *
 * @returns null where the roots cannot be had: a signal that has none, too large a circuit, roots spoilt by rounding, no
 *   dependence at all
 */
export function maybeTransfer(
  mna: Mna,
  options: { input?: string; output?: SignalLike; effort?: Effort } = {},
): TransferFunction | null {
  if (options.effort === 'small' && mna.places.length > FEW_PLACES) return null
  const bound = bindSignals(mna, [options.output ?? 'out'], options.input)
  if (!bound.signals[0].factors() || mna.size > MOST_UNKNOWNS_FOR_POLES) return null
  try {
    return rootsOfBound(mna, bound).transfer
  } catch (error) {
    if (error instanceof VoskelError && WITHOUT_ROOTS.has(error.code)) return null
    throw error
  }
}

/** Every natural frequency of a linear circuit, rad/s, whichever transfer shows it; none where they cannot be had. */
export function naturalFrequenciesOf(mna: Mna, effort: Effort = 'any'): readonly Complex[] {
  if (effort === 'small' && mna.places.length > FEW_PLACES) return []
  if (mna.size > MOST_UNKNOWNS_FOR_POLES) return []
  for (const { find } of findersFor(mna)) {
    try {
      const roots = find(mna).map((r) => r.at)
      // A proof costs as many solutions as there are parts, and leads nowhere where no more digits follow.
      if (!isWorthPrecise(mna) || areNatural(mna, roots)) return roots
    } catch (error) {
      if (!(error instanceof VoskelError) || !MAYBE_ROUNDING.has(error.code)) throw error
    }
  }
  return []
}

/** The zeros of what a leaf's probe gives in answer to its drive. */
function zerosOf(mna: Mna, { drive, probe }: Leaf, find: Finder): readonly Root[] {
  // A capacitor's current is s·C times its voltage: the voltage's zeros and one at the origin.
  const capacitive = probe.length > 0 && probe.every(([, g, c]) => g === 0 && c !== 0)
  const mixed = !capacitive && probe.some(([, , c]) => c !== 0)
  if (mixed) return constrained(withUnknown(mna, probe), { drive, sense: [[mna.size, 1]] }, find)
  const sense = probe.map(([k, g, c]) => [k, capacitive ? c : g] as const)
  const zeros = constrained(mna, { drive, sense }, find)
  return capacitive ? [...zeros, ORIGIN] : zeros
}

/** The equations with one unknown more, the last: w = Σ (g + s·c)·x. */
function withUnknown(mna: Mna, probe: Probe): Mna {
  const w = mna.size
  const { rows, cols } = mna.pattern
  const places = [...mna.places]
  const placeOf = (plus: number) => {
    const known = places.findIndex((p) => 'plus' in p && p.plus === plus && p.minus === GROUND)
    return known >= 0 ? known : places.push({ plus, minus: GROUND }) - 1
  }
  const own = placeOf(w)
  const stores = probe
    .filter(([, , c]) => c !== 0)
    .map(([column, , c]) => ({ at: own, of: placeOf(column), value: -c }))
  return {
    ...mna,
    size: w + 1,
    unknowns: [...mna.unknowns, 'the output'],
    pattern: {
      size: w + 1,
      rows: Int32Array.from([...rows, w, ...probe.map(() => w)]),
      cols: Int32Array.from([...cols, w, ...probe.map(([column]) => column)]),
    },
    g: Float64Array.from([...mna.g, 1, ...probe.map(([, g]) => -g)]),
    summands: {
      slots: [...mna.summands.slots, ...Array.from({ length: probe.length + 1 }, (_, k) => mna.g.length + k)],
      values: [...mna.summands.values, 1, ...probe.map(([, g]) => -g)],
    },
    c: Float64Array.from([...mna.c, 0, ...probe.map(([, , c]) => -c)]),
    places,
    stores: [...mna.stores, ...stores],
  }
}

function constrained(mna: Mna, border: Border, find: Finder): Root[] {
  try {
    return find(mna, border)
  } catch (error) {
    if (error instanceof VoskelError && error.code === 'SINGULAR') {
      throw new VoskelError('OUTPUT_INDEPENDENT', {})
    }
    throw error
  }
}

function pencilOf(mna: Mna, border?: Border): Pencil {
  return border ? borderedPencil(mna, border) : mna
}

function borderedPencil(mna: Mna, { drive, sense }: Border): Pencil {
  const n = mna.size
  const rows = [...mna.pattern.rows, ...drive.map(([r]) => r), ...sense.map(() => n)]
  const cols = [...mna.pattern.cols, ...drive.map(() => n), ...sense.map(([k]) => k)]
  const g = [...mna.g, ...drive.map(([, v]) => -v), ...sense.map(([, v]) => v)]
  const c = [...mna.c, ...drive.map(() => 0), ...sense.map(() => 0)]
  return {
    pattern: { size: n + 1, rows: Int32Array.from(rows), cols: Int32Array.from(cols) },
    g: Float64Array.from(g),
    c: Float64Array.from(c),
    unknowns: [...mna.unknowns, 'the input'],
  }
}

/** Relative rounding of what a root is corrected by. */
const ROUNDING = 2 ** -53

const ORIGIN: Root = { at: complex(0), error: 0 }

/**
 * Each simple root corrected on the sparse equations themselves: s ← s − yᵀ(G + sC)x / yᵀCx with x and y from inverse
 * iteration (Ostrowski's two-sided quotient; G. H. Golub, C. F. Van Loan, "Matrix Computations", 2013, § 8.2.3). The
 * dense eigenvalues only have to be near.
 */
function refined(roots: readonly Complex[], pencil: Pencil): Root[] {
  const result: Root[] = []
  for (const root of roots) {
    if (root.im < 0) continue
    const better = abs(root) === 0 ? ORIGIN : onAxis(correct(root, roots, pencil))
    result.push(better)
    if (root.im > 0) result.push({ at: conjugate(better.at), error: better.error })
  }
  return result.sort((a, b) => compareRoots(a.at, b.at))
}

function correct(start: Complex, roots: readonly Complex[], pencil: Pencil): Root {
  const gap = Math.min(...roots.filter((r) => r !== start).map((r) => abs(subtract(r, start))), abs(start))
  let s = start
  let error = 0
  try {
    // A point beside the root: at the root itself the matrix is singular.
    const beside = complex(s.re * (1 + 1e-6), s.im)
    const system = new ComplexSystem(pencil, [beside])
    const n = system.size
    const seed = Array.from({ length: n }, (_, k) => [k, 1 + ((k * 7919) % 13) / 13] as [number, number])
    let right: [number, number, number][] = seed.map(([k, v]) => [k, v, 0])
    let left = right
    for (let step = 0; step < 6; step++) {
      system.factor(step === 0 ? beside : s)
      system.solve(right)
      system.solveAdjoint(left)
      const cx = system.adjointDerivative()
      const form = system.adjointForm(s)
      const change = divide(form.value, cx)
      if (!Number.isFinite(change.re) || !Number.isFinite(change.im)) break
      const next = start.im === 0 ? complex(s.re - change.re) : subtract(s, change)
      error = (ROUNDING * form.size) / abs(cx)
      // A correction beyond a tenth of the gap would run to another root, and roots of a multiplicity are right only all
      // together: leave the cluster as it is.
      if (abs(subtract(next, start)) > 0.1 * gap || error > 0.01 * gap)
        return { at: start, error: Math.max(error, abs(change)) }
      const small = abs(subtract(next, s)) <= 1e-15 * abs(s)
      s = next
      if (small) break
      right = normalised(pencil, system.xRe, system.xIm, false)
      left = normalised(pencil, system.yRe, system.yIm, true)
    }
    return { at: s, error }
  } catch (failure) {
    // Exactly singular at the estimate: it is the root.
    if (failure instanceof VoskelError && failure.code === 'SINGULAR') return { at: s, error: ROUNDING * abs(s) }
    throw failure
  }
}

/** C·x (or Cᵀ·y) scaled to size 1: the right-hand side of the next inverse iteration. */
function normalised(
  pencil: Pencil,
  re: Float64Array,
  im: Float64Array,
  transposed: boolean,
): [number, number, number][] {
  const n = pencil.pattern.size
  const sumRe = new Float64Array(n)
  const sumIm = new Float64Array(n)
  for (let e = 0; e < pencil.c.length; e++) {
    const row = transposed ? pencil.pattern.cols[e] : pencil.pattern.rows[e]
    const col = transposed ? pencil.pattern.rows[e] : pencil.pattern.cols[e]
    sumRe[row] += pencil.c[e] * re[col]
    sumIm[row] += pencil.c[e] * im[col]
  }
  let size = 0
  for (let k = 0; k < n; k++) size = Math.max(size, Math.abs(sumRe[k]), Math.abs(sumIm[k]))
  const scale = size > 0 ? 1 / size : 1
  return Array.from({ length: n }, (_, k) => [k, sumRe[k] * scale, sumIm[k] * scale])
}

/**
 * How roots of high multiplicity are taken, in turn, until they say what the equations say: how far rounding may have
 * parted them, against their size, whether what cancels among them is taken out, and whether what cannot be told from a root at
 * the origin lies there.
 */
const ATTEMPTS: readonly (readonly [reach: number, multiple: boolean, atOrigin?: boolean])[] = [
  [1e-4, true],
  [3e-3, true],
  [3e-2, true],
  [1e-4, false],
  [1e-4, false, false],
]

/**
 * Cancels what cancels and finds the gain from the circuit itself; null where the equations say something else.
 *
 * @param whereFaint what may lie between both where next to nothing passes
 */
function proved(
  mna: Mna,
  bound: BoundSignals,
  allPoles: readonly Root[],
  allZeros: readonly Root[],
  whereFaint: number,
): PoleZeroAnalysis | null {
  for (const attempt of ATTEMPTS) {
    const { poles, zeros, hidden } = cancelled(allPoles, allZeros, ...attempt)
    const roots = { poles, zeros, gain: 1 }
    const middle = middleOf([...poles, ...zeros])
    const places = placesOf(roots, middle)
    const ac = new SignalAnalysis(mna, bound, { range: [places[0], places[places.length - 1]] })
    const transfer = { ...roots, ...gainOf(ac, middle, roots, clearest(middle, roots)) }
    if (agrees(ac, places, transfer, whereFaint)) return { transfer, hidden }
  }
  return null
}

/** On the positive real axis amid the roots, the place farthest from all of them: those in the right half plane lie there, too. */
function clearest(middle: number, roots: TransferFunction): Complex {
  const tries = [1, 1.7, 0.6, 3.1].map((k) => complex(k * middle))
  const clear = (s: Complex) =>
    Math.min(...[...roots.poles, ...roots.zeros].map((r) => abs(subtract(r, s)) / abs(s)), Infinity)
  return tries.reduce((best, t) => (clear(t) > clear(best) ? t : best))
}

/** H over its factors at a frequency. */
function gainOf(
  ac: SignalAnalysis,
  middle: number,
  roots: TransferFunction,
  s: Complex,
): Pick<TransferFunction, 'gain' | 'gainExponent'> {
  // In units of the middle frequency neither factor leaves a double; the unit's power is put back at the end.
  const unit = scaleFrequency(roots, 1 / middle)
  const inUnits = divide(ac.at(s)[0], evaluate({ ...unit, gain: 1, gainExponent: 0 }, scale(s, 1 / middle))).re
  const { gain, gainExponent } = scaleFrequency({ ...unit, gain: inUnits, gainExponent: 0 }, middle)
  return { gain, ...(gainExponent && { gainExponent }) }
}
