import type { Model } from './model.js'
import { DB_WEIGHT, DEGREES_WEIGHT, type Samples } from './Samples.js'

/** What is off between a model and what was measured, in weights of its own, and how that follows each number, times its factor. */
export interface Residuals {
  readonly residuals: Float64Array
  slopes(): readonly Float64Array[]
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
export function residualsAt(
  model: Model,
  samples: Samples,
  values: Float64Array,
  factors: Float64Array,
): Residuals | null {
  const found = model.at(values, factors)
  if (!found) return null
  const { values: given } = found
  const n = samples.x.length
  if (samples.over === 'time' || 're' in samples) {
    const residuals = given.slice()
    const [first, second] = samples.over === 'time' ? [samples.value, null] : [samples.re, samples.im]
    for (let k = 0; k < n; k++) {
      residuals[k] -= first[k]
      if (second) residuals[n + k] -= second[k]
    }
    return checked({ residuals, slopes: () => found.slopes() })
  }
  const [re, im] = [given.subarray(0, n), given.subarray(n)]
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
          const [sr, si] = [slope[k], slope[n + k]]
          // H′/H: its real part in nepers, its imaginary part in radians.
          const size = re[k] * re[k] + im[k] * im[k]
          if (db) column[k] = (decibels * (sr * re[k] + si * im[k])) / size / DB_WEIGHT
          if (phase) column[begin + k] = (DEGREES * (si * re[k] - sr * im[k])) / size / DEGREES_WEIGHT
        }
        return column
      }),
  })
}

function checked(found: Residuals): Residuals | null {
  for (const v of found.residuals) if (!Number.isFinite(v)) return null
  return found
}
