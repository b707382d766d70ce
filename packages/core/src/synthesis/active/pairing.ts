import type { Complex } from '../../numeric/complex.js'
import { magnitudeDb, type TransferFunction } from '../../numeric/transferFunction.js'
import type { Band } from '../../specification/responses.js'
import { asListed, type Factor, factorsWith, nearestZeros, taken } from './factors.js'

/** What pairs of poles and zeros, and their order, are chosen by. */
export const PAIRINGS = [
  { id: 'dynamic-range', name: 'Dynamic range' },
  { id: 'noise', name: 'Noise' },
  { id: 'sensitivity', name: 'Sensitivity' },
  { id: 'as-listed', name: 'As listed' },
] as const
export type Pairing = (typeof PAIRINGS)[number]['id']

/** Pairs of poles up to which all pairings are tried, and sections up to which all orders are. */
const MOST_PAIRED = 6
const MOST_ORDERED = 12

/** Points at which levels are looked at; how far beyond the outermost poles. */
const POINTS = 72
const BEYOND = 4

const NEPERS = Math.log(10) / 20

/**
 * The factors of a response in the order of their sections.
 *
 * Source: A. S. Sedra, P. O. Brackett, Filter Theory and Design: Active and Passive, Matrix 1978, for the flatness of each
 * output as the measure of dynamic range (from memory); all orders are compared over the sets of sections that have gone
 * before, since a level does not depend on their own order.
 *
 * @param passbands Hz
 * @param sensitivity what parts of a section do to its magnitude: asked for the pairing `sensitivity`
 */
export function ordered(
  h: TransferFunction,
  passbands: readonly Band[],
  pairing: Pairing,
  sensitivity: (factor: Factor) => number,
): Factor[] {
  const response = taken(h)
  const listed = factorsWith(response, nearestZeros(response))
  if (pairing === 'as-listed' || listed.length < 2) return asListed(listed, response)
  const grid = gridOf(h, passbands)
  const measure = pairing === 'noise' ? noiseCost : rangeCost
  const levels = new Map<string, Float64Array>()
  const levelOf = (factor: Factor, of: string): Float64Array => {
    let known = levels.get(of)
    if (!known) {
      const one = { ...factor, gain: 1 }
      known = grid.omega.map((w) => Math.max(magnitudeDb(one, w), -400) * NEPERS)
      levels.set(of, known)
    }
    return known
  }
  const keyOf = (f: Factor) => [...f.poles, ...f.zeros].map((r) => `${r.re} ${r.im}`).join()
  let best: { cost: number; factors: Factor[] } | null = null
  const weighed = new Map<string, number>()
  const weightOf = (f: Factor) => {
    const key = keyOf(f)
    if (!weighed.has(key)) weighed.set(key, sensitivity(f))
    return weighed.get(key)!
  }
  const consider = (dealt: readonly (readonly Complex[] | null)[]): number => {
    const factors = asListed(factorsWith(response, dealt), response)
    const found = bestOrder(
      factors.map((f) => levelOf(f, keyOf(f))),
      grid,
      measure,
    )
    // Where parts count the order does not matter to them: it only settles what is equal.
    const cost =
      pairing === 'sensitivity' ? factors.reduce((sum, f) => sum + weightOf(f), 0) + 1e-6 * found.cost : found.cost
    if (!best || cost < best.cost * (1 - 1e-12)) best = { cost, factors: found.order.map((k) => factors[k]) }
    return cost
  }
  for (const dealt of dealings(response, consider)) consider(dealt)
  return best!.factors
}

/** All ways to give pairs of zeros to pairs of poles; where there are too many, what exchanging two of the nearest improves. */
function* dealings(
  response: ReturnType<typeof taken>,
  cost: (dealt: readonly (readonly Complex[] | null)[]) => number,
): Generator<(readonly Complex[] | null)[]> {
  const nearest = nearestZeros(response)
  yield nearest
  const places = response.poles.flatMap((p, k) => (p.length === 2 ? [k] : []))
  const zeros = new Set(response.pairs.map((z) => `${z[0].re} ${z[0].im}`))
  if (zeros.size === 0 || (zeros.size === 1 && response.pairs.length === places.length)) return
  if (places.length <= MOST_PAIRED) {
    const dealt: (readonly Complex[] | null)[] = response.poles.map(() => null)
    yield* dealtOut(response.pairs, places, dealt)
    return
  }
  let current = nearest
  let least = cost(current)
  for (let improved = true; improved;) {
    improved = false
    for (const a of places) {
      for (const b of places) {
        if (b <= a || current[a] === current[b]) continue
        const exchanged = current.with(a, current[b]).with(b, current[a])
        const next = cost(exchanged)
        if (next < least) {
          ;[current, least, improved] = [exchanged, next, true]
        }
      }
    }
  }
}

function* dealtOut(
  pairs: readonly (readonly Complex[])[],
  places: readonly number[],
  dealt: (readonly Complex[] | null)[],
): Generator<(readonly Complex[] | null)[]> {
  if (pairs.length === 0) {
    yield [...dealt]
    return
  }
  const [first, ...rest] = pairs
  for (const place of places) {
    if (dealt[place]) continue
    dealt[place] = first
    yield* dealtOut(rest, places, dealt)
    dealt[place] = null
  }
}

interface Grid {
  readonly omega: Float64Array
  /** Which of the points lie inside the passband. */
  readonly passes: Uint8Array
}

function gridOf(h: TransferFunction, passbands: readonly Band[]): Grid {
  const sizes = h.poles.map((p) => Math.hypot(p.re, p.im))
  const [low, high] = [Math.min(...sizes) / BEYOND, Math.max(...sizes) * BEYOND]
  const even = Array.from({ length: POINTS }, (_, k) => low * (high / low) ** (k / (POINTS - 1)))
  const edges = passbands.flat().map((f) => 2 * Math.PI * f)
  const omega = Float64Array.from(
    [...even, ...sizes, ...edges].filter((w) => w > 0 && Number.isFinite(w)).sort((a, b) => a - b),
  )
  const inside = (w: number) =>
    passbands.length === 0 ||
    passbands.some(([from, to]) => w >= 2 * Math.PI * from * (1 - 1e-9) && w <= 2 * Math.PI * to * (1 + 1e-9))
  return { omega, passes: Uint8Array.from(omega, (w) => Number(inside(w))) }
}

/** What the sections so far cost, from the levels (nepers) behind them and behind all. */
type Cost = (level: Float64Array, whole: Float64Array, grid: Grid) => number

/** How much of the range a signal has is lost there: the greatest level over the smallest of the passband, nepers. */
const rangeCost: Cost = (level, _whole, { passes }) => {
  let [most, least] = [-Infinity, Infinity]
  for (let k = 0; k < level.length; k++) {
    if (level[k] > most) most = level[k]
    if (passes[k] === 1 && level[k] < least) least = level[k]
  }
  return most - least
}

/** The noise that comes in there with every output at the same greatest level, as it leaves, in powers. */
const noiseCost: Cost = (level, whole, { omega }) => {
  let [most, mostAtEnd] = [-Infinity, -Infinity]
  for (let k = 0; k < level.length; k++) {
    most = Math.max(most, level[k])
    mostAtEnd = Math.max(mostAtEnd, whole[k])
  }
  let sum = 0
  for (let k = 1; k < level.length; k++)
    sum += (omega[k] - omega[k - 1]) * Math.exp(2 * (whole[k] - level[k] + most - mostAtEnd))
  return sum
}

/** The order of least cost: the worst place counts for the range, all places for noise. */
function bestOrder(levels: readonly Float64Array[], grid: Grid, measure: Cost): { order: number[]; cost: number } {
  const n = levels.length
  const whole = sumOf(levels, grid)
  const together = measure === noiseCost ? (a: number, b: number) => a + b : Math.max
  if (n > MOST_ORDERED) return greedyOrder(levels, grid, whole, measure, together)
  const count = 1 << n
  const sums: Float64Array[] = [new Float64Array(grid.omega.length)]
  const costs = new Float64Array(count)
  const last = new Int8Array(count)
  for (let set = 1; set < count; set++) {
    const top = 31 - Math.clz32(set)
    const rest = sums[set ^ (1 << top)]
    const own = levels[top]
    const level = new Float64Array(rest.length)
    for (let k = 0; k < level.length; k++) level[k] = rest[k] + own[k]
    sums[set] = level
    const here = set === count - 1 ? 0 : measure(level, whole, grid)
    costs[set] = Infinity
    // The last section of equal costs is the one that is listed last.
    for (let k = n - 1; k >= 0; k--) {
      if ((set & (1 << k)) === 0) continue
      const cost = together(costs[set ^ (1 << k)], here)
      if (cost < costs[set] - 1e-9) {
        costs[set] = cost
        last[set] = k
      }
    }
  }
  const order: number[] = []
  for (let set = count - 1; set > 0; set ^= 1 << last[set]) order.unshift(last[set])
  return { order, cost: costs[count - 1] }
}

function greedyOrder(
  levels: readonly Float64Array[],
  grid: Grid,
  whole: Float64Array,
  measure: Cost,
  together: (a: number, b: number) => number,
) {
  const left = levels.map((_, k) => k)
  const order: number[] = []
  let level = new Float64Array(grid.omega.length)
  let cost = 0
  while (left.length > 0) {
    const tried = left.map((k) => {
      const next = level.map((v, j) => v + levels[k][j])
      return { k, next, cost: measure(next, whole, grid) }
    })
    const best = tried.reduce((a, b) => (b.cost < a.cost ? b : a))
    if (left.length > 1) cost = together(cost, best.cost)
    order.push(best.k)
    left.splice(left.indexOf(best.k), 1)
    level = best.next
  }
  return { order, cost }
}

function sumOf(levels: readonly Float64Array[], grid: Grid): Float64Array {
  const sum = new Float64Array(grid.omega.length)
  for (const own of levels) for (let k = 0; k < sum.length; k++) sum[k] += own[k]
  return sum
}

/** The levels behind each section, as factors of the greatest at the output, for gains of 1 in front of each factor. */
export function greatestLevels(factors: readonly Factor[], h: TransferFunction, passbands: readonly Band[]): number[] {
  const grid = gridOf(h, passbands)
  let poles: Complex[] = []
  let zeros: Complex[] = []
  return factors.map((factor) => {
    poles = [...poles, ...factor.poles]
    zeros = [...zeros, ...factor.zeros]
    const so = { poles, zeros, gain: 1 }
    return Math.max(...grid.omega.map((w) => magnitudeDb(so, w))) * NEPERS
  })
}
