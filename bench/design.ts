import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { approximate, approximations, candidates, type FilterSpecInput, parseSpec, realize } from '@voskel/core'
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

export function designFigures(root: string): Figure[] {
  const all = least(5, () => {
    for (const _ of candidates(parseSpec(SPEC)));
  })
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
      name: `all candidates: ${approximations.length} approximations × 12 orders × ladder, one thread`,
      value: 1000 * all,
      unit: 'ms',
      wanted: '≤ 300',
    },
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
