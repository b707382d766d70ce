import { VoskelError } from '../errors/VoskelError.js'
import { parseAnyQuantity } from './parseQuantity.js'
import { isSignalFunction, SIGNAL_FUNCTIONS, type SignalFunction } from './signalFunctions.js'

/**
 * A quantity of a circuit that can be asked for, whatever the analysis: a voltage, a current, an impedance, a power, or
 * what arithmetic and functions make of such, of numbers and of the circuit's parameters. Plain data, as a document keeps it.
 */
export type Signal = LeafSignal | NumberSignal | NamedSignal | CallSignal | JoinedSignal

interface NumberSignal {
  readonly op: 'number'
  readonly value: number
  /** SI; left out where it is a plain number. */
  readonly unit?: string
}

/** A parameter of the circuit, or a constant. */
interface NamedSignal {
  readonly op: 'name'
  readonly name: string
}

interface CallSignal {
  readonly op: 'call'
  readonly called: SignalFunction
  readonly args: readonly [Signal]
}

/**
 * What is asked of the circuit itself: `v` of one net or between two, `i` and `p` of a part, `z` of a source or of nets, `s11` … `s22` of
 * what lies between the source's resistor and the load's.
 */
export interface LeafSignal {
  readonly op: 'v' | 'i' | 'z' | 'p' | 's11' | 's21' | 's12' | 's22'
  readonly of: readonly string[]
}

interface JoinedSignal {
  readonly op: '+' | '-' | '*' | '/' | '^'
  readonly args: readonly [Signal, Signal]
}

/** How many names each takes. */
const NAMES: Readonly<Record<LeafSignal['op'], readonly [least: number, most: number]>> = {
  v: [1, 2],
  i: [1, 1],
  z: [1, 2],
  p: [1, 1],
  s11: [1, 2],
  s21: [2, 2],
  s12: [2, 2],
  s22: [2, 2],
}

export const isLeaf = (signal: Signal): signal is LeafSignal => 'of' in signal

/** What a signal is made of: everything that is asked of the circuit in it. */
export function leavesOf(signal: Signal): LeafSignal[] {
  if (isLeaf(signal)) return [signal]
  return 'args' in signal ? signal.args.flatMap(leavesOf) : []
}

/** The signal with other leaves, and other things for its bare names. */
export function withLeaves(
  signal: Signal,
  change: (leaf: LeafSignal) => LeafSignal,
  named: (name: NamedSignal) => Signal = (name) => name,
): Signal {
  if (isLeaf(signal)) return change(signal)
  if (signal.op === 'number') return signal
  if (signal.op === 'name') return named(signal)
  const of = (arg: Signal) => withLeaves(arg, change, named)
  if (signal.op === 'call') return { ...signal, args: [of(signal.args[0])] }
  return { ...signal, args: [of(signal.args[0]), of(signal.args[1])] }
}

/** How tightly each operator binds. */
const BINDS: Readonly<Record<JoinedSignal['op'], number>> = { '+': 1, '-': 1, '*': 2, '/': 2, '^': 3 }

/** Longest text, characters, and deepest nesting of its brackets. */
const LONGEST = 1000
const DEEPEST = 100

/**
 * Reads a signal: `v(out)`, `v(a,b)`, `i(R1)`, `z(V1)`, `z(a,b)`, `p(R1)`, functions of such as `db(v(out))`, numbers with
 * or without a unit, parameters, `+ − * / ^` and brackets. A net stands inside `v(…)` or `z(…)` only, in double quotes where
 * its name holds a comma, a bracket or a quote; a bare name is a parameter.
 *
 * @throws VoskelError `SIGNAL_INVALID`, in whose facts `at` is the place in the text, from 0
 */
export function parseSignal(text: string): Signal {
  return new Parser(text).parse()
}

/** A signal as text that `parseSignal` reads back. */
export function signalText(signal: Signal): string {
  if (isLeaf(signal)) return `${signal.op}(${signal.of.map(quoted).join(',')})`
  if (signal.op === 'number') return `${signal.value}${signal.unit ?? ''}`
  if (signal.op === 'name') return signal.name
  if (signal.op === 'call') return `${signal.called}(${signalText(signal.args[0])})`
  const [a, b] = signal.args
  if (signal.op === '^') return `${inBrackets(a, Infinity)}^${inBrackets(b, Infinity)}`
  // As it is read: a sign is a factor of what stands right behind it.
  if (signal.op === '*' && a.op === 'number' && a.value === -1) return `-${inBrackets(b, Infinity)}`
  const own = BINDS[signal.op]
  return `${inBrackets(a, own)}${signal.op}${inBrackets(b, own + 0.5)}`
}

/** The text of a signal, in brackets where it binds less tightly than what stands around it. */
function inBrackets(signal: Signal, around: number): string {
  const text = signalText(signal)
  const binds = signal.op in BINDS ? BINDS[signal.op as JoinedSignal['op']] : Infinity
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
      if (op === null || op === '^' || BINDS[op] <= above) break
      this.at++
      left = { op, args: [left, this.joined(BINDS[op])] }
    }
    this.depth--
    return left
  }

  private signed(): Signal {
    if (this.take('-')) return { op: '*', args: [{ op: 'number', value: -1 }, this.signed()] }
    return this.take('+') ? this.signed() : this.power()
  }

  /** A sign binds tighter than a product and looser than a power, which stands to the right of another. */
  private power(): Signal {
    const base = this.single()
    if (!this.take('^')) return base
    if (++this.depth > DEEPEST) throw this.refuse(`it is nested more than ${DEEPEST} deep`)
    const exponent = this.signed()
    this.depth--
    return { op: '^', args: [base, exponent] }
  }

  private single(): Signal {
    const sign = this.next()
    if (sign === '') throw this.refuse(this.text.trim() === '' ? 'it is empty' : 'something is missing at its end')
    if (this.take('(')) {
      const inner = this.joined(0)
      if (!this.take(')')) throw this.refuse('a bracket is not closed')
      return inner
    }
    return /[\d.]/.test(sign) ? this.number() : this.named()
  }

  private number(): Signal {
    const word = /^[\d.]+(?:[eE][+-]?\d+)?[\p{L}\p{N}_.°]*/u.exec(this.text.slice(this.at))![0]
    let read: ReturnType<typeof parseAnyQuantity>
    try {
      read = parseAnyQuantity(word)
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      throw this.refuse(`"${word}" is not a number`)
    }
    this.at += word.length
    return { op: 'number', value: read.value, ...(read.unit !== '' && { unit: read.unit }) }
  }

  private named(): Signal {
    const word = /^[A-Za-z_]\w*/.exec(this.text.slice(this.at))?.[0]
    if (word === undefined) throw this.refuse(`"${this.text[this.at]}" is not expected there`)
    const begin = this.at
    const name = word.toLowerCase()
    const isLeafName = Object.hasOwn(NAMES, name)
    this.at += word.length
    if (!this.take('(')) {
      if ((isLeafName && name.length === 1) || isSignalFunction(name)) throw this.refuse(`"${word}" lacks its brackets`)
      return { op: 'name', name: word }
    }
    if (isLeafName) return this.leaf(name as LeafSignal['op'])
    if (!isSignalFunction(name)) {
      this.at = begin
      const all = Object.keys(SIGNAL_FUNCTIONS).join(', ')
      throw this.refuse(
        `"${word}" is none of v(net), i(part), z(source or net), p(part), s21(RS,RL), nor a function: ${all}`,
      )
    }
    const of = this.joined(0)
    if (!this.take(')')) throw this.refuse('a bracket is not closed')
    return { op: 'call', called: name, args: [of] }
  }

  private leaf(op: LeafSignal['op']): Signal {
    const of = [this.name()]
    while (this.take(',')) of.push(this.name())
    if (!this.take(')')) throw this.refuse('a bracket is not closed')
    const [least, most] = NAMES[op]
    if (of.length > most || of.length < least)
      throw this.refuse(`${op}(…) takes ${most > least ? 'one name or two' : most === 1 ? 'one name' : 'two names'}`)
    return { op, of }
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
