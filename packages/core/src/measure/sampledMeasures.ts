const HALF_POWER_DB = 10 * Math.log10(2)

/** Samples beyond a crossing that must lie beyond it as well: a single one may be noise. */
const CONFIRMED = 2

/** Part of a course, at its end, whose mean is its final value. */
const END = 0.05

/**
 * What can be read off samples of a magnitude, by the paths of measures: straight lines in log f between the samples, so that a value is as
 * good as they are dense.
 *
 * @param x Hz, ascending
 * @param db dB
 * @param phase degrees, unwrapped; left out where it was not measured
 */
export function sampledResponseMeasures(
  x: Float64Array,
  db: Float64Array,
  phase?: Float64Array,
): Readonly<Record<string, number>> {
  const found: Record<string, number> = {}
  let top = -1
  db.forEach((v, k) => {
    if (Number.isFinite(v) && (top < 0 || v > db[top])) top = k
  })
  if (top < 0) return found
  found['ac.peakDb'] = db[top]
  found['ac.peakFrequency'] = x[top]
  const level = db[top] - HALF_POWER_DB
  const lower = crossing(x, db, level, top, -1)
  const upper = crossing(x, db, level, top, 1)
  const cutoffs = [lower, upper].filter((f): f is number => f !== null)
  cutoffs.forEach((f, k) => {
    found[`ac.cutoffs[${k}]`] = f
    if (phase) found[`ac.phaseAtCutoffsDeg[${k}]`] = valueAt(x, phase, f)
  })
  if (lower !== null && upper !== null) {
    found['ac.center'] = Math.sqrt(lower * upper)
    found['ac.bandwidth'] = upper - lower
    found['ac.q'] = found['ac.center'] / (upper - lower)
  } else if (upper !== null) found['ac.bandwidth'] = upper
  const falls = db.findLastIndex((v, k) => v >= 0 && (db[k + 1] ?? 0) < 0)
  if (falls >= 0) found['ac.gainCrossing'] = between(x, db, 0, falls, falls + 1)
  return found
}

/** Where samples leave a level for good, from a place on in a direction; null where they do not. */
function crossing(x: Float64Array, db: Float64Array, level: number, from: number, step: 1 | -1): number | null {
  for (let k = from + step; k >= 0 && k < db.length; k += step) {
    if (!(db[k] < level)) continue
    const beyond = Array.from({ length: CONFIRMED }, (_, j) => db[k + step * (j + 1)] ?? -Infinity)
    if (beyond.every((v) => v < level)) return between(x, db, level, k - step, k)
  }
  return null
}

/** The frequency at which a straight line in log f between two samples has a level. */
function between(x: Float64Array, y: Float64Array, level: number, a: number, b: number): number {
  const share = (level - y[a]) / (y[b] - y[a])
  return x[a] * (x[b] / x[a]) ** share
}

function valueAt(x: Float64Array, y: Float64Array, f: number): number {
  const above = Math.max(
    1,
    x.findIndex((v) => v >= f),
  )
  const share = Math.log(f / x[above - 1]) / Math.log(x[above] / x[above - 1])
  return y[above - 1] + share * (y[above] - y[above - 1])
}

/** What can be read off samples of an answer to a step at 0 s, by the paths of measures; straight lines between the samples. */
export function sampledStepMeasures(time: Float64Array, value: Float64Array): Readonly<Record<string, number>> {
  const begin = time.findIndex((t) => t >= 0)
  const count = value.length - begin
  if (begin < 0 || count < 4) return {}
  const tail = value.subarray(value.length - Math.max(2, Math.round(END * count)))
  const final = tail.reduce((a, b) => a + b, 0) / tail.length
  let top = begin
  for (let k = begin; k < value.length; k++) if (value[k] > value[top]) top = k
  const found: Record<string, number> = {
    'step.initial': value[begin],
    'step.final': final,
    'step.peak': value[top],
    'step.peakTime': time[top],
  }
  if (final === 0) return found
  const reaches = (part: number): number | null => {
    for (let k = begin; k < value.length; k++) {
      if (value[k] / final < part) continue
      if (k === begin) return time[k]
      const share = (part * final - value[k - 1]) / (value[k] - value[k - 1])
      return time[k - 1] + share * (time[k] - time[k - 1])
    }
    return null
  }
  const [low, half, high] = [reaches(0.1), reaches(0.5), reaches(0.9)]
  if (low !== null && high !== null) found['step.riseTime'] = high - low
  if (half !== null) found['step.delay'] = half
  if (final > 0) found['step.overshootPercent'] = Math.max(0, 100 * (value[top] / final - 1))
  return found
}
