import { abs } from '../numeric/complex.js'
import { groupDelay, magnitudeDb, phase, phaseBelow, type TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { bisect, crossings, type Extremum, extrema, reachOf } from './extrema.js'
import { searchGrid } from './overFrequency.js'

/** What is read off a frequency response. Frequencies in Hz, phases in degrees; null where a thing does not exist. */
export interface AcMeasures {
  peakDb: number | null
  peakFrequency: number | null
  /** Where the passband around the peak has lost 10·log10(2) dB against the peak. */
  cutoffs: number[]
  center: number | null
  /** Upper less lower cutoff; the cutoff itself where the passband begins at DC. */
  bandwidth: number | null
  q: number | null
  /** Highest less lowest local extremum inside the passband. */
  rippleDb: number | null
  /** Slope of the magnitude towards DC and towards infinity, dB a decade, rising positive. */
  rolloffDbPerDecade: { below: number; above: number }
  phaseAtCutoffsDeg: number[]
  gainCrossing: number | null
  phaseCrossing: number | null
  gainMarginDb: number | null
  phaseMarginDeg: number | null
  /** s */
  delayAtDc: number | null
}

/** Maxima that differ by less are equally high; the lowest in frequency is named. */
const EQUAL_DB = 1e-7

/** A magnitude must exceed 0 dB by this much to cross it: a passband at exactly 0 dB does not. */
const CLEAR_DB = 1e-7

/** Less ripple than this is the rounding of a passband that is flat. */
const FLAT_DB = 1e-9

const TAU = 2 * Math.PI
const degrees = (radians: number) => (radians * 180) / Math.PI

/** Every measure of a response; frequencies are solved to rounding, never read off a grid. */
export function acMeasures(h: TransferFunction): AcMeasures {
  const found = extrema(h)
  const originPoles = h.poles.filter((p) => abs(p) === 0).length
  const originZeros = h.zeros.filter((z) => abs(z) === 0).length
  const rolloff = { below: 20 * (originZeros - originPoles), above: 20 * (h.zeros.length - h.poles.length) }
  const peak = highest(found)
  const band = peak && Number.isFinite(peak.db) ? passband(h, found, peak) : null
  const cutoffs = band ? [band.lower, band.upper].filter((w) => w !== null) : []
  const both = band?.lower !== null && band?.upper !== null
  const [lower, upper] = [band?.lower ?? null, band?.upper ?? null]
  return {
    peakDb: peak ? finite(peak.db) : null,
    peakFrequency: peak ? finite(peak.omega / TAU) : null,
    cutoffs: cutoffs.map((w) => w / TAU),
    center: lower && upper ? Math.sqrt(lower * upper) / TAU : null,
    bandwidth: upper ? (upper - (lower ?? 0)) / TAU : null,
    q: lower && upper && both ? Math.sqrt(lower * upper) / (upper - lower) : null,
    rippleDb: band ? band.rippleDb : null,
    rolloffDbPerDecade: rolloff,
    phaseAtCutoffsDeg: cutoffs.map((w) => degrees(phase(h, w))),
    ...margins(h, found),
    delayAtDc: originPoles + originZeros === 0 && h.poles.length > 0 ? groupDelay(h, 0) : null,
  }
}

function finite(value: number): number | null {
  return Number.isFinite(value) ? value : null
}

function highest(found: readonly Extremum[]): Extremum | null {
  let best: Extremum | null = null
  for (const e of found) if (!best || e.db > best.db + EQUAL_DB) best = e
  return best
}

/** The stretch around the peak that lies above the half-power level. */
function passband(h: TransferFunction, found: readonly Extremum[], peak: Extremum) {
  const level = peak.db - HALF_POWER_DB
  const crossed = crossings(h, level, found)
  const lower = crossed.filter((w) => w < peak.omega).at(-1) ?? null
  const upper = crossed.find((w) => w > peak.omega) ?? null
  const inside = found.filter((e) => e.omega >= (lower ?? 0) && e.omega <= (upper ?? Infinity) && Number.isFinite(e.db))
  const levels = inside.map((e) => e.db)
  const rippleDb = Math.max(...levels) - Math.min(...levels)
  return { lower, upper, rippleDb: rippleDb < FLAT_DB ? 0 : rippleDb }
}

/** The response taken as a loop gain. */
function margins(h: TransferFunction, found: readonly Extremum[]) {
  const top = highest(found)
  const gainOmega = top && top.db > CLEAR_DB ? (crossings(h, 0, found).at(-1) ?? null) : null
  const phaseOmega = firstPhaseCrossing(h)
  return {
    gainCrossing: gainOmega === null ? null : gainOmega / TAU,
    phaseCrossing: phaseOmega === null ? null : phaseOmega / TAU,
    gainMarginDb: phaseOmega === null ? null : -magnitudeDb(h, phaseOmega),
    phaseMarginDeg: gainOmega === null ? null : 180 + degrees(phase(h, gainOmega)),
  }
}

/**
 * The lowest ω > 0 at which the phase passes through −180°. A zero on the axis, where the phase jumps and nothing is left
 * of the magnitude, is no crossing.
 */
function firstPhaseCrossing(h: TransferFunction): number | null {
  const reach = reachOf(h)
  if (!reach) return null
  const grid = searchGrid(h, ...reach)
  const jumps = new Set([...h.zeros, ...h.poles].filter((r) => r.re === 0 && r.im > 0).map((r) => r.im))
  const turned = (w: number) => phase(h, w) + Math.PI
  for (let k = 1; k < grid.length; k++) {
    const [from, to] = [grid[k - 1], grid[k]]
    // Between two points the phase may turn once, where the delay is zero.
    const turns = groupDelay(h, from) > 0 !== groupDelay(h, to) > 0
    const stops = turns ? [from, bisect((w) => groupDelay(h, w), from, to), to] : [from, to]
    for (let j = 1; j < stops.length; j++) {
      const [a, b] = [stops[j - 1], stops[j]]
      const end = jumps.has(b) ? phaseBelow(h, b) + Math.PI : turned(b)
      if (turned(a) > 0 === end > 0) continue
      const before = (w: number) => (w === b ? end : turned(w))
      return bisect(before, a, b)
    }
  }
  return null
}
