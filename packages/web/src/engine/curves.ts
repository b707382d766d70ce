import { evaluate, groupDelay, magnitudeDb, phase, type TransferFunction } from '@voskel/core'

/** A curve over frequency: Hz, dB, degrees, s, and its own unit. Decibel, phase and delay are its views. */
export interface FrequencyCurve {
  readonly frequency: Float64Array
  readonly re: Float64Array
  readonly im: Float64Array
  readonly db: Float64Array
  /** Unwrapped. */
  readonly phase: Float64Array
  readonly delay: Float64Array
}

/** A curve over time: s, and the SI unit of what it is. */
export interface TimeCurve {
  readonly time: Float64Array
  readonly value: Float64Array
}

/** What a curve is of. */
export interface Named {
  /** As the diagram asks for it. */
  readonly signal: string
  /** SI */
  readonly unit: string
}

/** A response at one frequency: dB, degrees, s. */
export interface ReadOut {
  readonly db: number
  readonly phase: number
  readonly delay: number
  readonly gain: number
  readonly re: number
}

/** The value of a curve at one frequency, by straight lines in log f: the curve's points are dense enough for them. */
export function readCurve(curve: FrequencyCurve, frequency: number): ReadOut {
  const { frequency: x } = curve
  let [lo, hi] = [0, x.length - 1]
  while (hi - lo > 1) {
    const middle = (lo + hi) >> 1
    if (x[middle]! <= frequency) lo = middle
    else hi = middle
  }
  const share = Math.min(1, Math.max(0, Math.log(frequency / x[lo]!) / Math.log(x[hi]! / x[lo]!)))
  const at = (y: Float64Array) => y[lo]! + share * (y[hi]! - y[lo]!)
  const db = at(curve.db)
  return { db, phase: at(curve.phase), delay: at(curve.delay), gain: 10 ** (db / 20), re: at(curve.re) }
}

/** The circuit's own value at one frequency, for a read-out. */
export function readOut(transfer: TransferFunction, frequency: number): ReadOut {
  const omega = 2 * Math.PI * frequency
  const value = evaluate(transfer, { re: 0, im: omega })
  return {
    db: magnitudeDb(transfer, omega),
    phase: (phase(transfer, omega) * 180) / Math.PI,
    delay: groupDelay(transfer, omega),
    gain: Math.hypot(value.re, value.im),
    re: value.re,
  }
}
