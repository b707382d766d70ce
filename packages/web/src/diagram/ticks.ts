/** Values at 1, 2 and 5 of each decade that fit an axis: fewer marks where the axis spans many decades. */
export function logTicks(min: number, max: number): number[] {
  const decades = Math.log10(max / min)
  const steps = decades <= 3.2 ? [1, 2, 5] : [1]
  const skip = decades > 8 ? Math.ceil(decades / 8) : 1
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
