import { groupDelay, magnitudeDb, phase, type TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { bisect, crossings, extrema, logSlope } from './extrema.js'
import { searchGrid } from './overFrequency.js'

/** A view of a response: dB, unwrapped degrees, s. */
export type View = 'db' | 'phase' | 'delay'

const TAU = 2 * Math.PI

const VIEWS: Readonly<Record<View, (h: TransferFunction, omega: number) => number>> = {
  db: magnitudeDb,
  phase: (h, omega) => (phase(h, omega) * 180) / Math.PI,
  delay: groupDelay,
}

/** d(dB)/d(log₁₀ f) at a frequency, Hz: dB a decade. */
export const slopeDbPerDecade = (h: TransferFunction, frequency: number): number =>
  20 * TAU * frequency * logSlope(h, TAU * frequency)

/**
 * Every frequency between two, Hz, at which a view of a response has a value, ascending, each solved to rounding.
 *
 * @param from and @param to Hz, 0 < from < to
 */
export function frequenciesWhere(h: TransferFunction, view: View, value: number, from: number, to: number): number[] {
  if (view === 'db')
    return crossings(h, value)
      .map((omega) => omega / TAU)
      .filter((f) => f >= from && f <= to)
  const of = (omega: number) => VIEWS[view](h, omega) - value
  const grid = searchGrid(h, TAU * from, TAU * to)
  const off = grid.map(of)
  return grid.flatMap((omega, k) => {
    if (off[k] === 0) return [omega / TAU]
    const next = off[k + 1]
    return next !== undefined && next !== 0 && off[k] > 0 !== next > 0 ? [bisect(of, omega, grid[k + 1]) / TAU] : []
  })
}

/** What a cursor can be put on. */
export const SNAPS = [
  { id: 'peak', name: 'peak', says: 'the next maximum of the magnitude' },
  { id: 'dip', name: 'dip', says: 'the next minimum of the magnitude' },
  { id: 'turn', name: 'ripple', says: 'the next maximum or minimum' },
  { id: 'half-power', name: '−3 dB', says: 'where the magnitude has lost 10·log₁₀(2) dB against its highest' },
  { id: 'unity', name: '0 dB', says: 'where output and input are equal' },
  { id: 'phase', name: '45°', says: 'where the phase is a multiple of 45°' },
] as const
export type Snap = (typeof SNAPS)[number]['id']

/** Multiples of 45° that are looked for: a response of more than so many poles turns farther. */
const MOST_TURNS = 200

/**
 * The places of a kind on a response between two frequencies, Hz, ascending, each solved.
 *
 * @param from and @param to Hz, 0 < from < to
 */
export function snapsOf(h: TransferFunction, snap: Snap, from: number, to: number): number[] {
  const inside = (f: number) => f >= from && f <= to
  const found = extrema(h)
  if (snap === 'peak' || snap === 'dip' || snap === 'turn') {
    const kinds = { peak: ['maximum'], dip: ['minimum'], turn: ['maximum', 'minimum'] }[snap]
    return found.filter((e) => kinds.includes(e.kind)).flatMap((e) => (inside(e.omega / TAU) ? [e.omega / TAU] : []))
  }
  if (snap === 'half-power') {
    const peak = Math.max(...found.map((e) => e.db))
    return frequenciesWhere(h, 'db', peak - HALF_POWER_DB, from, to)
  }
  if (snap === 'unity') return frequenciesWhere(h, 'db', 0, from, to)
  const ends = [from, to].map((f) => VIEWS.phase(h, TAU * f))
  const [low, high] = [Math.ceil(Math.min(...ends) / 45) - 8, Math.floor(Math.max(...ends) / 45) + 8]
  const multiples = Array.from({ length: Math.min(MOST_TURNS, high - low + 1) }, (_, k) => 45 * (low + k))
  return multiples.flatMap((degrees) => frequenciesWhere(h, 'phase', degrees, from, to)).sort((a, b) => a - b)
}

/** Relative distance at which a place is where one stands already. */
const HERE = 1e-9

/** The next of some ascending places from where one stands, coming round at the end; null where there is none. */
export function nextOf(places: readonly number[], at: number): number | null {
  return places.find((f) => f > at * (1 + HERE)) ?? places[0] ?? null
}

/** The place nearest to where one stands, in octaves. */
export function nearestOf(places: readonly number[], at: number): number | null {
  const far = (f: number) => Math.abs(Math.log(f / at))
  return places.reduce<number | null>((best, f) => (best === null || far(f) < far(best) ? f : best), null)
}
