import { create, type MathNode, parseDependencies } from 'mathjs/number'
import { VoskelError } from '../errors/VoskelError.js'

/** Functions that an expression may use. */
const FUNCTIONS: Readonly<Record<string, (...x: number[]) => number>> = {
  abs: Math.abs,
  sqrt: Math.sqrt,
  exp: Math.exp,
  ln: Math.log,
  log10: Math.log10,
  sin: Math.sin,
  cos: Math.cos,
  tan: Math.tan,
  atan: Math.atan,
  sinh: Math.sinh,
  cosh: Math.cosh,
  tanh: Math.tanh,
  min: Math.min,
  max: Math.max,
  pow: Math.pow,
  floor: Math.floor,
  ceil: Math.ceil,
  round: Math.round,
  sign: Math.sign,
}

const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI, e: Math.E }

const OPERATORS: Readonly<Record<string, (a: number, b: number) => number>> = {
  add: (a, b) => a + b,
  subtract: (a, b) => a - b,
  multiply: (a, b) => a * b,
  divide: (a, b) => a / b,
  pow: (a, b) => a ** b,
  unaryMinus: (a) => -a,
  unaryPlus: (a) => a,
  smaller: (a, b) => Number(a < b),
  smallerEq: (a, b) => Number(a <= b),
  larger: (a, b) => Number(a > b),
  largerEq: (a, b) => Number(a >= b),
  equal: (a, b) => Number(a === b),
  unequal: (a, b) => Number(a !== b),
}

/** Names that stand for something already. */
export const RESERVED_NAMES: ReadonlySet<string> = new Set([...Object.keys(FUNCTIONS), ...Object.keys(CONSTANTS)])

// The parser is made at the first expression: most circuits have none.
let parser: ReturnType<typeof create> | null = null
const parsed = new Map<string, MathNode>()
const MOST_KEPT = 2000

/** An expression, checked: numbers, names, + − * / ^, comparisons, a ? b : c and the functions above. */
export type Expression = MathNode

/**
 * Reads an expression over parameters; nothing of it is run as code.
 *
 * @throws VoskelError `EXPRESSION_INVALID`
 */
export function parseExpression(text: string): Expression {
  const known = parsed.get(text)
  if (known) return known
  parser ??= create({ parseDependencies }, {})
  let node: MathNode
  try {
    node = parser.parse!(text) as MathNode
  } catch (error) {
    throw invalid(text, (error as Error).message.replace(/\.$/, ''))
  }
  check(text, node)
  if (parsed.size >= MOST_KEPT) parsed.clear()
  parsed.set(text, node)
  return node
}

/** The node types of the parser that are let in, with what is read of them. */
type AnyNode = MathNode & {
  type: string
  value: unknown
  name: string
  fn: string & { name?: string }
  args: AnyNode[]
  content: AnyNode
  condition: AnyNode
  trueExpr: AnyNode
  falseExpr: AnyNode
}

function check(text: string, tree: MathNode): void {
  const node = tree as AnyNode
  switch (node.type) {
    case 'ConstantNode':
      if (typeof node.value !== 'number') throw invalid(text, `${String(node.value)} is not a number`)
      return
    case 'SymbolNode':
      return
    case 'ParenthesisNode':
      return check(text, node.content)
    case 'ConditionalNode':
      return [node.condition, node.trueExpr, node.falseExpr].forEach((n) => check(text, n))
    case 'OperatorNode':
      if (!Object.hasOwn(OPERATORS, node.fn))
        throw invalid(text, `the operator "${(node as unknown as { op: string }).op}" is not offered`)
      return node.args.forEach((n) => check(text, n))
    case 'FunctionNode':
      if (!Object.hasOwn(FUNCTIONS, node.fn.name ?? ''))
        throw invalid(text, `the function "${node.fn.name}" is not offered`)
      return node.args.forEach((n) => check(text, n))
    default:
      throw invalid(text, 'only numbers, names, operators and functions are read')
  }
}

/**
 * The value of an expression.
 *
 * @param lookup value of a name; throws where there is none
 * @throws VoskelError `EXPRESSION_INVALID` where the value is not finite
 */
export function evaluateExpression(text: string, lookup: (name: string) => number): number {
  const value = valueOf(parseExpression(text) as AnyNode, lookup)
  if (!Number.isFinite(value)) throw invalid(text, `its value is ${value}`)
  return value
}

function valueOf(node: AnyNode, lookup: (name: string) => number): number {
  switch (node.type) {
    case 'ConstantNode':
      return node.value as number
    case 'SymbolNode':
      return Object.hasOwn(CONSTANTS, node.name) ? CONSTANTS[node.name] : lookup(node.name)
    case 'ParenthesisNode':
      return valueOf(node.content, lookup)
    case 'ConditionalNode':
      return valueOf(node.condition, lookup) ? valueOf(node.trueExpr, lookup) : valueOf(node.falseExpr, lookup)
    case 'OperatorNode': {
      const [a, b] = node.args
      return OPERATORS[node.fn](valueOf(a, lookup), b ? valueOf(b, lookup) : 0)
    }
    default:
      return FUNCTIONS[node.fn.name!](...node.args.map((n) => valueOf(n, lookup)))
  }
}

export function invalid(text: string, problem: string): VoskelError<'EXPRESSION_INVALID'> {
  return new VoskelError('EXPRESSION_INVALID', { text, problem })
}
