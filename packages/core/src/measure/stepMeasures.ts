import { abs, complex } from '../numeric/complex.js'
import { evaluate, gainAtInfinity, type TransferFunction } from '../numeric/transferFunction.js'
import { type LastPassage, type StepPoint, StepResponse } from './stepResponse.js'

/** What is read off the response to a unit step at t = 0. Times in s; null where a thing does not exist. */
export interface StepMeasures {
  /** y(0+) */
  initial: number | null
  final: number | null
  /** From 10 % to 90 % of the final value, first crossings. */
  riseTime: number | null
  overshootPercent: number | null
  /** How far it swings back beyond the final value after it has first come there, in % of it. */
  ringingPercent: number | null
  /** When it is within 1 % of the final value for good. */
  settlingTime: number | null
  /** To 50 % of the final value. */
  delay: number | null
  /** The value farthest from zero. */
  peak: number | null
  peakTime: number | null
}

const NONE: StepMeasures = {
  initial: null,
  final: null,
  riseTime: null,
  overshootPercent: null,
  ringingPercent: null,
  settlingTime: null,
  delay: null,
  peak: null,
  peakTime: null,
}

/** Settled is within this part of the final value. */
const SETTLED = 0.01

/** Turns kept for being the highest: their bounds are near enough that it is among the first. */
const MOST_TURNS = 8

/** An overshoot below this is the rounding of a response that has none. */
const ROUNDING = 1e-11

/** The measures of a step response; every time is solved on the exact response, not read off samples. */
export function stepMeasures(h: TransferFunction): StepMeasures {
  if (h.zeros.length > h.poles.length) return NONE
  if (h.poles.length === 0) {
    return {
      ...NONE,
      initial: gainAtInfinity(h),
      final: gainAtInfinity(h),
      riseTime: 0,
      overshootPercent: 0,
      ringingPercent: 0,
      settlingTime: 0,
      delay: 0,
      peak: gainAtInfinity(h),
      peakTime: 0,
    }
  }
  if (h.poles.some((p) => p.re >= 0))
    return { ...NONE, initial: h.zeros.length === h.poles.length ? gainAtInfinity(h) : 0 }
  if (h.zeros.some((z) => abs(z) === 0)) return ofNothing(h)
  return read(h, evaluate(h, complex(0)).re)
}

/** Of a response that settles at nothing only the highest is to be read, and only where somebody asks: it may ring for long. */
function ofNothing(h: TransferFunction): StepMeasures {
  let found: StepMeasures | null = null
  const walked = () => (found ??= read(h, 0))
  return {
    ...NONE,
    initial: new StepResponse(h).initial,
    final: 0,
    get peak() {
      return walked().peak
    },
    get peakTime() {
      return walked().peakTime
    },
  }
}

function read(h: TransferFunction, final: number): StepMeasures {
  const response = new StepResponse(h)
  const reader = new Reader(response, final)
  const ended = response.walk(
    (from, to) => reader.read(from, to),
    final,
    (away) => reader.left(away),
  )
  const measures = reader.measures()
  // What still rings has no settling time to be told.
  return ended ? measures : { ...measures, settlingTime: null }
}

/** A stretch in which the response turns, and how far it may get there, outwards positive. */
interface Turn {
  readonly from: StepPoint
  readonly to: StepPoint
  readonly outer: number
}

class Reader {
  private readonly first: (number | null)[] = [null, null, null]
  /** The last stretch in which the response passed an edge of the settled band; solved at the end, once. */
  private lastPassage: { from: StepPoint; to: StepPoint; edge: number } | null = null
  private peak: { value: number; time: number }
  /** The farthest turns, farthest first. */
  private readonly tops: Turn[] = []
  private readonly bottoms: Turn[] = []
  /** Farthest beyond the final value, in its own direction, as a part of it. */
  private beyond = 0
  /** The same at points that were read, turns left out. */
  private turned = 0
  /** Swung back below the final value after it was first passed, as a part of it. */
  private back = 0
  /** When the final value was first passed. */
  private passed = Infinity
  private readonly levels: readonly number[]
  private readonly edges: readonly number[]

  constructor(
    private readonly response: StepResponse,
    private readonly final: number,
  ) {
    this.levels = [0.1, 0.5, 0.9].map((k) => k * final)
    this.edges = [final * (1 - SETTLED), final * (1 + SETTLED)]
    this.peak = { value: response.initial, time: 0 }
    this.noteExtreme(response.initial, 0)
    // What starts beyond a level has crossed it at once.
    if (final !== 0) this.levels.forEach((level, k) => (this.first[k] = response.initial / level >= 1 ? 0 : null))
  }

  read(from: StepPoint, to: StepPoint): void {
    // Between two points the response turns at most once. The turn is only solved where it can matter.
    const turns = from.slope > 0 !== to.slope > 0 && from.slope !== 0
    if (turns) this.noteTurn(from, to)
    if (turns && this.final !== 0 && this.turnMatters(from, to)) {
      const turn = this.solve(from, to, (p) => p.slope)
      this.noteExtreme(turn.value, turn.time)
      this.readMonotonic(from, turn)
      this.readMonotonic(turn, to)
    } else {
      this.readMonotonic(from, to)
    }
    this.noteExtreme(to.value, to.time)
    if (this.final !== 0) this.turned = Math.max(this.turned, to.value / this.final - 1)
  }

  /** What can still be read of a response that stays this near to its final value. */
  left(away: number): 'nothing' | 'all' | LastPassage {
    const size = Math.abs(this.final)
    if (size === 0 || !(away < size * this.turned)) return 'all'
    if (away < SETTLED * size) return 'nothing'
    const hasExtremes = away < size * this.back && size + away < Math.abs(this.peak.value)
    if (!hasExtremes || this.first.includes(null)) return 'all'
    const before = this.lastPassage
    return { limit: SETTLED * size, isFound: () => this.lastPassage !== before }
  }

  measures(): StepMeasures {
    for (const { from, to } of [...this.tops, ...this.bottoms]) {
      const turn = this.solve(from, to, (p) => p.slope)
      this.noteExtreme(turn.value, turn.time)
    }
    const [t10, t50, t90] = this.first
    const exists = this.final !== 0
    const passage = this.lastPassage
    const settled = passage ? this.solve(passage.from, passage.to, (p) => p.value - passage.edge).time : 0
    return {
      initial: this.response.initial,
      final: this.final,
      riseTime: exists && t10 !== null && t90 !== null ? t90 - t10 : null,
      overshootPercent: exists ? (this.beyond > ROUNDING ? 100 * this.beyond : 0) : null,
      ringingPercent: exists ? (this.back > ROUNDING ? 100 * this.back : 0) : null,
      settlingTime: exists ? settled : null,
      delay: exists ? t50 : null,
      peak: this.peak.value,
      peakTime: this.peak.time,
    }
  }

  /** Keeps the turns that may be the highest or the lowest; they are solved at the end, once. */
  private noteTurn(from: StepPoint, to: StepPoint): void {
    const up = from.slope > 0
    const list = up ? this.tops : this.bottoms
    const outer = this.turnBound(from, to).outer * (up ? 1 : -1)
    if (list.length === MOST_TURNS && outer <= list.at(-1)!.outer) return
    const place = list.findIndex((t) => t.outer < outer)
    list.splice(place < 0 ? list.length : place, 0, { from, to, outer })
    list.length = Math.min(list.length, MOST_TURNS)
  }

  /** How far the turn between two points may reach: a parabola through either overestimates it. */
  private turnBound(from: StepPoint, to: StepPoint): { inner: number; outer: number } {
    const h = to.time - from.time
    const up = from.slope > 0
    const reach =
      0.5 * h * Math.min(Math.abs(from.slope), Math.abs(to.slope)) + 0.25 * h * Math.abs(from.slope - to.slope)
    const inner = up ? Math.max(from.value, to.value) : Math.min(from.value, to.value)
    return { inner, outer: up ? inner + reach : inner - reach }
  }

  /** Whether the turn between two points may pass a level that neither point passes. */
  private turnMatters(from: StepPoint, to: StepPoint): boolean {
    const { inner, outer } = this.turnBound(from, to)
    const between = (level: number) => inner < level !== outer < level
    return this.edges.some(between) || this.levels.some((level, k) => this.first[k] === null && between(level))
  }

  private readMonotonic(from: StepPoint, to: StepPoint): void {
    if (this.final === 0) return
    this.levels.forEach((level, k) => {
      if (this.first[k] === null && from.value < level !== to.value < level) {
        this.first[k] = this.solve(from, to, (p) => p.value - level).time
      }
    })
    for (const edge of this.edges) {
      // Where both edges are passed between two points, the one farther from the earlier point is passed last.
      if (from.value < edge !== to.value < edge) {
        const nearerStart =
          this.lastPassage?.from === from && Math.abs(edge - from.value) < Math.abs(this.lastPassage.edge - from.value)
        if (!nearerStart) this.lastPassage = { from, to, edge }
      }
    }
  }

  private noteExtreme(value: number, time: number): void {
    if (Math.abs(value) > Math.abs(this.peak.value) * (1 + ROUNDING)) this.peak = { value, time }
    if (this.final === 0) return
    const over = value / this.final - 1
    this.beyond = Math.max(this.beyond, over)
    if (over >= 0) this.passed = Math.min(this.passed, time)
    else if (time > this.passed) this.back = Math.max(this.back, -over)
  }

  /** Where f changes sign between two points; Illinois' false position (M. Dowell, P. Jarratt, BIT 11, 1971). */
  private solve(from: StepPoint, to: StepPoint, f: (p: StepPoint) => number): StepPoint {
    let a = { t: from.time, f: f(from) }
    let b = { t: to.time, f: f(to) }
    if (a.f === 0) return from
    let best = to
    for (let k = 0; k < 100 && b.f !== 0; k++) {
      const t = (a.t * b.f - b.t * a.f) / (b.f - a.f)
      if (!(t > Math.min(a.t, b.t) && t < Math.max(a.t, b.t))) break
      const point = this.response.advance(from, t)
      const value = f(point)
      const moved = Math.abs(t - b.t)
      if (value > 0 !== b.f > 0) a = b
      else a = { t: a.t, f: a.f / 2 }
      b = { t, f: value }
      best = point
      if (moved <= 4 * Number.EPSILON * t) break
    }
    return best
  }
}
