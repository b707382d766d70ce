import { VoskelError } from '../errors/VoskelError.js'
import { parseQuantity } from './parseQuantity.js'

/**
 * A quantity of a circuit that can be asked for, whatever the analysis: a voltage, a current, an impedance, a power, or
 * what arithmetic makes of such. Plain data, as a document keeps it.
 */
export type Signal = LeafSignal | { readonly op: 'number'; readonly value: number } | JoinedSignal

/** What is asked of the circuit itself: `v` of one net or between two, `i` and `p` of a part, `z` of a source or of nets. */
export interface LeafSignal {
  readonly op: 'v' | 'i' | 'z' | 'p'
  readonly of: readonly string[]
}

interface JoinedSignal {
  readonly op: '+' | '-' | '*' | '/'
  readonly args: readonly [Signal, Signal]
}

/** How many names each takes. */
const NAMES: Readonly<Record<LeafSignal['op'], readonly [least: number, most: number]>> = {
  v: [1, 2],
  i: [1, 1],
  z: [1, 2],
  p: [1, 1],
}

export const isLeaf = (signal: Signal): signal is LeafSignal => 'of' in signal

/** How tightly each operator binds. */
const BINDS: Readonly<Record<JoinedSignal['op'], number>> = { '+': 1, '-': 1, '*': 2, '/': 2 }

/** Longest text, characters, and deepest nesting of its brackets. */
const LONGEST = 1000
const DEEPEST = 100

/**
 * Reads a signal: `v(out)`, `v(a,b)`, `i(R1)`, `z(V1)`, `z(a,b)`, `p(R1)`, numbers, `+ − * /` and brackets. A net stands
 * inside `v(…)` or `z(…)` only, in double quotes where its name holds a comma, a bracket or a quote.
 *
 * @throws VoskelError `SIGNAL_INVALID`, in whose facts `at` is the place in the text, from 0
 */
export function parseSignal(text: string): Signal {
  return new Parser(text).parse()
}

/** A signal as text that `parseSignal` reads back. */
export function signalText(signal: Signal): string {
  if (isLeaf(signal)) return `${signal.op}(${signal.of.map(quoted).join(',')})`
  if (signal.op === 'number') return String(signal.value)
  const [a, b] = signal.args
  // As it is read: a sign is a factor of what stands right behind it.
  if (signal.op === '*' && a.op === 'number' && a.value === -1) return `-${inBrackets(b, Infinity)}`
  const own = BINDS[signal.op]
  return `${inBrackets(a, own)}${signal.op}${inBrackets(b, own + 0.5)}`
}

/** The text of a signal, in brackets where it binds less tightly than what stands around it. */
function inBrackets(signal: Signal, around: number): string {
  const text = signalText(signal)
  const binds = isLeaf(signal) || signal.op === 'number' ? Infinity : BINDS[signal.op]
  return binds < around || (signal.op === 'number' && signal.value < 0) ? `(${text})` : text
}

const quoted = (name: string) => (/[(),"\s]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name)

class Parser {
  private at = 0
  private depth = 0

  constructor(private readonly text: string) {
    if (text.length > LONGEST) throw this.refuse(`it has more than ${LONGEST} characters`)
  }

  parse(): Signal {
    const signal = this.joined(0)
    if (!this.atEnd()) throw this.refuse(`"${this.text[this.at]}" is not expected there`)
    return signal
  }

  private joined(above: number): Signal {
    if (++this.depth > DEEPEST) throw this.refuse(`it is nested more than ${DEEPEST} deep`)
    let left = this.signed()
    for (;;) {
      const sign = this.next()
      const op = sign in BINDS ? (sign as JoinedSignal['op']) : null
      if (op === null || BINDS[op] <= above) break
      this.at++
      left = { op, args: [left, this.joined(BINDS[op])] }
    }
    this.depth--
    return left
  }

  private signed(): Signal {
    if (this.take('-')) return { op: '*', args: [{ op: 'number', value: -1 }, this.signed()] }
    return this.take('+') ? this.signed() : this.single()
  }

  private single(): Signal {
    const sign = this.next()
    if (sign === '') throw this.refuse(this.text.trim() === '' ? 'it is empty' : 'something is missing at its end')
    if (this.take('(')) {
      const inner = this.joined(0)
      if (!this.take(')')) throw this.refuse('a bracket is not closed')
      return inner
    }
    return /[\d.]/.test(sign) ? this.number() : this.leaf()
  }

  private number(): Signal {
    const word = /^[\d.]+(?:[eE][+-]?\d+)?[\p{L}\p{N}_.]*/u.exec(this.text.slice(this.at))![0]
    let value: number
    try {
      value = parseQuantity(word)
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      throw this.refuse(`"${word}" is not a number`)
    }
    this.at += word.length
    return { op: 'number', value }
  }

  private leaf(): Signal {
    const word = /^[A-Za-z_]\w*/.exec(this.text.slice(this.at))?.[0]
    if (word === undefined) throw this.refuse(`"${this.text[this.at]}" is not expected there`)
    const op = word.toLowerCase()
    if (!Object.hasOwn(NAMES, op)) throw this.refuse(`"${word}" is none of v(net), i(part), z(source or net), p(part)`)
    this.at += word.length
    if (!this.take('(')) throw this.refuse(`"${word}" lacks its brackets`)
    const of = [this.name()]
    while (this.take(',')) of.push(this.name())
    if (!this.take(')')) throw this.refuse('a bracket is not closed')
    const [least, most] = NAMES[op as LeafSignal['op']]
    if (of.length > most) throw this.refuse(`${op}(…) takes ${most === least ? 'one name' : 'one name or two'}`)
    return { op: op as LeafSignal['op'], of }
  }

  private name(): string {
    this.next()
    const rest = this.text.slice(this.at)
    const found = /^"((?:[^"]|"")+)"/.exec(rest) ?? /^([^(),"]*[^(),"\s])/.exec(rest)
    if (!found) throw this.refuse('a name is missing')
    this.at += found[0].length
    return found[1].replaceAll('""', '"')
  }

  /** The next character that is no blank; empty at the end. */
  private next(): string {
    while (/\s/.test(this.text[this.at] ?? '')) this.at++
    return this.text[this.at] ?? ''
  }

  private take(sign: string): boolean {
    if (this.next() !== sign) return false
    this.at++
    return true
  }

  private atEnd(): boolean {
    return this.next() === ''
  }

  private refuse(problem: string) {
    return new VoskelError('SIGNAL_INVALID', { text: this.text.slice(0, 80), problem, at: this.at })
  }
}
