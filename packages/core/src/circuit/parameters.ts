import { VoskelError } from '../errors/VoskelError.js'
import type { Parameter } from './circuit.js'
import { evaluateExpression } from './expression.js'

/** Named values of a circuit or subcircuit, worked out when they are asked for; names are compared in any case. */
export class Parameters {
  private readonly given = new Map<string, Parameter>()
  private readonly values = new Map<string, number>()
  private readonly open: string[] = []

  constructor(
    parameters: Readonly<Record<string, Parameter>> = {},
    private readonly outer: Parameters | null = null,
  ) {
    for (const [name, value] of Object.entries(parameters)) this.given.set(name.toLowerCase(), value)
  }

  /** @throws VoskelError `EXPRESSION_INVALID`, `PARAMETER_CIRCLE`, `CIRCUIT_INVALID` for an unknown name */
  value(name: string): number {
    const key = name.toLowerCase()
    const known = this.values.get(key)
    if (known !== undefined) return known
    const given = this.given.get(key)
    if (given === undefined) {
      if (this.outer) return this.outer.value(name)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is no parameter "${name}".`,
        fix: `Define it${this.given.size > 0 ? `, or use one of: ${[...this.given.keys()].slice(0, 12).join(', ')}` : ''}.`,
      })
    }
    if (this.open.includes(key))
      throw new VoskelError('PARAMETER_CIRCLE', { names: [...this.open.slice(this.open.indexOf(key)), key] })
    this.open.push(key)
    const value = typeof given === 'number' ? given : this.evaluate(given)
    this.open.pop()
    this.values.set(key, value)
    return value
  }

  evaluate(expression: string): number {
    return evaluateExpression(expression, (name) => this.value(name))
  }
}
