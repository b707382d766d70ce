import { VoskelError } from '../errors/VoskelError.js'
import { parseExpression } from '../quantity/expression.js'
import { parseQuantity } from '../quantity/parseQuantity.js'
import type { Circuit } from './circuit.js'
import { scopeOf } from './effectiveValues.js'

/** A value as a person typed it: a number, or a formula with the number that it is now. */
export interface TypedValue {
  readonly value: number
  readonly formula?: string
}

/**
 * Reads what was typed as a value: `4k7`, `100 nF`, or an expression over the circuit's parameters, with `=` before it or
 * without.
 *
 * @throws VoskelError `QUANTITY_SYNTAX`, `EXPRESSION_INVALID`, `CIRCUIT_INVALID` for a parameter that is not there
 */
export function typedValue(text: string, unit: string, circuit: Circuit): TypedValue {
  const said = text.trim()
  if (said.startsWith('=')) return formulaIn(said.slice(1).trim(), circuit)
  try {
    return { value: parseQuantity(said, unit) }
  } catch (error) {
    // A number that is spoilt is a number; anything with a parameter in it is a formula.
    if (!(error instanceof VoskelError) || !namesParameter(said, circuit)) throw error
    return formulaIn(said, circuit)
  }
}

const formulaIn = (formula: string, circuit: Circuit): TypedValue => ({
  value: scopeOf(circuit).parameters.evaluate(formula),
  formula,
})

function namesParameter(text: string, { parameters = {} }: Circuit): boolean {
  const known = new Set(Object.keys(parameters).map((n) => n.toLowerCase()))
  try {
    return [...parseExpression(text).names].some((n) => known.has(n.toLowerCase()))
  } catch (error) {
    if (error instanceof VoskelError) return false
    throw error
  }
}
