import type { Axis } from './frame'

/** Values along an axis that are marked: at most about so many. */
export function ticksOf({ log, min, max, step }: Axis, most: number): number[] {
  if (!log) return linearTicks(min, max, most, step)
  const round = logTicks(min, max, most)
  // Within less than a decade even steps mark more.
  return round.length > 1 ? round : linearTicks(min, max, most)
}

/** Multiples of 1, 2 or 5 · 10ⁿ, or of a given step, inside the axis. */
export function linearTicks(min: number, max: number, most: number, given?: number): number[] {
  const span = max - min
  if (!(span > 0)) return [min]
  let step = given ?? 0
  if (given !== undefined) while (span / step > most) step *= 2
  else {
    const rough = span / most
    const decade = 10 ** Math.floor(Math.log10(rough))
    step = [1, 2, 5, 10].find((s) => s * decade >= rough * (1 - 1e-9))! * decade
  }
  const ticks: number[] = []
  for (let k = Math.ceil(min / step - 1e-9); k * step <= max + 1e-9 * span; k++) {
    // A multiple, not a sum: rounding does not add up, and a zero is one.
    ticks.push(Number((k * step).toPrecision(12)))
  }
  return ticks
}

/** Values at 1, 2 and 5 of each decade, or at 1 alone, or at 1 of every second, third, … decade: as many as fit. */
export function logTicks(min: number, max: number, most: number): number[] {
  const of = (steps: readonly number[], skip: number) => {
    const ticks: number[] = []
    for (let d = Math.floor(Math.log10(min)); d <= Math.ceil(Math.log10(max)); d++) {
      if (d % skip !== 0) continue
      for (const s of steps) {
        const value = Number(`${s}e${d}`)
        if (value >= min * (1 - 1e-9) && value <= max * (1 + 1e-9)) ticks.push(value)
      }
    }
    return ticks
  }
  const fine = of([1, 2, 5], 1)
  if (fine.length <= most) return fine
  for (let skip = 1; ; skip++) {
    const ticks = of([1], skip)
    if (ticks.length <= most) return ticks
  }
}

const PREFIXES: readonly [number, string][] = [
  [1e12, 'T'],
  [1e9, 'G'],
  [1e6, 'M'],
  [1e3, 'k'],
  [1, ''],
  [1e-3, 'm'],
  [1e-6, 'µ'],
  [1e-9, 'n'],
  [1e-12, 'p'],
  [1e-15, 'f'],
]

/** A short number for an axis: 20 k, 1.5 M, −40. */
export function tickText(value: number, prefixes = true): string {
  if (value === 0) return '0'
  const size = Math.abs(value)
  const [unit, prefix] = prefixes ? (PREFIXES.find(([u]) => size >= u * 0.9999999) ?? [1e-15, 'f']) : [1, '']
  const text = String(Number((size / unit).toPrecision(4)))
  return (value < 0 ? '\u2212' : '') + text + (prefix ? '\u00a0' + prefix : '')
}
