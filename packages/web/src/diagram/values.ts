import { formatQuantity } from '@voskel/core'

/** The lag or lead of an output as a designer says it: "lags by 51.2°". */
export function lagText(degrees: number): string {
  if (Math.abs(degrees) < 5e-4) return 'in phase'
  return `${degrees < 0 ? 'lags' : 'leads'} by ${formatQuantity(Math.abs(degrees), '°')}`
}

/** A typed-looking round value near a dragged one: three significant digits. */
export const rounded = (value: number, digits = 3) => Number(value.toPrecision(digits))

/** Bounds of a dB axis: from a little above the top down to the floor, in tens. */
export function dbBounds(top: number, bottom: number, floor: number): { min: number; max: number } {
  const max = Math.ceil((top + 3) / 10) * 10
  return { min: Math.max(Math.floor(bottom / 10) * 10, Math.floor((top - floor) / 10) * 10), max }
}
