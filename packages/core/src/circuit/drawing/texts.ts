import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, Part } from '../circuit.js'
import { effectiveValues, scopeOf } from '../effectiveValues.js'
import { valueText } from './labels.js'

/** What stands after the name of each part of a circuit: its value, or its formula where that cannot be worked out. */
export function partTexts(circuit: Circuit): (part: Part) => string | null {
  const scope = scopeOf(circuit)
  return (part) => {
    try {
      return valueText(part, effectiveValues(part, scope))
    } catch (error) {
      if (error instanceof VoskelError) return valueText(part, null)
      throw error
    }
  }
}
