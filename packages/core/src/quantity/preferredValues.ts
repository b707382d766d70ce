/**
 * Preferred values of a decade. E3 … E24 are the historical roundings; E48 … E192 follow 10^(k/n) rounded to three
 * digits, with the one exception 9.20 in E192. Source: IEC 60063:2015, tables 1 and 2.
 */
const E24 = [
  1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2,
  9.1,
]

export const SERIES_NAMES = ['E6', 'E12', 'E24', 'E48', 'E96', 'E192'] as const
export type SeriesName = (typeof SERIES_NAMES)[number]

const SERIES: Readonly<Record<SeriesName, readonly number[]>> = {
  E6: E24.filter((_, k) => k % 4 === 0),
  E12: E24.filter((_, k) => k % 2 === 0),
  E24,
  E48: geometric(48),
  E96: geometric(96),
  E192: geometric(192),
}

function geometric(n: number): number[] {
  return Array.from({ length: n }, (_, k) => {
    const rounded = Math.round(10 ** (k / n) * 100) / 100
    return rounded === 9.19 ? 9.2 : rounded
  })
}

/** The values of a series in one decade, 1 ≤ value < 10, ascending. */
export function seriesValues(series: SeriesName): readonly number[] {
  return SERIES[series]
}

/**
 * The preferred values around `value`: the largest not above and the smallest not below it.
 *
 * @param value > 0
 */
export function preferredNeighbours(value: number, series: SeriesName): { below: number; above: number } {
  const decade = Math.floor(Math.log10(value))
  let below = 0
  for (let d = decade - 1; d <= decade + 1; d++) {
    for (const mantissa of SERIES[series]) {
      const candidate = decimal(mantissa, d)
      if (candidate <= value) below = candidate
      else return { below, above: below === value ? value : candidate }
    }
  }
  return { below, above: below }
}

/** The preferred value nearest to `value` by ratio; `value` > 0. */
export function nearestPreferred(value: number, series: SeriesName): number {
  const { below, above } = preferredNeighbours(value, series)
  return value / below <= above / value ? below : above
}

/** mantissa·10^decade as the double nearest to the decimal number, so that 4.7 and −9 give 4.7e-9 exactly. */
function decimal(mantissa: number, decade: number): number {
  return Number(`${mantissa}e${decade}`)
}
