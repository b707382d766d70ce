import { PREFIX_OF_EXPONENT } from './prefixes.js'

/** Significant digits shown unless more are asked for. */
export const DEFAULT_DIGITS = 4

const MINUS = '\u2212'
/** Between number and unit: a no-break space keeps "4.7 kΩ" on one line. */
const GAP = '\u00a0'

/** Units that take no SI prefix. */
const PLAIN_UNITS = new Set(['dB', '°', '%'])

/**
 * A value for people: engineering notation, fixed number of significant digits, the unit always shown.
 *
 * @param digits significant digits, 1 … 17; trailing zeros are kept, so that columns do not jump
 * @example formatQuantity(4700, 'Ω') // '4.700 kΩ'
 */
export function formatQuantity(value: number, unit = '', digits = DEFAULT_DIGITS): string {
  if (Number.isNaN(value)) return '–'
  const sign = value < 0 ? MINUS : ''
  if (!Number.isFinite(value)) return `${sign}∞${unit ? GAP + unit : ''}`
  if (PLAIN_UNITS.has(unit)) {
    const gap = unit === '°' ? '' : GAP
    return `${sign}${fixedDigits(Math.abs(value), digits)}${gap}${unit}`
  }
  const { mantissa, prefix } = engineering(Math.abs(value), digits)
  const tail = prefix + unit
  return `${sign}${mantissa}${tail ? GAP + tail : ''}`
}

/** A value in few letters: three digits, without zeros that only stand at the end of its fraction. */
export const formatShort = (value: number, unit: string): string =>
  formatQuantity(value, unit, 3).replace(/\.(\d*?)0+(?=\u00a0|$)/, (_all, digits: string) =>
    digits ? `.${digits}` : '',
  )

/**
 * A value as the short text that a person would type, from which `parseQuantity` gives back the very same double.
 *
 * @example formatExact(4.7e-9, 'F') // '4.7 nF'
 */
export function formatExact(value: number, unit = ''): string {
  const sign = value < 0 || Object.is(value, -0) ? '-' : ''
  // The shortest digits that determine the double; moving the point by threes keeps them.
  const [digits = '0', exponentText = '0'] = Math.abs(value).toExponential().split('e')
  const exponent = Number(exponentText)
  const group = value === 0 ? 0 : Math.floor(exponent / 3) * 3
  const prefix = PREFIX_OF_EXPONENT.get(group)
  if (PLAIN_UNITS.has(unit) && Math.abs(exponent) < 15) return `${sign}${shiftPoint(digits, exponent)} ${unit}`
  if (prefix === undefined || PLAIN_UNITS.has(unit)) return `${sign}${digits}e${exponent}${unit ? ' ' + unit : ''}`
  const text = shiftPoint(digits, exponent - group)
  const tail = prefix + unit
  return `${sign}${text}${tail ? (unit ? ' ' : '') + tail : ''}`
}

function engineering(magnitude: number, digits: number): { mantissa: string; prefix: string } {
  if (magnitude === 0) return { mantissa: fixedDigits(0, digits), prefix: '' }
  // Rounding first: 999.96 with four digits is 1.000 k.
  const exponent = Number(magnitude.toExponential(digits - 1).split('e')[1])
  const group = Math.max(-18, Math.min(12, Math.floor(exponent / 3) * 3))
  return {
    mantissa: fixedDigits(magnitude / 10 ** group, digits),
    prefix: PREFIX_OF_EXPONENT.get(group)!,
  }
}

/** `digits` significant digits without an exponent where that stays readable. */
function fixedDigits(magnitude: number, digits: number): string {
  if (magnitude === 0) return (0).toFixed(digits - 1)
  const exponent = Number(magnitude.toExponential(digits - 1).split('e')[1])
  if (exponent >= digits) return magnitude.toFixed(0)
  if (exponent < -4) return magnitude.toExponential(digits - 1).replace('-', MINUS)
  return magnitude.toFixed(digits - 1 - exponent)
}

function shiftPoint(digits: string, places: number): string {
  const [whole = '0', fraction = ''] = digits.split('.')
  if (places < 0) return `0.${'0'.repeat(-places - 1)}${whole}${fraction}`
  const padded = fraction.padEnd(places, '0')
  const rest = padded.slice(places)
  const head = (whole + padded.slice(0, places)).replace(/^0+(?=\d)/, '')
  return rest ? `${head}.${rest}` : head
}
