import { GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { isLeaf, type LeafSignal, parseSignal, type Signal, signalText } from '../quantity/signal.js'
import { type Drive, driveOf, element, inputSource, maybeElement, netColumn } from './elements.js'
import type { Mna, Probe } from './mna.js'

/** A combination of unknowns, in answer to a drive. */
export interface Leaf {
  /** Of the input, or of what an impedance is asked by; every other source is zero. */
  readonly drive: Drive
  readonly probe: Probe
  /** The quantity is one over the combination: the impedance that a voltage source sees, by its current. */
  readonly inverse: boolean
  /** Elements whose currents it is made of, with their factors: the probe itself may follow their values. */
  readonly owners: readonly (readonly [element: number, factor: number])[]
  /** Index of the nonlinear device whose current this is, besides the probe. */
  readonly device?: number
}

/** How a signal is made of leaves: by their indices. */
type Tree =
  | { readonly op: 'leaf'; readonly leaf: number }
  | { readonly op: 'number'; readonly value: number }
  | { readonly op: '+' | '-' | '*' | '/' | 'power'; readonly args: readonly [Tree, Tree] }

/** Arithmetic on whatever the leaves have as values: complex numbers with or without a slope, real ones. */
export interface Algebra<T> {
  number(value: number): T
  add(a: T, b: T): T
  subtract(a: T, b: T): T
  multiply(a: T, b: T): T
  divide(a: T, b: T): T
  /** Voltage times the conjugate of the current. */
  power(v: T, i: T): T
}

/** Exponents of volt and ampere. */
interface Dimension {
  readonly volt: number
  readonly ampere: number
}

const NAMED_UNITS: readonly (readonly [volt: number, ampere: number, unit: string])[] = [
  [0, 0, ''],
  [1, 0, 'V'],
  [0, 1, 'A'],
  [1, -1, 'Ω'],
  [-1, 1, 'S'],
  [1, 1, 'W'],
]

/** A signal asked of the equations at hand. */
export class BoundSignal {
  constructor(
    private readonly tree: Tree,
    private readonly dimension: Dimension,
  ) {}

  /** The one leaf that this is as it stands; null where it is more. */
  get leaf(): number | null {
    return this.tree.op === 'leaf' ? this.tree.leaf : null
  }

  /** SI unit. */
  get unit(): string {
    const { volt, ampere } = this.dimension
    const named = NAMED_UNITS.find(([v, a]) => v === volt && a === ampere)
    if (named) return named[2]
    const power = (unit: string, n: number) => (n === 0 ? '' : n === 1 ? unit : `${unit}${SUPERSCRIPTS[n] ?? `^${n}`}`)
    const above = power('V', Math.max(volt, 0)) + power('A', Math.max(ampere, 0))
    const below = power('V', Math.max(-volt, 0)) + power('A', Math.max(-ampere, 0))
    return below === '' ? above : `${above || '1'}/${below}`
  }

  /** It grows with the square of the drive, as a power does: 10 dB a decade. */
  get isPower(): boolean {
    return this.dimension.volt + this.dimension.ampere === 2
  }

  /** The signal's value from those of the leaves. */
  combine<T>(algebra: Algebra<T>, leaves: readonly T[]): T {
    const of = (tree: Tree): T => {
      if (tree.op === 'leaf') return leaves[tree.leaf]
      if (tree.op === 'number') return algebra.number(tree.value)
      const [a, b] = tree.args.map(of)
      return algebra[METHODS[tree.op]](a, b)
    }
    return of(this.tree)
  }

  /**
   * What stands above and below the line where a signal is a product of leaves and their inverses.
   *
   * @returns null for sums and powers
   */
  factors(): { above: number[]; below: number[] } | null {
    const of = (tree: Tree): { above: number[]; below: number[] } | null => {
      if (tree.op === 'leaf') return { above: [tree.leaf], below: [] }
      if (tree.op === 'number') return { above: [], below: [] }
      if (tree.op !== '*' && tree.op !== '/') return null
      const [a, b] = tree.args.map(of)
      if (!a || !b) return null
      const [up, down] = tree.op === '*' ? [b.above, b.below] : [b.below, b.above]
      return { above: [...a.above, ...up], below: [...a.below, ...down] }
    }
    return of(this.tree)
  }
}

const SUPERSCRIPTS: Readonly<Record<number, string>> = { 2: '²', 3: '³', 4: '⁴' }
const METHODS = { '+': 'add', '-': 'subtract', '*': 'multiply', '/': 'divide', power: 'power' } as const

/** Signals with the leaves that they share: one solve of the equations for each drive gives them all. */
export interface BoundSignals {
  readonly leaves: readonly Leaf[]
  readonly signals: readonly BoundSignal[]
}

/** One leaf as a signal by itself, in answer to another drive. */
export const leafAlone = (leaf: Leaf, drive: Drive): BoundSignals => ({
  leaves: [{ ...leaf, drive }],
  signals: [new BoundSignal({ op: 'leaf', leaf: 0 }, { volt: 0, ampere: 0 })],
})

/** Arithmetic on real numbers: of values at one time. */
export const real: Algebra<number> = {
  number: (value) => value,
  add: (a, b) => a + b,
  subtract: (a, b) => a - b,
  multiply: (a, b) => a * b,
  divide: (a, b) => a / b,
  power: (v, i) => v * i,
}

/** A signal over time from its leaves' values there. */
export function combinedOverTime(signal: BoundSignal, leaves: readonly Float64Array[]): Float64Array {
  if (signal.leaf !== null) return leaves[signal.leaf]
  const now = leaves.map(() => 0)
  return leaves[0].map((_, t) => {
    for (let k = 0; k < now.length; k++) now[k] = leaves[k][t]
    return signal.combine(real, now)
  })
}

/** A signal, or a text that is to be read as one. */
export type SignalLike = Signal | string

/**
 * Asks the equations for signals. What differs by factors and sums alone is one leaf.
 *
 * @param texts signals; texts are read as `readOutput` does
 * @param input name of the driving source; left out, `V1` or the only one; null where nothing is driven, as over time
 * @throws VoskelError `SIGNAL_INVALID`, `ARGUMENT` for a net, part or source that does not exist
 */
export function bindSignals(mna: Mna, texts: readonly SignalLike[], input?: string | null): BoundSignals {
  const binding = new Binding(mna, input)
  const signals = texts.map((text) => binding.bind(typeof text === 'string' ? readOutput(mna, text) : text))
  return { leaves: binding.leaves, signals }
}

/**
 * An output as the command line names it: a signal, where a net may stand by its bare name, and `a-b` for a difference of
 * two, `a/b` for a quotient. A name that is a net, minus sign and all, is that net.
 *
 * @throws VoskelError `SIGNAL_INVALID`, `ARGUMENT` naming the nets that exist
 */
export function readOutput(mna: Mna, text: string): Signal {
  const name = text.trim()
  const isNet = mna.circuit.nodes.some((n) => n.toUpperCase() === name.toUpperCase())
  if (isNet) return { op: 'v', of: [name] }
  const slash = outside(name, '/')
  const split = (): Signal => ({
    op: '/',
    args: [readOutput(mna, name.slice(0, slash)), readOutput(mna, name.slice(slash + 1))],
  })
  if (name.includes('(')) {
    try {
      return parseSignal(name)
    } catch (error) {
      // One side of a quotient may be a bare name.
      if (slash > 0) return split()
      throw error
    }
  }
  if (slash > 0) return split()
  const minus = name.indexOf('-')
  if (minus > 0) return { op: 'v', of: [name.slice(0, minus).trim(), name.slice(minus + 1).trim()] }
  return { op: 'v', of: [name] }
}

/** Where the last such sign stands outside of brackets and quotes; −1 where none does. */
function outside(text: string, sign: string): number {
  let [depth, quoted, found] = [0, false, -1]
  for (let k = 0; k < text.length; k++) {
    const c = text[k]
    if (c === '"') quoted = !quoted
    else if (quoted) continue
    else if (c === '(') depth++
    else if (c === ')') depth--
    else if (c === sign && depth === 0) found = k
  }
  return found
}

class Binding {
  readonly leaves: Leaf[] = []
  private inputDrive: Drive | null = null

  constructor(
    private readonly mna: Mna,
    private readonly input: string | null | undefined,
  ) {}

  bind(signal: Signal): BoundSignal {
    const { tree, dimension } = this.of(signal)
    return new BoundSignal(this.placed(tree), dimension)
  }

  /** A signal as a tree of open leaves, which are given their places when all sums are done. */
  private of(signal: Signal): { tree: OpenTree; dimension: Dimension } {
    if (isLeaf(signal)) return this.leaf(signal)
    if (signal.op === 'number') return { tree: signal, dimension: { volt: 0, ampere: 0 } }
    const [a, b] = signal.args.map((arg) => this.of(arg))
    const adds = signal.op === '+' || signal.op === '-'
    if (adds && (a.dimension.volt !== b.dimension.volt || a.dimension.ampere !== b.dimension.ampere)) {
      const [first, second] = [a, b].map(({ dimension }) => new BoundSignal(NOTHING, dimension).unit || 'a number')
      const problem = `${first} and ${second} do not add`
      throw new VoskelError('SIGNAL_INVALID', { text: signalText(signal), problem })
    }
    const sign = signal.op === '/' ? -1 : 1
    const dimension = adds
      ? a.dimension
      : {
          volt: a.dimension.volt + sign * b.dimension.volt,
          ampere: a.dimension.ampere + sign * b.dimension.ampere,
        }
    return { tree: joined(signal.op, a.tree, b.tree), dimension }
  }

  private leaf({ op, of }: LeafSignal): { tree: OpenTree; dimension: Dimension } {
    const [first, second] = of
    if (op === 'v') return { tree: open(this.voltage(first, second)), dimension: { volt: 1, ampere: 0 } }
    if (op === 'i') return { tree: open(this.current(first)), dimension: { volt: 0, ampere: 1 } }
    if (op === 'z') return { tree: open(this.impedance(first, second)), dimension: { volt: 1, ampere: -1 } }
    return { tree: this.power(first), dimension: { volt: 1, ampere: 1 } }
  }

  private drive(): Drive {
    if (this.input === null) return NO_DRIVE
    return (this.inputDrive ??= driveOf(this.mna, inputSource(this.mna, this.input).index))
  }

  private voltage(plus: string, minus = '0'): Leaf {
    const probe = difference(netColumn(this.mna, plus), netColumn(this.mna, minus))
    return { drive: this.drive(), probe, inverse: false, owners: [] }
  }

  private current(name: string): Leaf {
    const { mna } = this
    const found = element(mna, name)
    const drive = this.drive()
    const device = mna.devices.findIndex((d) => d.element === found.index && d.pinCurrent)
    if (device >= 0) return { drive, probe: [], inverse: false, owners: [], device }
    const probe = mna.currents.get(found.index)
    if (probe) return { drive, probe, inverse: false, owners: [[found.index, 1]] }
    throw new VoskelError('ARGUMENT', {
      problem: `The current of ${found.element.name} is what it drives; it is not solved for.`,
      fix: 'Ask for the current of another part.',
    })
  }

  /** Seen by a source, which it drives itself; or between nets, by a current into the first and out of the second. */
  private impedance(first: string, second: string | undefined): Leaf {
    const { mna } = this
    if (this.input === null) {
      const text = second === undefined ? `z(${first})` : `z(${first},${second})`
      throw new VoskelError('ARGUMENT', {
        problem: `"${text}" is an impedance, which has no course in time.`,
        fix: 'Ask for a net or a current, for example out or i(R1).',
      })
    }
    const source = second === undefined ? maybeElement(mna, first) : null
    if (!source) {
      const [plus, minus] = [netOrPart(mna, first), netColumn(mna, second ?? '0')]
      const drive = (
        [
          [plus, 1],
          [minus, -1],
        ] as const
      ).filter(([row]) => row !== GROUND)
      return { drive, probe: difference(plus, minus), inverse: false, owners: [] }
    }
    const { index } = inputSource(mna, first)
    const drive = driveOf(mna, index)
    const current = mna.currents.get(index)
    if (current) {
      const probe = current.map(([column, g, c]) => [column, -g, -c] as const)
      return { drive, probe, inverse: true, owners: [] }
    }
    const [plus, minus] = mna.circuit.elements[index].nodes
    return { drive, probe: difference(minus, plus), inverse: false, owners: [] }
  }

  /** v·conj(i) of a part with two pins, as a mean: a source whose magnitude is a peak gives half of that. */
  private power(name: string): OpenTree {
    const { mna } = this
    const { nodes, name: own } = element(mna, name).element
    if (nodes.length !== 2) {
      throw new VoskelError('ARGUMENT', {
        problem: `${own} has ${nodes.length} pins; a power over frequency or time is that of a part with two.`,
        fix: 'Ask for the power of a part with two pins; `op` shows that of every part.',
      })
    }
    const voltage = { drive: this.drive(), probe: difference(nodes[0], nodes[1]), inverse: false, owners: [] }
    const power: OpenTree = { op: 'power', args: [open(voltage), open(this.current(name))] }
    if (this.input === null) return power
    const { acAs = 'effective' } = inputSource(mna, this.input).element
    if (acAs === 'effective') return power
    return { op: '*', args: [{ op: 'number', value: MEAN_POWER[acAs] }, power] }
  }

  private placed(tree: OpenTree): Tree {
    if (tree.op === 'number') return tree
    if (tree.op === 'open') return { op: 'leaf', leaf: this.place(tree.leaf) }
    const [a, b] = tree.args
    return { op: tree.op, args: [this.placed(a), this.placed(b)] }
  }

  private place(leaf: Leaf): number {
    const known = this.leaves.findIndex((other) => sameLeaf(other, leaf))
    return known >= 0 ? known : this.leaves.push(leaf) - 1
  }
}

/** Mean power over the square of a sine's amplitude, by what the amplitude is said to be. */
const MEAN_POWER = { peak: 1 / 2, 'peak-to-peak': 1 / 8 } as const

type OpenTree =
  | { readonly op: 'open'; readonly leaf: Leaf }
  | { readonly op: 'number'; readonly value: number }
  | { readonly op: '+' | '-' | '*' | '/' | 'power'; readonly args: readonly [OpenTree, OpenTree] }

const NO_DRIVE: Drive = []
const NOTHING: Tree = { op: 'number', value: 0 }
const open = (leaf: Leaf): OpenTree => ({ op: 'open', leaf })

/** Two trees under an operator; combinations of unknowns that answer one drive stay one combination. */
function joined(op: '+' | '-' | '*' | '/', a: OpenTree, b: OpenTree): OpenTree {
  if (op === '+' || op === '-') {
    if (isPlain(a) && isPlain(b) && sameDrive(a.leaf.drive, b.leaf.drive))
      return open(sum(a.leaf, scaled(b.leaf, op === '+' ? 1 : -1)))
  } else if (b.op === 'number' && isPlain(a)) return open(scaled(a.leaf, op === '*' ? b.value : 1 / b.value))
  else if (op === '*' && a.op === 'number' && isPlain(b)) return open(scaled(b.leaf, a.value))
  return { op, args: [a, b] }
}

const isPlain = (tree: OpenTree): tree is OpenTree & { op: 'open' } =>
  tree.op === 'open' && !tree.leaf.inverse && tree.leaf.device === undefined

const scaled = (leaf: Leaf, factor: number): Leaf => ({
  ...leaf,
  probe: leaf.probe.map(([column, g, c]) => [column, factor * g, factor * c] as const),
  owners: leaf.owners.map(([index, f]) => [index, factor * f] as const),
})

function sum(a: Leaf, b: Leaf): Leaf {
  const terms = new Map<number, readonly [number, number, number]>()
  for (const [column, g, c] of [...a.probe, ...b.probe]) {
    const [, g0, c0] = terms.get(column) ?? [column, 0, 0]
    terms.set(column, [column, g0 + g, c0 + c])
  }
  return { ...a, probe: [...terms.values()], owners: [...a.owners, ...b.owners] }
}

function difference(plus: number, minus: number): Probe {
  const terms: Probe = [
    [plus, 1, 0],
    [minus, -1, 0],
  ]
  return terms.filter(([column]) => column !== GROUND)
}

/** The column of a net, where a part could be meant as well. */
function netOrPart(mna: Mna, name: string): number {
  try {
    return netColumn(mna, name)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    throw new VoskelError('ARGUMENT', {
      problem: `"${name}" is neither a source nor a net of this circuit, so that it has no impedance.`,
      fix: error.remedy,
    })
  }
}

export const sameDrive = (a: Drive, b: Drive): boolean =>
  a === b || (a.length === b.length && a.every(([row, value], k) => b[k][0] === row && b[k][1] === value))

const sameLeaf = (a: Leaf, b: Leaf): boolean =>
  a.inverse === b.inverse &&
  a.device === b.device &&
  a.probe.length === b.probe.length &&
  a.probe.every((term, k) => term.every((v, j) => v === b.probe[k][j])) &&
  sameDrive(a.drive, b.drive)
