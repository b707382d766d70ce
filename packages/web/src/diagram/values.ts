import { formatQuantity } from '@voskel/core'

/** The lag or lead of an output as a designer says it: "lags by 51.2°". */
export function lagText(degrees: number): string {
  if (Math.abs(degrees) < 5e-4) return 'in phase'
  return `${degrees < 0 ? 'lags' : 'leads'} by ${formatQuantity(Math.abs(degrees), '°')}`
}

/** A typed-looking round value near a dragged one: three significant digits. */
export const rounded = (value: number, digits = 3) => Number(value.toPrecision(digits))

/** Bounds of a dB axis: from a little above the top down to the floor, in steps that give round marks. */
export function dbBounds(top: number, bottom: number, floor: number): { min: number; max: number } {
  const lowest = Math.max(bottom, top - floor)
  const step = top - lowest > 90 ? 20 : 10
  return { min: Math.floor(lowest / step) * step, max: Math.ceil((top + 3) / step) * step }
}

/** An upper bound with room above the top that falls on a round mark. */
export function roundTop(top: number): number {
  const wanted = top * 1.1
  const rough = wanted / 8
  const decade = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].find((s) => s * decade >= rough)! * decade
  return Number((Math.ceil(wanted / step) * step).toPrecision(12))
}

/** The next of 1, 2, 5, 10 … that is not below a number: an axis to both sides of 0 then has a tick at each end. */
export function evenTop(most: number): number {
  const decade = 10 ** Math.floor(Math.log10(most))
  return decade * [1, 2, 5, 10].find((step) => step * decade >= most * (1 - 1e-9))!
}
