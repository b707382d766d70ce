import { parseQuantity, VoskelError } from '@voskel/core'
import { InvalidArgumentError } from 'commander'

/** A commander parser for a value in engineering notation. */
export function quantity(unit: string, check: 'positive' | 'nonnegative' | 'any' = 'positive') {
  return (text: string): number => {
    let value: number
    try {
      value = parseQuantity(text, unit)
    } catch (error) {
      if (error instanceof VoskelError) throw new InvalidArgumentError(`${error.message} ${error.remedy}`)
      throw error
    }
    if (check === 'positive' && !(value > 0)) throw new InvalidArgumentError(`It must be above 0 ${unit}.`)
    if (check === 'nonnegative' && !(value >= 0)) throw new InvalidArgumentError(`It must not be below 0 ${unit}.`)
    return value
  }
}

/** The same, where `auto` leaves the value to what the circuit proposes. */
export function quantityOrAuto(unit: string, check: 'positive' | 'nonnegative' | 'any' = 'positive') {
  const one = quantity(unit, check)
  return (text: string): number | 'auto' => (text === 'auto' ? 'auto' : one(text))
}

/** A commander parser for several values above 0, separated by commas. */
export function quantities(unit: string) {
  const one = quantity(unit)
  return (text: string): number[] => text.split(',').map(one)
}

/** A commander parser for a whole number. */
export function whole(least: number, most: number) {
  return (text: string): number => {
    const value = Number(text)
    if (!Number.isInteger(value) || value < least || value > most) {
      throw new InvalidArgumentError(`It must be a whole number from ${least} to ${most}.`)
    }
    return value
  }
}

/** A usage error found after parsing. */
export function usage(problem: string, fix: string): VoskelError {
  return new VoskelError('ARGUMENT', { problem, fix })
}

/** Splits `out,v(a,b),i(R1)` at the commas outside brackets. */
export function splitOutputs(text: string): string[] {
  return text.split(/,(?![^(]*\))/).map((s) => s.trim())
}

/** A commander parser for a temperature in °C. */
export function celsius(text: string): number {
  const value = quantity('', 'any')(text)
  if (!(value > -273.15 && value <= 1000))
    throw new InvalidArgumentError('It must be above −273.15 °C and at most 1000 °C.')
  return value
}
