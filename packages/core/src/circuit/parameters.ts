import { VoskelError } from '../errors/VoskelError.js'
import type { Parameter } from './circuit.js'
import { evaluateExpression, PARAMETER_NAME, parseExpression, RESERVED_NAMES } from '../quantity/expression.js'

/** What is wrong with a parameter's name, and what would be right; null where nothing is. */
export function wrongParameterName(name: string): { problem: string; fix: string } | null {
  if (RESERVED_NAMES.has(name.toLowerCase()))
    return { problem: `"${name}" stands for something else already.`, fix: 'Choose another name.' }
  if (!PARAMETER_NAME.test(name))
    return { problem: `"${name}" cannot be the name of a parameter.`, fix: 'Use letters, digits and _.' }
  return null
}

/** Named values of a circuit or subcircuit, worked out when they are asked for; names are compared in any case. */
export class Parameters {
  private readonly given = new Map<string, Parameter>()
  private readonly values = new Map<string, number>()

  /** @throws VoskelError `CIRCUIT_INVALID` for a name that cannot be one, or stands twice */
  constructor(
    parameters: Readonly<Record<string, Parameter>> = {},
    private readonly outer: Parameters | null = null,
  ) {
    for (const [name, value] of Object.entries(parameters)) {
      const wrong = wrongParameterName(name)
      if (wrong) throw new VoskelError('CIRCUIT_INVALID', wrong)
      if (this.given.has(name.toLowerCase()))
        throw new VoskelError('CIRCUIT_INVALID', {
          problem: `The parameter "${name}" is given twice; names are compared in any case.`,
          fix: 'Rename one of the two.',
        })
      this.given.set(name.toLowerCase(), value)
    }
  }

  /** In lower case. */
  get names(): readonly string[] {
    return [...this.given.keys()]
  }

  has(name: string): boolean {
    return this.given.has(name.toLowerCase())
  }

  /** @throws VoskelError `EXPRESSION_INVALID`, `PARAMETER_CIRCLE`, `CIRCUIT_INVALID` for an unknown name */
  value(name: string): number {
    const wanted = name.toLowerCase()
    // Chains of parameters may be longer than the stack of calls is deep, so the open ones lie on a stack of their own.
    const open = new Set([wanted])
    const stack = [wanted]
    for (let key = stack.at(-1); key !== undefined; key = stack.at(-1)) {
      const next = this.missing(key)
      if (next === undefined) {
        this.settle(key)
        open.delete(key)
        stack.pop()
      } else if (open.has(next)) {
        throw new VoskelError('PARAMETER_CIRCLE', { names: [...stack.slice(stack.indexOf(next)), next] })
      } else {
        open.add(next)
        stack.push(next)
      }
    }
    return this.known(wanted)
  }

  evaluate(expression: string): number {
    return evaluateExpression(expression, (name) => this.value(name))
  }

  /** A name that a parameter of this scope needs and whose value is not known yet. */
  private missing(key: string): string | undefined {
    const given = this.given.get(key)
    if (typeof given !== 'string' || this.values.has(key)) return undefined
    return [...parseExpression(given).names].find((name) => this.given.has(name) && !this.values.has(name))
  }

  private settle(key: string): void {
    const given = this.given.get(key)
    if (given === undefined || this.values.has(key)) return
    this.values.set(key, typeof given === 'number' ? given : evaluateExpression(given, (name) => this.known(name)))
  }

  private known(key: string): number {
    const value = this.values.get(key)
    if (value !== undefined) return value
    if (this.outer) return this.outer.value(key)
    throw new VoskelError('CIRCUIT_INVALID', {
      problem: `There is no parameter "${key}".`,
      fix: `Define it${this.given.size > 0 ? `, or use one of: ${[...this.given.keys()].slice(0, 12).join(', ')}` : ''}.`,
    })
  }
}
