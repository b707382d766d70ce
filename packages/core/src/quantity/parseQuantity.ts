import { VoskelError } from '../errors/VoskelError.js'
import { PREFIX_EXPONENTS, UNIT_SPELLINGS } from './prefixes.js'

const PREFIXES = Object.keys(PREFIX_EXPONENTS).sort((a, b) => b.length - a.length)

/** `4k7`, `2R2`, `R47`, `1u5`: the letter stands where the decimal point would (IEC 60062:2016, 3.1). */
const MARKING_CODE = new RegExp(`^([+-]?)(\\d*)(R|${PREFIXES.join('|')})(\\d+)$`)
const DECIMAL = /^([+-]?(?:\d+\.?\d*|\.\d+))(?:[eE]([+-]?\d+))?\s*(.*)$/

/** Stands for a frequency that is said by its time constant, 1/(2π·τ). */
const TIME_CONSTANT = NaN

/**
 * Reads a value in engineering notation: `4.7k`, `4k7`, `2R2`, `1u5`, `10 nF`, `1Meg`, `3.3e-9`. Prefixes are
 * case-sensitive: `m` is milli, `M` is mega.
 *
 * @param text what was typed; blanks around it and before the prefix or unit are allowed
 * @param unit the unit that is expected; it may be left out, but another one is an error. Where `Hz` is expected an
 *   angular frequency in `rad/s` is converted, and a time is taken as a time constant: 1/(2π·τ)
 * @returns the value in SI units, correctly rounded: the double nearest to the decimal that was typed
 * @throws VoskelError `QUANTITY_SYNTAX`
 * @example parseQuantity('4k7') // 4700
 */
export function parseQuantity(text: string, unit = ''): number {
  const fail = (problem: string) => new VoskelError('QUANTITY_SYNTAX', { text: text.trim(), problem })
  const trimmed = text.trim().replace(/^\u2212/, '-')
  if (trimmed === '') throw fail('nothing is typed')

  const { body, scale } = splitUnit(trimmed, unit, fail)
  if (Number.isNaN(scale)) {
    const tau = parseQuantity(body)
    if (!(tau > 0)) throw fail('a time constant is above 0 s')
    return checked(1 / (2 * Math.PI * tau), fail)
  }
  const marked = MARKING_CODE.exec(body)
  if (marked) {
    const [, sign, whole, letter, fraction] = marked as unknown as [string, string, string, string, string]
    const exponent = letter === 'R' ? 0 : PREFIX_EXPONENTS[letter]!
    return checked(Number(`${sign}${whole || '0'}.${fraction}e${exponent}`) * scale, fail)
  }

  const decimal = DECIMAL.exec(body)
  if (!decimal) {
    throw fail(/\d,\d/.test(body) ? 'the decimal sign is a point, not a comma' : 'a number is expected')
  }
  const [, mantissa, typedExponent, rest] = decimal as unknown as [string, string, string | undefined, string]
  if (rest.startsWith(',')) throw fail('the decimal sign is a point, not a comma')
  // "R" may also close a resistance: 75R.
  const exponent = rest === '' || rest === 'R' ? 0 : PREFIX_EXPONENTS[rest]
  if (exponent === undefined) throw fail(unknownEnding(rest, unit))
  return checked(Number(`${mantissa}e${Number(typedExponent ?? 0) + exponent}`) * scale, fail)
}

/**
 * Reads a value with whatever unit it is given.
 *
 * @returns the value in SI units and its unit; an empty one where none is typed
 * @throws VoskelError `QUANTITY_SYNTAX`
 */
export function parseAnyQuantity(text: string): { value: number; unit: string } {
  const value = parseQuantity(text)
  const spelling = Object.keys(UNIT_SPELLINGS).find((s) => text.endsWith(s) && text.length > s.length)
  return { value, unit: spelling === undefined ? '' : UNIT_SPELLINGS[spelling]! }
}

/** Splits a unit off the end. What is left may end in a prefix, so the expected unit is tried before the others. */
function splitUnit(
  text: string,
  unit: string,
  fail: (problem: string) => VoskelError,
): { body: string; scale: number } {
  const spellings = Object.keys(UNIT_SPELLINGS).sort(
    (a, b) => Number(UNIT_SPELLINGS[b] === unit) - Number(UNIT_SPELLINGS[a] === unit) || b.length - a.length,
  )
  for (const spelling of spellings) {
    if (!text.endsWith(spelling)) continue
    const found = UNIT_SPELLINGS[spelling]!
    const body = text.slice(0, -spelling.length).trimEnd()
    if (body === '') continue
    if (found === '%' && unit === '') throw fail('a plain number is expected, not a percentage')
    if (found === unit || unit === '') return { body, scale: 1 }
    if (found === 'rad/s' && unit === 'Hz') return { body, scale: 1 / (2 * Math.PI) }
    if (found === 's' && unit === 'Hz') return { body, scale: TIME_CONSTANT }
    throw fail(`the unit here is ${unit}, not ${found}`)
  }
  return { body: text, scale: 1 }
}

function unknownEnding(rest: string, unit: string): string {
  const first = [...rest][0]!
  if (first in PREFIX_EXPONENTS) {
    return `"${rest}" is not understood after the prefix ${first}${unit ? `; the unit here is ${unit}` : ''}`
  }
  return `"${rest}" is neither a prefix nor a unit`
}

function checked(value: number, fail: (problem: string) => VoskelError): number {
  if (!Number.isFinite(value)) throw fail('the value is too large')
  return value
}
