import { scanExpression, type Token } from '../../quantity/expressionTokens.js'
import type { Values } from '../Sketch.js'

/** A term over the values of parts, read from text such as `(1/R1 + 1/R2)/C1`. */
type Term =
  | { readonly op: 'number'; readonly value: number }
  | { readonly op: 'name'; readonly name: string }
  | { readonly op: '+' | '-' | '*' | '/'; readonly a: Term; readonly b: Term }

/** A value and its derivative. */
export type Dual = readonly [value: number, slope: number]

const read = new Map<string, Term>()

function termOf(text: string): Term {
  let term = read.get(text)
  if (!term) {
    term = new Reader(scanExpression(text, Number)).sum()
    read.set(text, term)
  }
  return term
}

/** Sums, products and brackets: closed forms of sections need no more. */
class Reader {
  private at = 0
  constructor(private readonly tokens: readonly Token[]) {}

  sum(): Term {
    let a = this.take('-') ? minus(this.product()) : this.product()
    for (;;) {
      if (this.take('+')) a = { op: '+', a, b: this.product() }
      else if (this.take('-')) a = { op: '-', a, b: this.product() }
      else return a
    }
  }

  private product(): Term {
    let a = this.single()
    for (;;) {
      if (this.take('*')) a = { op: '*', a, b: this.single() }
      else if (this.take('/')) a = { op: '/', a, b: this.single() }
      else return a
    }
  }

  private single(): Term {
    if (this.take('(')) {
      const inner = this.sum()
      this.take(')')
      return inner
    }
    const token = this.tokens[this.at++]
    return token.kind === 'number' ? { op: 'number', value: token.value } : { op: 'name', name: token.text }
  }

  private take(sign: string): boolean {
    if (this.tokens[this.at]?.text !== sign) return false
    this.at++
    return true
  }
}

const minus = (b: Term): Term => ({ op: '-', a: { op: 'number', value: 0 }, b })

/** What a closed form is; a part that a section does not have is left out of `values` and counts as `absent` says. */
export const valueOf = (text: string, values: Values): number => valued(termOf(text), values)

function valued(term: Term, values: Values): number {
  if (term.op === 'number') return term.value
  if (term.op === 'name') return values[term.name] ?? absent(term.name)
  const [a, b] = [valued(term.a, values), valued(term.b, values)]
  if (term.op === '/') return a === 0 ? 0 : a / b
  return term.op === '+' ? a + b : term.op === '-' ? a - b : a * b
}

/** A closed form and its derivative by the logarithm of one part's value, by the rules of differentiation. */
export const derivedBy = (text: string, values: Values, part: string): Dual => derived(termOf(text), values, part)

function derived(term: Term, values: Values, part: string): Dual {
  if (term.op === 'number') return [term.value, 0]
  if (term.op === 'name') {
    const value = values[term.name] ?? absent(term.name)
    return [value, term.name === part ? value : 0]
  }
  const [[a, da], [b, db]] = [derived(term.a, values, part), derived(term.b, values, part)]
  switch (term.op) {
    case '+':
      return [a + b, da + db]
    case '-':
      return [a - b, da - db]
    case '*':
      return [a * b, da * b + a * db]
    case '/':
      // Of what is not there nothing is left, whatever it is over.
      return (a === 0 && da === 0) || !Number.isFinite(b) ? [0, 0] : [a / b, da / b - (a * db) / (b * b)]
  }
}

/** A resistor that is not there is endless, a capacitor nothing. */
const absent = (part: string): number => (part.startsWith('R') || part.startsWith('P') ? Infinity : 0)

/** How tightly a term binds: sums, products, single ones. */
const binds = (term: Term): number => (term.op === '+' || term.op === '-' ? 1 : term.op === '*' ? 2 : 3)

/** How a closed form is written. */
export interface Writing {
  /** A part: its name, or its value. */
  symbol(part: string): string
  /** What stands between the factors of a product, TeX. */
  readonly times: string
  /** Whether a part is there: products with parts that are not are left out. */
  has(part: string): boolean
}

/** A closed form as TeX. */
export const texOf = (text: string, writing: Writing): string =>
  typeset(without(termOf(text), writing.has) ?? { op: 'number', value: 0 }, writing)

/** The term without what parts that are not there make nothing; null where that is all of it. */
function without(term: Term, has: (part: string) => boolean): Term | null {
  if (term.op === 'number') return term
  if (term.op === 'name') return has(term.name) || absent(term.name) === Infinity ? term : null
  const [a, b] = [without(term.a, has), without(term.b, has)]
  if (term.op === '+') return a && b ? { ...term, a, b } : (a ?? b)
  if (term.op === '-') return a && b ? { ...term, a, b } : a ? a : b && minus(b)
  if (!a || !b) return null
  if (term.op === '/' && isEndless(b, has)) return null
  return { ...term, a, b }
}

const isEndless = (term: Term, has: (part: string) => boolean): boolean =>
  term.op === 'name'
    ? !has(term.name) && absent(term.name) === Infinity
    : term.op === '*' && (isEndless(term.a, has) || isEndless(term.b, has))

function typeset(term: Term, writing: Writing): string {
  const plain = (t: Term) => typeset(t, writing)
  const inner = (t: Term, least: number) => (binds(t) < least ? `\\left(${plain(t)}\\right)` : plain(t))
  if (term.op === 'number') return String(term.value)
  if (term.op === 'name') return writing.symbol(term.name)
  const { a, b } = term
  if (term.op === '/') return `\\frac{${plain(a)}}{${plain(b)}}`
  if (term.op === '*') return `${inner(a, 2)}${writing.times}${inner(b, 2)}`
  const left = term.op === '-' && a.op === 'number' && a.value === 0 ? '' : plain(a)
  return `${left} ${term.op} ${term.op === '-' ? inner(b, 2) : plain(b)}`.trim()
}
