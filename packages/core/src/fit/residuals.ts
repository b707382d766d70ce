import type { Model } from './model.js'
import { DB_WEIGHT, DEGREES_WEIGHT, type Samples } from './Samples.js'

/** What is off between a model and what was measured, in weights of its own, and how that follows each number. */
export interface Residuals {
  readonly residuals: Float64Array
  slopes(): Float64Array[]
}

/** Degrees of one radian, and dB of one neper. */
const DEGREES = 180 / Math.PI
const NEPER_DB = 20 / Math.log(10)

/**
 * Complex samples count by their real and imaginary parts; levels in tenths of a dB, phases in degrees to the nearest turn, courses in
 * their own unit.
 *
 * @returns null where the circuit cannot have these numbers, or what it gives has no level
 */
export function residualsAt(model: Model, samples: Samples, values: Float64Array): Residuals | null {
  const found = model.at(values)
  if (!found) return null
  const { re, im } = found
  const n = samples.x.length
  if (samples.over === 'time') {
    const { value } = samples
    return checked({
      residuals: re.map((v, k) => v - value[k]),
      slopes: () => found.slopes().map((slope) => slope.re),
    })
  }
  if ('re' in samples) {
    const residuals = new Float64Array(2 * n)
    residuals.set(re.map((v, k) => v - samples.re[k]))
    residuals.set(
      im.map((v, k) => v - samples.im[k]),
      n,
    )
    return checked({
      residuals,
      slopes: () =>
        found.slopes().map((slope) => {
          const both = new Float64Array(2 * n)
          both.set(slope.re)
          both.set(slope.im, n)
          return both
        }),
    })
  }
  const { db, phase } = samples
  const decibels = model.isPower ? NEPER_DB / 2 : NEPER_DB
  const begin = db ? n : 0
  const residuals = new Float64Array(begin + (phase ? n : 0))
  for (let k = 0; k < n; k++) {
    if (db) residuals[k] = (decibels * Math.log(Math.hypot(re[k], im[k])) - db[k]) / DB_WEIGHT
    if (phase) {
      const off = DEGREES * Math.atan2(im[k], re[k]) - phase[k]
      residuals[begin + k] = (off - 360 * Math.round(off / 360)) / DEGREES_WEIGHT
    }
  }
  return checked({
    residuals,
    slopes: () =>
      found.slopes().map((slope) => {
        const column = new Float64Array(residuals.length)
        for (let k = 0; k < n; k++) {
          // H′/H: its real part in nepers, its imaginary part in radians.
          const size = re[k] * re[k] + im[k] * im[k]
          if (db) column[k] = (decibels * (slope.re[k] * re[k] + slope.im[k] * im[k])) / size / DB_WEIGHT
          if (phase) column[begin + k] = (DEGREES * (slope.im[k] * re[k] - slope.re[k] * im[k])) / size / DEGREES_WEIGHT
        }
        return column
      }),
  })
}

const checked = (found: Residuals): Residuals | null =>
  found.residuals.every((v) => Number.isFinite(v)) ? found : null
