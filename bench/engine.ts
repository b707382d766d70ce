import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import {
  AcAnalysis,
  CompiledSweep,
  exactTransient,
  interpolate,
  logarithmicGrid,
  type Mna,
  polesAndZeros,
  transient,
  uniformTimes,
} from '@voskel/core'
import { activeSections, butterworth, ladder, twoStage } from './circuits.js'
import { type Figure, least } from './report.js'

/** What reference.py prints, s. */
interface Reference {
  dense11: number
  dense22: number
  sparse: number
  stepping7: { lsim: number; radau: number; radauError: number }
  stepping8: { lsim: number; radau: number; radauError: number }
  twoStage: { bdf: number; bdfError: number; out: number[] }
}

const ROUNDS = 5

/** One run of the reference in a process of its own with one thread; null where Python or its libraries are missing. */
function reference(root: string): Reference | null {
  const env = { ...process.env, OPENBLAS_NUM_THREADS: '1', OMP_NUM_THREADS: '1' }
  const run = spawnSync('python3', [join(root, 'bench/reference.py')], { encoding: 'utf8', env })
  return run.status === 0 ? (JSON.parse(run.stdout) as Reference) : null
}

const rounds = (work: () => void) => least(15, work)

/** Times of the engine; called once a round so that both sides see the same machine. */
function ours() {
  const [l, a, big] = [ladder(4), activeSections(4), ladder(98)]
  const b7 = butterworth(7)
  const b8 = butterworth(8)
  const [two, charged] = [twoStage(), twoStage('N=1.3')]
  const overTime = (mna: Mna) => transient(mna, { stop: 1e-4, outputs: ['out'], reltol: TWO_STAGE_TOLERANCE })
  const [allL, allA, oneA, allBig] = [sweep(l, 'all'), sweep(a, 'all'), sweep(a, 'one'), sweep(big, 'all')]
  return {
    ladder: rounds(allL),
    active: rounds(allA),
    activeOne: rounds(oneA),
    big: rounds(allBig),
    long: least(3, () => new AcAnalysis(ladder(199), LONG).sweep(LONG_GRID)),
    half: least(3, () => new AcAnalysis(ladder(99), LONG).sweep(LONG_GRID)),
    cold: least(5, () => sweep(a, 'all')()),
    exact7: least(9, modes(b7)),
    exact8: least(9, modes(b8)),
    steps7: least(3, () => stepped(b7)),
    steps8: least(3, () => stepped(b8)),
    twoStage: least(3, () => overTime(two)),
    twoStageCharged: least(3, () => overTime(charged)),
  }
}

/** What `voskel ac` does at 101 points, from the equations on: nothing in it may grow faster than the parts. */
const LONG = { input: 'V1', output: 'out', range: [2 * Math.PI * 1e3, 2 * Math.PI * 1e8] } as const
const LONG_GRID = logarithmicGrid(1e3, 1e8, 20)

/** Tolerances at which the engine errs no more than the reference does. */
const STEP_TOLERANCE = 1e-4
const TWO_STAGE_TOLERANCE = 1e-2

/** The response from natural modes with the transfer given, as the reference is given its state equations. */
function modes(mna: Mna): () => void {
  const known = { input: 'V1', output: 'out', transfer: polesAndZeros(mna).transfer }
  return () => exactTransient(mna, { stop: 40, points: 5001, outputs: ['out'], known })
}

const stepped = (mna: Mna) =>
  interpolate(transient(mna, { stop: 40, outputs: ['out'], reltol: STEP_TOLERANCE }), 0, uniformTimes(40, 5001))

/** A sweep over 1000 points, compiled; everything from the values on is in what is returned. */
function sweep(mna: Mna, what: 'all' | 'one'): () => void {
  const omega = Float64Array.from({ length: 1000 }, (_, k) => 2 * Math.PI * 10 ** (3 + k / 200))
  const out = mna.circuit.nodes.indexOf('out')
  const probes =
    what === 'one' ? [[[out, 1, 0] as const]] : Array.from({ length: mna.size }, (_, k) => [[k, 1, 0] as const])
  const drive = mna.sources.map((s) => [s.row, s.sign] as const)
  const code = CompiledSweep.compile(mna, { solves: [{ drive, probes }], range: [omega[0]!, omega[999]!] })
  if (!code) throw new Error('this machine has no WebAssembly with SIMD')
  return () => code.run(omega)
}

function largestDifference(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let worst = 0
  for (let k = 0; k < a.length; k++) worst = Math.max(worst, Math.abs(a[k]! - b[k]!))
  return worst
}

/** The engine against general-purpose libraries, interleaved, minima of the rounds. */
export function engineFigures(root: string): Figure[] {
  let best: ReturnType<typeof ours> | null = null
  let other: Reference | null = null
  for (let k = 0; k < ROUNDS; k++) {
    const mine = ours()
    best = best ? minima(best, mine) : mine
    const theirs = reference(root)
    if (!theirs) break
    other = other ? minima(other, theirs) : theirs
  }
  const m = best!
  const point = (name: string, seconds: number): Figure => ({ name, value: seconds * 1000, unit: 'µs/point' })
  const figures: Figure[] = [
    point('AC, ladder of 11 unknowns, all', m.ladder),
    point('AC, active sections of 22 unknowns, all', m.active),
    point('AC, active sections of 22 unknowns, one output', m.activeOne),
    point('AC, ladder of 199 unknowns, all', m.big),
    { name: 'AC, ladder of 401 unknowns, 101 points from the netlist on', value: m.long * 1000, unit: 'ms' },
    {
      name: '  against the ladder of 201 unknowns',
      value: m.long / m.half,
      unit: '×',
      wanted: '≤ 3',
    },
    { name: 'AC, 22 unknowns, ordered, compiled and swept over 1000 points', value: m.cold * 1000, unit: 'ms' },
    { name: 'Transient from modes, order 7, 5001 points, transfer given', value: m.exact7 * 1000, unit: 'ms' },
    { name: 'Transient by steps, order 7', value: m.steps7 * 1000, unit: 'ms' },
    { name: 'Two-stage MOS amplifier, 10 periods', value: m.twoStage * 1000, unit: 'ms' },
    {
      name: '  with the charge-based law, against the square law',
      value: m.twoStageCharged / m.twoStage,
      unit: '×',
      wanted: '≤ 1.33',
    },
  ]
  if (!other) {
    figures.push({ name: 'No ratios: python3 with numpy and scipy is not here', value: Number.NaN, unit: '' })
    return figures
  }
  const ratio = (name: string, value: number, wanted: string): Figure => ({ name, value, unit: '×', wanted })
  const exact = exactTransient(butterworth(7), { stop: 40, points: 5001, outputs: ['out'] })![0]!
  const stepError = 2 * largestDifference(stepped(butterworth(7)), exact)
  const run = transient(twoStage(), { stop: 1e-4, outputs: ['out'], reltol: TWO_STAGE_TOLERANCE })
  const twoStageError = largestDifference(interpolate(run, 0, uniformTimes(1e-4, 201)), other.twoStage.out)
  return [
    ...figures,
    ratio('11 unknowns, all: numpy batched solve over ours', other.dense11 / m.ladder, '≥ 60'),
    ratio('22 unknowns, all: numpy batched solve over ours', other.dense22 / m.active, '≥ 80'),
    ratio('22 unknowns, one output: numpy batched solve over ours', other.dense22 / m.activeOne, '≥ 120'),
    ratio('199 unknowns, all: scipy splu over ours', other.sparse / m.big, '≥ 90'),
    ratio('cold, 22 unknowns: numpy batched solve over ours', other.dense22 / m.cold, '≥ 1'),
    ratio('modes, order 7: scipy lsim (state equations given) over ours', other.stepping7.lsim / m.exact7, '≥ 40'),
    ratio('modes, order 8: scipy lsim (state equations given) over ours', other.stepping8.lsim / m.exact8, '≥ 40'),
    ratio('steps, order 7: scipy lsim over ours', other.stepping7.lsim / m.steps7, '≥ 10'),
    ratio('steps, order 7: scipy Radau over ours', other.stepping7.radau / m.steps7, '≥ 30'),
    ratio('steps, order 8: scipy Radau over ours', other.stepping8.radau / m.steps8, '≥ 30'),
    {
      name: '  error of those steps (Radau errs by ' + other.stepping7.radauError.toExponential(1) + ')',
      value: stepError,
      unit: '',
    },
    ratio('two-stage amplifier: scipy BDF over ours', other.twoStage.bdf / m.twoStage, '≥ 25'),
    {
      name: '  its error, V (BDF errs by ' + other.twoStage.bdfError.toExponential(1) + ')',
      value: twoStageError,
      unit: '',
    },
  ]
}

/** The smaller of two numbers at every place of two alike structures. */
function minima<T>(a: T, b: T): T {
  if (typeof a === 'number') return Math.min(a, b as number) as T
  if (Array.isArray(a)) return a
  const result = {} as Record<string, unknown>
  for (const [key, value] of Object.entries(a as object))
    result[key] = minima(value, (b as Record<string, unknown>)[key])
  return result as T
}

/** The AC analysis as the interface uses it: one output with its derivative. */
export function acFigures(): Figure[] {
  const mna = ladder(4)
  const grid = logarithmicGrid(1e3, 1e8, 2000)
  const ac = new AcAnalysis(mna, { range: [2 * Math.PI * 1e3, 2 * Math.PI * 1e8] })
  const seconds = least(7, () => ac.sweep(grid))
  const value = (seconds / grid.length) * 1e6
  return [
    {
      name: 'Ladder of 11 unknowns, one output with group delay, compiling included',
      value,
      unit: 'µs/point',
      wanted: '≤ 5',
    },
  ]
}

/** How cost grows with a circuit: ns a point and unknown, every unknown an output, compiled code without compiling. */
export function growthFigures(): Figure[] {
  return [11, 51, 101, 199, 401].map((unknowns) => {
    const run = sweep(ladder((unknowns - 3) / 2), 'all')
    return {
      name: `Ladder of ${unknowns} unknowns, all`,
      value: (1e9 * least(7, run)) / (1000 * unknowns),
      unit: 'ns/point/unknown',
    }
  })
}
