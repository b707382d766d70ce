import { adaptiveSweep } from '../analysis/adaptiveGrid.js'
import type { Mna } from '../analysis/mna.js'
import { maybeTransfer } from '../analysis/poles.js'
import { delayOf, type ResponsePoint, SignalAnalysis } from '../analysis/signalAnalysis.js'
import type { SignalLike } from '../analysis/signals.js'
import { followedPhase, phasesDeg } from '../analysis/sweeps.js'
import { divide } from '../numeric/complex.js'
import { leastBetween } from '../numeric/goldenSection.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { bisect, extrema } from './extrema.js'
import type { Snap } from './places.js'

const TAU = 2 * Math.PI

/** How far outside of a range a curve is looked at for its highest value, as a factor. */
const OUTSIDE = 1e4

/** A signal at one frequency, in every way in which it is read. */
export interface CurvePoint {
  /** Of a power ten, else twenty times the logarithm. */
  readonly db: number
  /** In the signal's own unit: its magnitude; of a real quantity with its sign. */
  readonly value: number
  /** Unwrapped, degrees. */
  readonly phase: number
  /** −φ/ω, s */
  readonly 'phase-delay': number
  /** Group delay, s */
  readonly delay: number
  readonly re: number
  readonly im: number
  /** dB a decade */
  readonly slope: number
}
export type CurveView = Exclude<keyof CurvePoint, 'slope'>

/** The sign of a view's change with ω, where the derivative says it. */
const RISES: Readonly<Partial<Record<CurveView, (p: ResponsePoint) => number>>> = {
  db: ({ value, slope }) => divide(slope, value).re,
  value: ({ value, slope }) => (value.im === 0 && slope.im === 0 ? slope.re : divide(slope, value).re),
  phase: ({ value, slope }) => divide(slope, value).im,
  re: ({ slope }) => slope.re,
  im: ({ slope }) => slope.im,
}

export interface CurveRange {
  /** Hz */
  readonly from: number
  readonly to: number
  /** Name of the driving source. */
  readonly input?: string
  /** The signal by its roots where they are known; null where nobody knows them. Left out, they are looked for. */
  readonly transfer?: TransferFunction | null
}

/** One signal of a linear circuit between two frequencies: asked anywhere, and asked where it does something. */
export class SignalCurve {
  readonly unit: string
  /** 10 dB a decade. */
  readonly isPower: boolean
  /** Hz, ascending: near enough to each other that nothing turns twice between two. */
  readonly frequency: Float64Array
  private readonly analysis: SignalAnalysis
  private readonly phases: Float64Array
  private readonly transfer: TransferFunction | null

  /** @throws VoskelError as `SignalAnalysis` */
  constructor(mna: Mna, signal: SignalLike, range: CurveRange) {
    const { from, to, input } = range
    const asked = { ...(input !== undefined && { input }) }
    this.analysis = new SignalAnalysis(mna, [signal], { ...asked, range: [TAU * from, TAU * to] })
    this.unit = this.analysis.units[0]
    this.isPower = this.analysis.arePowers[0]
    this.transfer = range.transfer === undefined ? maybeTransfer(mna, { ...asked, output: signal }) : range.transfer
    const roots = this.transfer ? [...this.transfer.poles, ...this.transfer.zeros] : []
    const sweep = adaptiveSweep(this.analysis.signal(0), from, to, roots)
    this.frequency = sweep.frequency
    this.phases = phasesDeg(sweep, this.transfer ?? followedPhase(this.analysis.signal(0), from))
  }

  /** @param frequency Hz, inside the range */
  at(frequency: number): CurvePoint {
    return this.read(frequency, this.point(frequency))
  }

  /** Every frequency at which a view has a value, Hz, ascending, each solved to rounding. */
  where(view: CurveView, value: number): number[] {
    const of = (f: number) => this.view(view, f) - value
    const grid = [...new Set([...this.frequency, ...this.turns(view).map((t) => t.at)])].sort((a, b) => a - b)
    const off = grid.map(of)
    return grid.flatMap((f, k) => {
      if (off[k] === 0) return [f]
      const next = off[k + 1]
      return next !== undefined && next !== 0 && off[k] > 0 !== next > 0 ? [bisect(of, f, grid[k + 1])] : []
    })
  }

  /** The places of a kind, Hz, ascending, each solved. Peaks and dips are those of the view. */
  snaps(snap: Snap, view: CurveView = 'db'): number[] {
    if (snap === 'peak' || snap === 'dip' || snap === 'turn')
      return this.turns(view).flatMap(({ at, kind }) => (snap === 'turn' || kind === snap ? [at] : []))
    if (snap === 'half-power') return this.where('db', this.highestDb() - HALF_POWER_DB)
    if (snap === 'unity') return this.where('db', 0)
    const [least, most] = [Math.min(...this.phases), Math.max(...this.phases)]
    const multiples = Array.from({ length: Math.max(0, Math.floor(most / 45) - Math.ceil(least / 45) + 1) }, (_, k) =>
      this.where('phase', 45 * (Math.ceil(least / 45) + k)),
    )
    return multiples.flat().sort((a, b) => a - b)
  }

  /** Where a view is highest or lowest among its neighbours, Hz. */
  private turns(view: CurveView): { at: number; kind: 'peak' | 'dip' }[] {
    const rise = RISES[view]
    const grid = this.frequency
    if (rise) {
      const of = (f: number) => rise(this.point(f))
      const rises = Array.from(grid, of)
      return rises.flatMap((before, k) => {
        const after = rises[k + 1]
        if (after === undefined || !(before > 0 !== after > 0) || before === 0 || after === 0) return []
        return [{ at: bisect(of, grid[k], grid[k + 1]), kind: before > 0 ? ('peak' as const) : ('dip' as const) }]
      })
    }
    const values = Array.from(grid, (f) => this.view(view, f))
    return values.flatMap((v, k) => {
      if (k === 0 || k === values.length - 1) return []
      const [before, after] = [values[k - 1], values[k + 1]]
      const sign = v > before && v >= after ? -1 : v < before && v <= after ? 1 : 0
      if (sign === 0) return []
      const at = leastBetween((f) => sign * this.view(view, f), grid[k - 1], grid[k + 1])
      return [{ at, kind: sign < 0 ? ('peak' as const) : ('dip' as const) }]
    })
  }

  /** The highest magnitude from DC to infinity: what lies outside of the range counts, as a passband from DC does. */
  private highestDb(): number {
    if (this.transfer) return Math.max(...extrema(this.transfer).map((e) => e.db))
    const [from, to] = [this.frequency[0], this.frequency.at(-1)!]
    const places = [from / OUTSIDE, from, to, to * OUTSIDE, ...this.snaps('peak')]
    return Math.max(...places.map((f) => this.view('db', f)).filter(Number.isFinite))
  }

  private point = (frequency: number): ResponsePoint => this.analysis.points(TAU * frequency)[0]

  private view = (view: CurveView, frequency: number): number => this.at(frequency)[view]

  private read(frequency: number, { value, slope }: ResponsePoint): CurvePoint {
    const size = Math.hypot(value.re, value.im)
    const scale = this.isPower ? 10 : 20
    const phase = this.phase(frequency, value)
    return {
      db: scale * Math.log10(size),
      value: value.im === 0 ? value.re : size,
      phase,
      'phase-delay': -phase / 360 / frequency,
      delay: delayOf(value, slope),
      re: value.re,
      im: value.im,
      slope: scale * divide(slope, value).re * TAU * frequency,
    }
  }

  /** In the turn of the curve there. */
  private phase(frequency: number, { re, im }: { re: number; im: number }): number {
    const wrapped = (Math.atan2(im, re) * 180) / Math.PI
    const grid = this.frequency
    let [lo, hi] = [0, grid.length - 1]
    while (hi - lo > 1) {
      const middle = (lo + hi) >> 1
      if (grid[middle] <= frequency) lo = middle
      else hi = middle
    }
    const share = (frequency - grid[lo]) / (grid[hi] - grid[lo] || 1)
    const near = this.phases[lo] + Math.min(1, Math.max(0, share)) * (this.phases[hi] - this.phases[lo])
    return wrapped - 360 * Math.round((wrapped - near) / 360)
  }
}
