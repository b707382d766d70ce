import type { Approximation, PrototypeRequest, ShapeParameters } from '../approximation/Approximation.js'
import { withEvenOrder } from '../approximation/evenOrder.js'
import { approximations } from '../approximation/index.js'
import { VoskelError } from '../errors/VoskelError.js'
import { abs, type Complex, complex } from '../numeric/complex.js'
import { solveLinear } from '../numeric/dense.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { onAxis, type Roots } from './prototypes.js'

/** A family that comes near to some roots. */
export interface Fit {
  readonly family: Approximation
  /** How far its roots, or, where parts are rounded, its response, lie from what is seen. */
  readonly distance: number
  /** How many numbers were chosen to come so near. */
  readonly chosen: number
  /** dB, of families whose shape they are. */
  readonly rippleDb?: number
  readonly attenuationDb?: number
}

/** Roots of one low-pass, as they are compared. */
interface Shape {
  /** By their angle from the negative real axis: what rounding splits stays in its place. */
  readonly poles: readonly Complex[]
  /** On the axis above DC, ascending. */
  readonly zeros: readonly number[]
}

function shapeOf({ poles, zeros }: Roots): Shape | null {
  if (!zeros.every(onAxis)) return null
  const angle = (p: Complex) => Math.atan2(p.im, -p.re)
  const above = zeros.filter((z) => z.im > 0).map((z) => abs(z))
  return { poles: poles.toSorted((a, b) => angle(a) - angle(b)), zeros: above.toSorted((a, b) => a - b) }
}

/** The geometric mean of some poles. */
const sizeOf = (poles: readonly Complex[]): number =>
  Math.exp(poles.reduce((sum, p) => sum + Math.log(abs(p)), 0) / poles.length)

/** The relative distances of the roots of two shapes, in real numbers; null where these have not as many. */
function distances(seen: Shape, made: Shape): number[] | null {
  if (seen.poles.length !== made.poles.length || seen.zeros.length !== made.zeros.length) return null
  const unit = sizeOf(made.poles) / sizeOf(seen.poles)
  const found: number[] = []
  made.poles.forEach((p, k) => {
    const [q, far] = [seen.poles[k], abs(p)]
    found.push((unit * q.re - p.re) / far, (unit * q.im - p.im) / far)
  })
  made.zeros.forEach((z, k) => found.push((unit * seen.zeros[k] - z) / z))
  return found
}

const rms = (values: readonly number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length)

/** A family with numbers that are open, each between two ends on the axis on which it is sought. */
interface Candidate {
  readonly family: Approximation
  readonly open: readonly (readonly [from: number, to: number])[]
  readonly request: (order: number, at: readonly number[]) => PrototypeRequest
  readonly evenOnly?: boolean
}

const plain = (order: number, rippleDb = HALF_POWER_DB, parameters: ShapeParameters = {}): PrototypeRequest => ({
  order,
  rippleDb,
  parameters,
})

/** dB as logarithms: a ripple is sought from 0.001 dB on, an attenuation from 10 dB. */
const RIPPLES = [Math.log(1e-3), Math.log(6)] as const
const ATTENUATIONS = [Math.log(10), Math.log(160)] as const

/** How the numbers of a family are open, by what it says of itself. */
function candidatesOf(family: Approximation): Candidate[] {
  const shaped = family.defaultRippleDb === null
  if (family.shapesStopband) {
    const both: Candidate = {
      family,
      open: shaped ? [RIPPLES, ATTENUATIONS] : [ATTENUATIONS],
      request: (order, at) => ({
        ...plain(order, shaped ? Math.exp(at[0]) : HALF_POWER_DB),
        attenuationDb: Math.exp(at.at(-1)!),
      }),
    }
    return [both, ...evenForms(both)]
  }
  if (shaped) return [rippled(family), ...evenForms(rippled(family))]
  const [field] = family.fields ?? []
  const fixed: Candidate = { family, open: [], request: (order) => plain(order) }
  if (!field) return family.followsEdgeLoss ? [fixed, rippled(family)] : [fixed]
  // What is left out says something of its own, and what is given is mostly one of a few.
  if (field.default === null)
    return [
      fixed,
      ...(field.usual ?? []).map((v) => ({
        ...fixed,
        request: (n: number) => plain(n, HALF_POWER_DB, { [field.id]: v }),
      })),
    ]
  const isRatio = field.least > 0
  const ends = [field.least, field.most].map((v) => (isRatio ? Math.log(v) : v)) as [number, number]
  const at = (order: number, value: number) => plain(order, HALF_POWER_DB, { [field.id]: value })
  return [
    // Its usual number is none that was chosen to suit.
    { ...fixed, request: (order) => at(order, field.default!) },
    { family, open: [ends], request: (order, [x]) => at(order, isRatio ? Math.exp(x) : x) },
  ]
}

const rippled = (family: Approximation): Candidate => ({
  family,
  open: [RIPPLES],
  request: (order, at) => plain(order, Math.exp(at[0])),
})

/** The other forms of even orders. */
const evenForms = (candidate: Candidate): Candidate[] =>
  candidate.family.reflectionZeros
    ? (['b', 'c'] as const).map((form) => ({
        ...candidate,
        family: withEvenOrder(candidate.family, form),
        evenOnly: true,
      }))
    : []

/** From farther away no search between two starts comes near. */
const TOO_FAR = 0.35

/** Nothing is nearer than rounding. */
const EXACT = 1e-7

const MOST_STEPS = 25

/** Candidates from those that leave nothing open on: what is explained without a free number needs none. */
const candidates = approximations.flatMap(candidatesOf).sort((a, b) => a.open.length - b.open.length)

/**
 * The families whose roots these are, to rounding, with the fewest numbers chosen first; empty where they are none's. What is
 * explained without a free number is not sought with one.
 */
export function exactFits(roots: Roots): Fit[] {
  const seen = shapeOf(roots)
  if (!seen) return []
  for (let chosen = 0; chosen <= MOST_OPEN; chosen++) {
    const found = fitsOf(roots, chosen, (made) => {
      const shape = shapeOf(made)
      return shape && distances(seen, shape)
    })
    const exact = found.filter((fit) => fit.distance < EXACT)
    if (exact.length > 0) return exact
  }
  return []
}

/**
 * How near each family's response comes: rounded parts move the roots of a ladder far, and its response little.
 *
 * @param chosen how many numbers are chosen to suit: families that leave as many open are asked
 */
export function nearFits(roots: Roots, chosen: number): Fit[] {
  const seen = shapeOf(roots)
  if (!seen) return []
  const size = sizeOf(roots.poles)
  const frequencies = Array.from(
    { length: POINTS },
    (_, k) => size * SPAN[0] * (SPAN[1] / SPAN[0]) ** (k / (POINTS - 1)),
  )
  const wanted = frequencies.map((w) => overDc(roots, w))
  const off = (made: Roots, [unit, gain]: readonly number[]): number[] | null => {
    if (made.zeros.length !== roots.zeros.length) return null
    const scale = Math.exp(unit) / size
    const factor = Math.exp(gain)
    return frequencies.flatMap((w, k) => {
      const h = overDc(made, w * scale)
      const weight = factor * Math.hypot(h.re, h.im) + FLOOR
      return [(wanted[k].re - factor * h.re) / weight, (wanted[k].im - factor * h.im) / weight]
    })
  }
  return fitsOf(roots, chosen, off, FREE)
}

/** Frequencies at which responses are compared, over the geometric mean of the poles. */
const POINTS = 40
const SPAN = [0.05, 3] as const

/** Of the passband: what is weaker counts no more. */
const FLOOR = 0.03

/** Units of frequency and of gain are nobody's: both are free, as logarithms. */
const FREE: readonly (readonly [from: number, to: number])[] = [
  [-2, 2],
  [-0.5, 0.5],
]

/** A response over what it is at DC. */
function overDc({ poles, zeros }: Roots, w: number): Complex {
  let [re, im] = [1, 0]
  const times = (x: number, y: number) => ([re, im] = [re * x - im * y, re * y + im * x])
  for (const z of zeros) {
    // 1 − jw/z
    const size = z.re * z.re + z.im * z.im
    times(1 - (w * z.im) / size, (-w * z.re) / size)
  }
  for (const p of poles) {
    const size = p.re * p.re + p.im * p.im
    const [x, y] = [1 - (w * p.im) / size, (-w * p.re) / size]
    const norm = x * x + y * y
    times(x / norm, -y / norm)
  }
  return { re, im }
}

/** The most numbers that a family leaves open. */
export const MOST_OPEN = Math.max(...candidates.map((c) => c.open.length))

type Off = (made: Roots, free: readonly number[]) => number[] | null

function fitsOf({ poles }: Roots, chosen: number, off: Off, free: Candidate['open'] = []): Fit[] {
  const order = poles.length
  return candidates.flatMap((candidate) => {
    if (candidate.open.length !== chosen || (candidate.evenOnly && order % 2 === 1)) return []
    const fit = nearest(candidate, order, off, free)
    return fit ? [fit] : []
  })
}

function nearest({ family, open, request }: Candidate, order: number, off: Off, free: Candidate['open']): Fit | null {
  // What is free besides moves nothing of the family's own.
  let last: { readonly own: readonly number[]; readonly made: Roots } | null = null
  const madeAt = (own: readonly number[]): Roots => {
    if (last && own.every((x, k) => x === last!.own[k])) return last.made
    const h = family.prototype(request(order, own))
    last = { own, made: free.length > 0 ? ofUnitSize(h) : h }
    return last.made
  }
  const miss = (at: readonly number[]): number[] | null => {
    try {
      return off(madeAt(at.slice(0, open.length)), at.slice(open.length))
    } catch (error) {
      // Not every number of a family makes a response.
      if (error instanceof VoskelError) return null
      throw error
    }
  }
  const ends = [...open, ...free]
  const places = starts(open)
  // Where the roots are not as many, no number helps.
  if (!miss([...places[0], ...free.map(() => 0)])) return null
  const begun = places.flatMap((begin) => {
    const at = [...begin, ...free.map(() => 0)]
    const values = miss(at)
    return values ? [{ at, values, size: rms(values) }] : []
  })
  if (begun.length === 0) return null
  const nearestStart = begun.reduce((a, b) => (b.size < a.size ? b : a))
  if (open.length > 0 && nearestStart.size > TOO_FAR) return null
  const best = refined(nearestStart, ends, miss, free.length > 0 ? SETTLED : LEAPS)
  const { rippleDb, attenuationDb } = request(order, best.at)
  const isShaped = family.defaultRippleDb === null || open.length > 0
  return {
    family,
    distance: best.size,
    chosen: open.length,
    ...(isShaped && rippleDb !== HALF_POWER_DB && { rippleDb }),
    ...(attenuationDb !== undefined && { attenuationDb }),
  }
}

/** Roots with the geometric mean of the poles at 1. */
function ofUnitSize({ poles, zeros }: Roots): Roots {
  const size = sizeOf(poles)
  const scaled = (r: Complex) => complex(r.re / size, r.im / size)
  return { poles: poles.map(scaled), zeros: zeros.map(scaled) }
}

interface Place {
  readonly at: readonly number[]
  readonly values: readonly number[]
  readonly size: number
}

/** Where a search begins: a few places over the range of each open number. */
function starts(open: Candidate['open']): number[][] {
  const along = ([from, to]: readonly [number, number]) =>
    [0.05, 0.35, 0.65, 0.95].map((part) => from + part * (to - from))
  return open.reduce<number[][]>((all, ends) => all.flatMap((at) => along(ends).map((x) => [...at, x])), [[]])
}

/** Relative gain of a step below which a rounded response is as near as it comes; roots that are met are met by leaps. */
const SETTLED = 0.01
const LEAPS = 0.05

/** The least squares near a place, by damped Gauss–Newton steps with derivatives by differences. */
function refined(
  start: Place,
  open: Candidate['open'],
  off: (at: readonly number[]) => number[] | null,
  settled: number,
): Place {
  let best = start
  let damping = 1e-3
  for (let step = 0; step < MOST_STEPS && open.length > 0 && best.size > EXACT / 100 && damping < 1e6; step++) {
    // From the last number on: what is free besides comes before what makes another response.
    const slopes = open
      .map((_, k) => k)
      .toReversed()
      .map((k) => {
        const [from, to] = open[k]
        const h = 1e-6 * (to - from)
        const side = best.at[k] + h > to ? -1 : 1
        const values = off(best.at.map((x, j) => (j === k ? x + side * h : x)))
        return values?.map((v, i) => (side * (v - best.values[i])) / h) ?? null
      })
    if (slopes.includes(null)) break
    const move = solved((slopes as number[][]).toReversed(), best.values, damping)
    const at = best.at.map((x, k) => Math.min(open[k][1], Math.max(open[k][0], x - move[k])))
    const values = off(at)
    const size = values ? rms(values) : Infinity
    if (size < best.size) {
      const gained = best.size - size
      best = { at, values: values!, size }
      damping /= 10
      if (gained <= settled * size) break
    } else damping *= 10
  }
  return best
}

/** (JᵀJ + damping·diag)⁻¹·Jᵀr; no step where the numbers do not tell themselves apart. */
function solved(columns: readonly (readonly number[])[], r: readonly number[], damping: number): number[] {
  const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + v * b[i], 0)
  const matrix = columns.map((a, i) => columns.map((b, j) => dot(a, b) * (i === j ? 1 + damping : 1)))
  if (matrix.some((row, i) => !(row[i] > 0))) return columns.map(() => 0)
  const right = columns.map((c) => dot(c, r))
  return [...solveLinear(matrix, right)]
}
