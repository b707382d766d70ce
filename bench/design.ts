import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import {
  approximate,
  approximations,
  candidates,
  type FilterSpecInput,
  formulate,
  idealOf,
  influences,
  parseSpec,
  polesAndZeros,
  realize,
  recognise,
  roundingOf,
} from '@voskel/core'
import { type Figure, least, median } from './report.js'

/** What design.py prints: seconds for the poles and zeros of orders 1 … 12 by the reference library. */
type Reference = Record<string, number>

const SPEC: FilterSpecInput = {
  response: 'lowpass',
  approximation: 'butterworth',
  order: 5,
  passband: { edges: [20e3], ripple: 0.5 },
  stopband: { edges: [44e3], attenuation: 40 },
  requirements: [{ kind: 'overshoot', limit: 15 }],
  realization: { family: 'lc-ladder', source: 50, load: 50 },
}

const ORDERS = Array.from({ length: 12 }, (_, k) => k + 1)

/** The approximations that the reference library has as well; ripple and attenuation as there. */
const COMMON = ['butterworth', 'chebyshev', 'inverse-chebyshev', 'elliptic', 'bessel']

const spec = (approximation: string, order: number) =>
  parseSpec({ ...SPEC, approximation, order, stopband: { attenuation: 40 } } as FilterSpecInput)

/** A narrow band-stop: its step rings for long. */
const NARROW: FilterSpecInput = {
  ...SPEC,
  response: 'bandstop',
  passband: { edges: [900, 1100], ripple: 0.5 },
  stopband: { edges: [990, 1010], attenuation: 40 },
}

/** A low-pass of 30 parts with values of E24, whose roots are no family's: what takes longest to recognise. */
const THIRTY: FilterSpecInput = {
  ...SPEC,
  approximation: 'chebyshev',
  order: 9,
  stopband: undefined,
  realization: { family: 'sallen-key' },
}

/** A tenth-order active filter of bought values with everything that is usually required of it. */
const TENTH: FilterSpecInput = {
  ...SPEC,
  order: 10,
  passband: { edges: [20e3], ripple: 1 },
  requirements: [
    { kind: 'overshoot', limit: 25 },
    { kind: 'gain-at', at: 15e3, target: 0, limit: 1 },
  ],
  realization: { family: 'sallen-key' },
}

/** Seconds for what every part does to every requirement, the equations and roots being there after the curves. */
function influence(): number {
  const spec = parseSpec(TENTH)
  const ideal = idealOf(spec)
  const { circuit, referenceDb } = realize(spec, 'E24')
  const whole = formulate(circuit)
  const { transfer } = polesAndZeros(whole)
  const subject = { promised: { spec, ideal }, circuit, referenceDb, whole, equations: whole, transfer }
  return least(9, () => influences(subject))
}

/** Seconds from a circuit to what it is. */
function recognised(): number {
  const { circuit } = realize(parseSpec(THIRTY), 'E24')
  return least(9, () => {
    const equations = formulate(circuit)
    return recognise(polesAndZeros(equations).transfer, roundingOf(equations))
  })
}

/** Seconds until the first ten candidates are there, and all. */
function candidateTimes(input: FilterSpecInput): { firstTen: number; all: number } {
  const began = performance.now()
  let [count, firstTen] = [0, 0]
  for (const _ of candidates(parseSpec(input))) if (++count === 10) firstTen = (performance.now() - began) / 1000
  return { firstTen, all: (performance.now() - began) / 1000 }
}

export function designFigures(root: string): Figure[] {
  // The first ten are waited for by somebody who has just opened the page: cold.
  const cold = candidateTimes(SPEC)
  const all = least(5, () => candidateTimes(SPEC).all)
  const narrow = least(5, () => candidateTimes(NARROW).all)
  const elliptic15 = least(25, () => realize(spec('elliptic', 15)))
  const run = spawnSync('python3', [join(root, 'bench/design.py')], { encoding: 'utf8' })
  const other = run.status === 0 ? (JSON.parse(run.stdout) as Reference) : null
  const poles = Object.fromEntries(
    COMMON.map((id) => {
      const specs = ORDERS.map((order) => spec(id, order))
      return [id, least(9, () => specs.forEach((s) => approximate(s)))]
    }),
  )
  const single = approximations.flatMap((a) =>
    [5, 9, 15].flatMap((order): Figure[] => {
      const s = spec(a.id, order)
      try {
        realize(s)
      } catch {
        // Where no ladder exists there is nothing to time.
        return []
      }
      const seconds = least(5, () => realize(s))
      return [
        { name: `${a.id}, order ${order}: response and ladder`, value: 1000 * seconds, unit: 'ms', wanted: '≤ 5' },
      ]
    }),
  )
  const slowest = single.reduce((a, b) => (b.value > a.value ? b : a))
  return [
    {
      name: 'candidates judged by their circuits: the first ten, in a process that has computed nothing yet',
      value: 1000 * cold.firstTen,
      unit: 'ms',
      wanted: '< 150',
    },
    {
      name: `  all: ${approximations.length} approximations × 12 orders × ladder, one thread`,
      value: 1000 * all,
      unit: 'ms',
      wanted: '< 600',
    },
    { name: '  all of a narrow band-stop', value: 1000 * narrow, unit: 'ms', wanted: '< 600' },
    { name: 'elliptic, order 15: response and ladder', value: 1000 * elliptic15, unit: 'ms', wanted: '< 10' },
    {
      name: 'what every part of a tenth-order active filter does to every requirement, after the curves',
      value: 1000 * influence(),
      unit: 'ms',
      wanted: '< 30',
    },
    { name: 'thirty parts of E24: what they are', value: 1000 * recognised(), unit: 'ms', wanted: '< 50' },
    { ...slowest, name: `the slowest single design of orders 5, 9, 15 (${slowest.name})` },
    {
      name: `half of the ${single.length} single designs of those orders take less than`,
      value: median(single.map((s) => s.value)),
      unit: 'ms',
      wanted: '≤ 5',
    },
    ...(other
      ? COMMON.map((id) => ({
          name: `${id}, orders 1 … 12, poles and zeros: scipy over ours`,
          value: other[id]! / poles[id]!,
          unit: '×',
          wanted: '≥ 1',
        }))
      : []),
  ]
}
