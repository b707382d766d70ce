import { VoskelError } from '../errors/VoskelError.js'
import { parseQuantity } from './parseQuantity.js'
import { scanExpression, type Token } from './expressionTokens.js'

type Lookup = (name: string) => number

interface NamedFunction {
  readonly least: number
  readonly most: number
  readonly of: (...x: number[]) => number
}
const one = (of: (x: number) => number): NamedFunction => ({ least: 1, most: 1, of })
const many = (of: (...x: number[]) => number): NamedFunction => ({ least: 1, most: Infinity, of })

/** Functions that an expression may use, in any case of letters. */
const FUNCTIONS: Readonly<Record<string, NamedFunction>> = {
  abs: one(Math.abs),
  sqrt: one(Math.sqrt),
  exp: one(Math.exp),
  ln: one(Math.log),
  log10: one(Math.log10),
  sin: one(Math.sin),
  cos: one(Math.cos),
  tan: one(Math.tan),
  atan: one(Math.atan),
  sinh: one(Math.sinh),
  cosh: one(Math.cosh),
  tanh: one(Math.tanh),
  min: many(Math.min),
  max: many(Math.max),
  pow: { least: 2, most: 2, of: Math.pow },
  floor: one(Math.floor),
  ceil: one(Math.ceil),
  round: one(Math.round),
  sign: one(Math.sign),
}

const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI, e: Math.E }

/** Operators of two sides: what they do and how tightly they bind. */
const OPERATORS: Readonly<Record<string, { binds: number; of: (a: number, b: number) => number }>> = {
  '<': { binds: 1, of: (a, b) => Number(a < b) },
  '<=': { binds: 1, of: (a, b) => Number(a <= b) },
  '>': { binds: 1, of: (a, b) => Number(a > b) },
  '>=': { binds: 1, of: (a, b) => Number(a >= b) },
  '==': { binds: 1, of: (a, b) => Number(a === b) },
  '!=': { binds: 1, of: (a, b) => Number(a !== b) },
  '+': { binds: 2, of: (a, b) => a + b },
  '-': { binds: 2, of: (a, b) => a - b },
  '*': { binds: 3, of: (a, b) => a * b },
  '/': { binds: 3, of: (a, b) => a / b },
}
const COMPARES = 1

/** Names that stand for something already. */
export const RESERVED_NAMES: ReadonlySet<string> = new Set([...Object.keys(FUNCTIONS), ...Object.keys(CONSTANTS)])

/** What a parameter may be called. */
export const PARAMETER_NAME = /^[A-Za-z_]\w*$/

/** Longest expression, characters. */
export const LONGEST_EXPRESSION = 1000
/** Deepest nesting of brackets, signs and conditions. */
const DEEPEST = 100

/** An expression, read: the names that it asks for, in lower case, and its value. */
export interface Expression {
  readonly names: ReadonlySet<string>
  value(lookup: Lookup): number
}

const parsed = new Map<string, Expression>()
const MOST_KEPT = 2000

/**
 * Reads an expression over parameters: numbers in engineering notation, names, `+ − * / ^`, comparisons, `a ? b : c`
 * and the functions above. Nothing of it is run as code.
 *
 * @throws VoskelError `EXPRESSION_INVALID`
 */
export function parseExpression(text: string): Expression {
  const known = parsed.get(text)
  if (known) return known
  const expression = new Parser(text).parse()
  if (parsed.size >= MOST_KEPT) parsed.clear()
  parsed.set(text, expression)
  return expression
}

/**
 * The value of an expression.
 *
 * @param lookup value of a name, given in lower case; throws where there is none
 * @throws VoskelError `EXPRESSION_INVALID` where the value is not finite
 */
export function evaluateExpression(text: string, lookup: Lookup): number {
  const value = parseExpression(text).value(lookup)
  if (!Number.isFinite(value)) throw invalid(text, `its value is ${value}`)
  return value
}

export function invalid(text: string, problem: string): VoskelError<'EXPRESSION_INVALID'> {
  return new VoskelError('EXPRESSION_INVALID', { text, problem })
}

/** A number as on screen, whole or refused. */
function engineeringNumber(word: string): number | undefined {
  try {
    return parseQuantity(word)
  } catch (error) {
    if (error instanceof VoskelError) return undefined
    throw error
  }
}

type Value = (lookup: Lookup) => number

/** Reads by binding strength; what it builds are functions of the lookup. */
class Parser {
  private readonly tokens: readonly Token[]
  private readonly names = new Set<string>()
  private at = 0
  private depth = 0

  constructor(private readonly text: string) {
    if (text.length > LONGEST_EXPRESSION)
      throw invalid(`${text.slice(0, 40)}…`, `it has more than ${LONGEST_EXPRESSION} characters`)
    this.tokens = scanExpression(text, engineeringNumber)
  }

  parse(): Expression {
    const value = this.condition()
    const left = this.tokens[this.at]
    if (left) {
      const before = this.tokens[this.at - 1]!
      throw this.refuse(
        left.text === ')' || left.text === ',' || left.text === ':'
          ? `"${left.text}" is not expected there`
          : `an operator is missing between "${before.text}" and "${left.text}"`,
      )
    }
    return { names: this.names, value }
  }

  /** `a ? b : c`, in either branch again. */
  private condition(): Value {
    if (++this.depth > DEEPEST) throw this.refuse(`it is nested more than ${DEEPEST} deep`)
    const asked = this.binary(0)
    let value = asked
    if (this.take('?')) {
      const yes = this.condition()
      if (!this.take(':')) throw this.refuse('a "?" lacks its ":"')
      const no = this.condition()
      value = (lookup) => (asked(lookup) ? yes(lookup) : no(lookup))
    }
    this.depth--
    return value
  }

  private binary(above: number): Value {
    let left = this.signed()
    for (;;) {
      const token = this.tokens[this.at]
      const operator = token?.kind === 'sign' ? OPERATORS[token.text] : undefined
      if (!operator || operator.binds <= above) return left
      this.at++
      const [a, b] = [left, this.binary(operator.binds)]
      left = (lookup) => operator.of(a(lookup), b(lookup))
      if (operator.binds === COMPARES && OPERATORS[this.tokens[this.at]?.text ?? '']?.binds === COMPARES)
        throw this.refuse('two comparisons in a row need brackets')
    }
  }

  /** A sign binds tighter than a product and looser than a power: −2^2 is −4. */
  private signed(): Value {
    if (++this.depth > DEEPEST) throw this.refuse(`it is nested more than ${DEEPEST} deep`)
    let value: Value
    if (this.take('-')) {
      const of = this.signed()
      value = (lookup) => -of(lookup)
    } else if (this.take('+')) value = this.signed()
    else value = this.power(this.single())
    this.depth--
    return value
  }

  /** Powers stand to the right of each other: 2^3^2 is 2⁹. */
  private power(base: Value): Value {
    if (!this.take('^')) return base
    const exponent = this.signed()
    return (lookup) => base(lookup) ** exponent(lookup)
  }

  private single(): Value {
    const token = this.tokens[this.at]
    if (!token) throw this.refuse(this.at === 0 ? 'it is empty' : 'something is missing at its end')
    this.at++
    if (token.kind === 'number') {
      const { value } = token
      return () => value
    }
    if (token.kind === 'name') return this.named(token.text)
    if (token.text !== '(') throw this.refuse(`"${token.text}" is not expected there`)
    const inner = this.condition()
    if (!this.take(')')) throw this.refuse('a bracket is not closed')
    return inner
  }

  private named(text: string): Value {
    const name = text.toLowerCase()
    if (this.take('(')) {
      const called = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined
      if (!called) throw this.refuse(`the function "${text}" is not offered`)
      const given: Value[] = []
      do given.push(this.condition())
      while (this.take(','))
      if (!this.take(')')) throw this.refuse('a bracket is not closed')
      if (given.length < called.least || given.length > called.most)
        throw this.refuse(`${name} takes ${called.least === 1 ? 'one value' : `${called.least} values`}`)
      return (lookup) => called.of(...given.map((v) => v(lookup)))
    }
    if (Object.hasOwn(CONSTANTS, name)) {
      const value = CONSTANTS[name]
      return () => value
    }
    if (Object.hasOwn(FUNCTIONS, name)) throw this.refuse(`the function "${text}" lacks its brackets`)
    this.names.add(name)
    return (lookup) => lookup(name)
  }

  private take(sign: string): boolean {
    const token = this.tokens[this.at]
    if (token?.kind !== 'sign' || token.text !== sign) return false
    this.at++
    return true
  }

  private refuse(problem: string) {
    return invalid(this.text, problem)
  }
}
