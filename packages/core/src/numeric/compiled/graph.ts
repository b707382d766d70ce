/** A value in the graph: an index into its nodes, or `ZERO`, which is no node. */
export type Value = number

/** Structurally zero: never computed. */
export const ZERO: Value = -1

export const enum Op {
  /** The literal `number`. */
  Literal,
  /** The given real value number `a` (a conductance or a capacitance), changed between runs. */
  Given,
  /** The angular frequency, changed between points. */
  Omega,
  Add,
  Sub,
  Mul,
  Div,
}

/**
 * Arithmetic over given values and the frequency as a graph in topological order. Equal operations are one node; zeros,
 * ones and signs are simplified away.
 */
export class Graph {
  readonly op: Op[] = []
  readonly a: Value[] = []
  readonly b: Value[] = []
  readonly number: number[] = []
  /** Whether a node changes with the frequency. */
  readonly varies: boolean[] = []
  private readonly known = new Map<string, Value>()

  get size(): number {
    return this.op.length
  }

  literal(number: number): Value {
    return number === 0 ? ZERO : this.node(Op.Literal, -1, -1, number, `${number}`)
  }

  given(index: number): Value {
    return this.node(Op.Given, index, -1, 0, `g${index}`)
  }

  omega(): Value {
    return this.node(Op.Omega, -1, -1, 0, 'w')
  }

  add(a: Value, b: Value): Value {
    if (a === ZERO) return b
    if (b === ZERO) return a
    return a < b ? this.binary(Op.Add, a, b) : this.binary(Op.Add, b, a)
  }

  sub(a: Value, b: Value): Value {
    if (b === ZERO) return a
    if (a === ZERO) return this.negate(b)
    if (a === b) return ZERO
    return this.binary(Op.Sub, a, b)
  }

  negate(a: Value): Value {
    if (a === ZERO) return ZERO
    if (this.op[a] === Op.Literal) return this.literal(-this.number[a])
    // −(−x) is x, and −(x − y) is y − x.
    if (this.op[a] === Op.Mul && this.isLiteral(this.a[a], -1)) return this.b[a]
    if (this.op[a] === Op.Sub) return this.binary(Op.Sub, this.b[a], this.a[a])
    return this.binary(Op.Mul, this.literal(-1), a)
  }

  mul(a: Value, b: Value): Value {
    if (a === ZERO || b === ZERO) return ZERO
    if (this.isLiteral(a, 1)) return b
    if (this.isLiteral(b, 1)) return a
    if (this.isLiteral(a, -1)) return this.negate(b)
    if (this.isLiteral(b, -1)) return this.negate(a)
    return a < b ? this.binary(Op.Mul, a, b) : this.binary(Op.Mul, b, a)
  }

  /** 1 / a. */
  reciprocal(a: Value): Value {
    if (this.op[a] === Op.Literal) return this.literal(1 / this.number[a])
    return this.binary(Op.Div, this.literal(1), a)
  }

  private isLiteral(a: Value, number: number): boolean {
    return this.op[a] === Op.Literal && this.number[a] === number
  }

  private binary(op: Op, a: Value, b: Value): Value {
    if (this.op[a] === Op.Literal && this.op[b] === Op.Literal) {
      const [x, y] = [this.number[a], this.number[b]]
      return this.literal(op === Op.Add ? x + y : op === Op.Sub ? x - y : op === Op.Mul ? x * y : x / y)
    }
    return this.node(op, a, b, 0, `${op},${a},${b}`)
  }

  private node(op: Op, a: Value, b: Value, number: number, key: string): Value {
    const known = this.known.get(key)
    if (known !== undefined) return known
    const index = this.op.push(op) - 1
    this.a.push(a)
    this.b.push(b)
    this.number.push(number)
    const inner = op === Op.Add || op === Op.Sub || op === Op.Mul || op === Op.Div
    this.varies.push(op === Op.Omega || (inner && (this.varies[a] || this.varies[b])))
    this.known.set(key, index)
    return index
  }
}
