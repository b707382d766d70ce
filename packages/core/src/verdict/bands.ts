import type { Extremum } from '../measure/extrema.js'
import { magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'
import type { Band } from '../specification/responses.js'

/** Where the magnitude may be highest or lowest inside bands: their ends and every extremum between, so that none is missed. */
export function pointsIn(bands: readonly Band[], h: TransferFunction, extrema: readonly Extremum[]) {
  return bands.flatMap((band) => {
    const [from, to] = band.map((f) => 2 * Math.PI * f)
    const ends = [from, to].filter((w) => w > 0 && Number.isFinite(w))
    return [
      ...extrema.filter((e) => e.omega >= from && e.omega <= to).map(({ omega, db }) => ({ omega, db })),
      ...ends.map((omega) => ({ omega, db: magnitudeDb(h, omega) })),
    ]
  })
}
