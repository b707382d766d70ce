import { GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import {
  type Dimension,
  dimensionOf,
  isPowerLike,
  PLAIN,
  productOf,
  sameDimension,
  unitOf,
} from '../quantity/dimension.js'
import { isLeaf, type LeafSignal, parseSignal, type Signal, signalText, withLeaves } from '../quantity/signal.js'
import type { SignalFunction } from '../quantity/signalFunctions.js'
import { FUNCTION_MEANINGS } from './signalFunctions.js'
import { type Drive, driveOf, element, inputSource, maybeElement, netColumn } from './elements.js'
import type { Mna, Probe } from './mna.js'
import { loadPort, refuseOnePort, sourcePort } from './ports.js'

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
  /** Resistors of ports: the probe's factors hold a power of their resistance, and follow it. */
  readonly references?: readonly (readonly [resistor: number, power: number])[]
}

/** How a signal is made of leaves: by their indices. */
type Tree =
  | { readonly op: 'leaf'; readonly leaf: number }
  | { readonly op: 'number'; readonly value: number }
  | { readonly op: 'call'; readonly called: SignalFunction; readonly args: readonly [Tree] }
  | { readonly op: Joint; readonly args: readonly [Tree, Tree] }

/** What joins two: `power` is a voltage times the conjugate of a current. */
type Joint = '+' | '-' | '*' | '/' | '^' | 'power'

/** Arithmetic on whatever the leaves have as values: complex numbers with or without a slope, real ones, courses. */
export interface Algebra<T> {
  number(value: number): T
  add(a: T, b: T): T
  subtract(a: T, b: T): T
  multiply(a: T, b: T): T
  divide(a: T, b: T): T
  /** Voltage times the conjugate of the current. */
  power(v: T, i: T): T
  raise(base: T, exponent: T): T
  call(called: SignalFunction, x: T): T
}

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

  /** SI unit; dB and degrees are units as well. */
  get unit(): string {
    return unitOf(this.dimension)
  }

  /** It grows with the square of the drive, as a power does: 10 dB a decade. */
  get isPower(): boolean {
    return isPowerLike(this.dimension)
  }

  /** It is read in dB or degrees already. */
  get isLevel(): boolean {
    return this.dimension.dB !== 0 || this.dimension.deg !== 0
  }

  /** It is made of a derivative by the frequency, so that it has no further one. */
  get isSloped(): boolean {
    return callsSome(this.tree, (called) => FUNCTION_MEANINGS[called].isSloped === true)
  }

  /** Over time a value of it is made of the whole course of others. */
  get isOfCourse(): boolean {
    return callsSome(this.tree, (called) => FUNCTION_MEANINGS[called].course !== undefined)
  }

  /** The signal's value from those of the leaves. */
  combine<T>(algebra: Algebra<T>, leaves: readonly T[]): T {
    const of = (tree: Tree): T => {
      if (tree.op === 'leaf') return leaves[tree.leaf]
      if (tree.op === 'number') return algebra.number(tree.value)
      if (tree.op === 'call') return algebra.call(tree.called, of(tree.args[0]))
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

/** Whether one of the functions of a tree is of a kind. */
const callsSome = (tree: Tree | OpenTree, of: (called: SignalFunction) => boolean): boolean =>
  (tree.op === 'call' && of(tree.called)) || ('args' in tree && tree.args.some((arg) => callsSome(arg, of)))

const METHODS = { '+': 'add', '-': 'subtract', '*': 'multiply', '/': 'divide', '^': 'raise', power: 'power' } as const

/** Signals with the leaves that they share: one solve of the equations for each drive gives them all. */
export interface BoundSignals {
  readonly leaves: readonly Leaf[]
  readonly signals: readonly BoundSignal[]
}

/** Leaves as signals by themselves. */
export const leavesAlone = (leaves: readonly Leaf[]): BoundSignals => ({
  leaves,
  signals: leaves.map((_, leaf) => new BoundSignal({ op: 'leaf', leaf }, PLAIN)),
})

/** One leaf as a signal by itself, in answer to another drive. */
export const leafAlone = (leaf: Leaf, drive: Drive): BoundSignals => leavesAlone([{ ...leaf, drive }])

/** Arithmetic on real numbers: of values at one time, or at rest. */
export const real: Algebra<number> = {
  number: (value) => value,
  add: (a, b) => a + b,
  subtract: (a, b) => a - b,
  multiply: (a, b) => a * b,
  divide: (a, b) => a / b,
  power: (v, i) => v * i,
  raise: (base, exponent) => base ** exponent,
  call: (called, x) => FUNCTION_MEANINGS[called].real!(x),
}

/** Arithmetic on whole courses over time: a value at each of some times, or one number for all of them. */
function courses(time: Float64Array): Algebra<Float64Array | number> {
  const both =
    (of: (a: number, b: number) => number) =>
    (a: Float64Array | number, b: Float64Array | number): Float64Array | number => {
      if (typeof a === 'number') return typeof b === 'number' ? of(a, b) : b.map((y) => of(a, y))
      return typeof b === 'number' ? a.map((x) => of(x, b)) : a.map((x, k) => of(x, b[k]))
    }
  return {
    number: (value) => value,
    add: both(real.add),
    subtract: both(real.subtract),
    multiply: both(real.multiply),
    divide: both(real.divide),
    power: both(real.power),
    raise: both(real.raise),
    call(called, x) {
      const { real: of, course } = FUNCTION_MEANINGS[called]
      if (typeof x === 'number') return of!(x)
      return course ? course(x, time) : x.map(of!)
    },
  }
}

/** A signal over time from its leaves' values there. */
export function combinedOverTime(
  signal: BoundSignal,
  leaves: readonly Float64Array[],
  time: Float64Array,
): Float64Array {
  const course = signal.combine(courses(time), leaves)
  return typeof course === 'number' ? time.map(() => course) : course
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
 * Refuses what is made of a derivative by the frequency, where values alone are followed.
 *
 * @throws VoskelError `ARGUMENT`
 */
export function refuseSloped({ signals }: BoundSignals, asked: string): void {
  if (!signals.some((signal) => signal.isSloped)) return
  throw new VoskelError('ARGUMENT', {
    problem: `A delay, or a derivative by the frequency, has no ${asked} here.`,
    fix: 'Ask for a net, a current, an impedance or what arithmetic makes of such.',
  })
}

/**
 * An output as the command line names it: a signal, where a net may stand by its bare name, and `a-b` for a difference of
 * two, `a/b` for a quotient. A name that is a net, minus sign and all, is that net.
 *
 * @throws VoskelError `SIGNAL_INVALID`, `ARGUMENT` naming the nets that exist
 */
export function readOutput(mna: Mna, text: string): Signal {
  const name = text.trim()
  const isNet = (of: string) => mna.circuit.nodes.some((n) => n.toUpperCase() === of.toUpperCase())
  if (isNet(name)) return { op: 'v', of: [name] }
  const slash = outside(name, '/')
  const split = (): Signal => ({
    op: '/',
    args: [readOutput(mna, name.slice(0, slash)), readOutput(mna, name.slice(slash + 1))],
  })
  if (name.includes('(')) {
    try {
      let hasStranger = false
      const signal = withLeaves(
        parseSignal(name),
        (leaf) => leaf,
        (bare) => {
          if (isNet(bare.name)) return { op: 'v', of: [bare.name] }
          hasStranger ||= !mna.circuit.parameters.has(bare.name) && !(bare.name.toLowerCase() in CONSTANTS)
          return bare
        },
      )
      // A net's own name may hold what reads as a sign.
      return hasStranger && slash > 0 ? split() : signal
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
  private of(signal: Signal): Open {
    if (isLeaf(signal)) return this.leaf(signal)
    if (signal.op === 'number') {
      const { value, unit = '' } = signal
      return { tree: { op: 'number', value }, dimension: dimensionOf(unit) }
    }
    if (signal.op === 'name') return this.named(signal.name)
    if (signal.op === 'call') return this.call(signal.called, this.of(signal.args[0]), signal)
    const [a, b] = signal.args.map((arg) => this.of(arg))
    if (signal.op === '^') return raised(a, b, signal)
    if (signal.op === '+' || signal.op === '-') {
      const dimension = sumOf(a, b)
      if (dimension) return { tree: joined(signal.op, a.tree, b.tree), ...dimension }
      const [first, second] = [a, b].map((one) => unitOf(one.dimension) || 'a number')
      throw refused(signal, `${first} and ${second} do not add${number(a, b)}`)
    }
    const dimension = productOf(a.dimension, b.dimension, signal.op === '/' ? -1 : 1)
    const isFree = (a.isFree && isPlain(b)) || (b.isFree && isPlain(a))
    return { tree: joined(signal.op, a.tree, b.tree), dimension, ...(isFree && { isFree }) }
  }

  /** A constant, or a parameter: a number in whatever unit stands beside it. */
  private named(name: string): Open {
    const constant = CONSTANTS[name.toLowerCase()]
    if (constant !== undefined) return { tree: { op: 'number', value: constant }, dimension: PLAIN }
    const { circuit } = this.mna
    if (!circuit.parameters.has(name)) {
      const known = circuit.parameters.names
      const isNet = circuit.nodes.some((n) => n.toUpperCase() === name.toUpperCase())
      throw new VoskelError('SIGNAL_INVALID', {
        text: name,
        problem: isNet
          ? `a bare name is a parameter; the net is v(${name})`
          : `there is no parameter of that name${known.length > 0 ? `; there are ${known.slice(0, 12).join(', ')}` : ''}`,
      })
    }
    return { tree: { op: 'number', value: circuit.parameters.value(name) }, dimension: PLAIN, isFree: true }
  }

  private call(called: SignalFunction, { tree, dimension: of }: Open, signal: Signal): Open {
    const isOverTime = this.input === null
    const meaning = FUNCTION_MEANINGS[called]
    if (!(isOverTime ? meaning.real : meaning.complex))
      throw refused(signal, `${called} has no meaning over ${isOverTime ? 'time' : 'frequency'}`)
    if (!isOverTime && hasSlope(tree)) throw refused(signal, 'a delay or a derivative can be no part of a function')
    const dimension = meaning.dimension(of, isOverTime)
    if (typeof dimension === 'string') throw refused(signal, dimension)
    const value: OpenTree = { op: 'call', called, args: [tree] }
    // The dB of a power are ten times its logarithm.
    if (called === 'db' && isPowerLike(of)) return { tree: { op: '*', args: [HALF, value] }, dimension }
    return { tree: value, dimension }
  }

  private leaf({ op, of }: LeafSignal): Open {
    const [first, second] = of
    if (op.startsWith('s')) return { tree: this.scattered(op, first, second), dimension: PLAIN }
    const dimension = dimensionOf({ v: 'V', i: 'A', z: 'Ω', p: 'W' }[op as 'v' | 'i' | 'z' | 'p'])
    if (op === 'v') return { tree: open(this.voltage(first, second)), dimension }
    if (op === 'i') return { tree: open(this.current(first)), dimension }
    if (op === 'z') return { tree: this.seenBy(first, second) ?? open(this.impedance(first, second)), dimension }
    return { tree: this.power(first), dimension }
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

  /** What a part with two pins sees, itself taken out: a current into its pins goes on through it and through what is left. */
  private seenBy(name: string, second: string | undefined): OpenTree | null {
    const { mna } = this
    const found = this.input === null || second !== undefined ? null : maybeElement(mna, name)
    if (!found || found.element.kind.takesWaveform || found.element.nodes.length !== 2) return null
    const [one, other] = found.element.nodes
    const through = mna.currents.get(found.index)
    if (!through) return null
    const terms = [
      [one, 1],
      [other, -1],
    ] as const
    const drive = terms.filter(([row]) => row !== GROUND)
    const voltage = { drive, probe: difference(one, other), inverse: false, owners: [] }
    const current = { drive, probe: through, inverse: false, owners: [[found.index, 1]] as const }
    const rest: OpenTree = { op: '-', args: [{ op: 'number', value: 1 }, open(current)] }
    return { op: '/', args: [open(voltage), rest] }
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

  /**
   * Scattering parameters of what lies between the source's resistor and the load's. The source drives: S11 = 1 − 2·v(RS)/V,
   * S21 = 2·√(RS/RL)·v(RL)/V; 1 A into the load's nets, every other source at zero: S22 = 2·v(RL)/RL − 1, S12 = 2·v(RS)/√(RS·RL).
   *
   * Source: G. L. Matthaei, L. Young, E. M. T. Jones, *Microwave Filters …*, McGraw-Hill 1964, § 2.12 (definition of the waves;
   * from memory).
   */
  private scattered(op: LeafSignal['op'], first: string, second: string | undefined): OpenTree {
    const { mna } = this
    if (this.input === null)
      throw new VoskelError('ARGUMENT', {
        problem: `"${op}" is a scattering parameter, which has no course in time.`,
        fix: 'Ask for a net or a current, for example out or i(R1).',
      })
    const source = sourcePort(mna, first, this.input)
    const { resistor: rs, reference: r1, drop, sign } = source
    if (op === 's11') {
      if (second !== undefined) refuseOnePort(source, loadPort(mna, second))
      // Of a source that drives the other way the drop is counted against its voltage.
      const wave = scaled({ drive: this.drive(), probe: drop, inverse: false, owners: [] }, 2 * sign)
      return { op: '-', args: [{ op: 'number', value: 1 }, open(wave)] }
    }
    const load = loadPort(mna, second!)
    refuseOnePort(source, load)
    const { resistor: rl, reference: r2, voltage, drive } = load
    const wave = (driven: Drive, probe: Probe, factor: number, powers: readonly [number, number]): Leaf => {
      const references = (
        [
          [rs, powers[0]],
          [rl, powers[1]],
        ] as const
      ).filter(([, power]) => power !== 0)
      return { ...scaled({ drive: driven, probe, inverse: false, owners: [] }, factor), references }
    }
    if (op === 's21') return open(wave(this.drive(), voltage, 2 * sign * Math.sqrt(r1 / r2), [0.5, -0.5]))
    // What the load sends is counted against the drop, which points into the network.
    if (op === 's12') return open(wave(drive, drop, -2 / Math.sqrt(r1 * r2), [-0.5, -0.5]))
    return { op: '-', args: [open(wave(drive, voltage, 2 / r2, [0, -1])), { op: 'number', value: 1 }] }
  }

  private placed(tree: OpenTree): Tree {
    if (tree.op === 'number') return tree
    if (tree.op === 'open') return { op: 'leaf', leaf: this.place(tree.leaf) }
    if (tree.op === 'call') return { op: 'call', called: tree.called, args: [this.placed(tree.args[0])] }
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
  | { readonly op: 'call'; readonly called: SignalFunction; readonly args: readonly [OpenTree] }
  | { readonly op: Joint; readonly args: readonly [OpenTree, OpenTree] }

/** A part of a signal with its dimension; a free one is a parameter, which may be in any. */
interface Open {
  readonly tree: OpenTree
  readonly dimension: Dimension
  readonly isFree?: boolean
}

const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI, e: Math.E }
const HALF: OpenTree = { op: 'number', value: 1 / 2 }
const NO_DRIVE: Drive = []
const open = (leaf: Leaf): OpenTree => ({ op: 'open', leaf })
const isPlain = ({ dimension }: Open): boolean => sameDimension(dimension, PLAIN)

const refused = (signal: Signal, problem: string) =>
  new VoskelError('SIGNAL_INVALID', { text: signalText(signal), problem })

const hasSlope = (tree: OpenTree): boolean => callsSome(tree, (called) => FUNCTION_MEANINGS[called].isSloped === true)

/** What a sum is in; null where two do not add. Plain numbers may be so many dB or degrees. */
function sumOf(a: Open, b: Open): Pick<Open, 'dimension' | 'isFree'> | null {
  if (sameDimension(a.dimension, b.dimension))
    return { dimension: a.dimension, ...(a.isFree && b.isFree && { isFree: true }) }
  if (a.isFree) return { dimension: b.dimension }
  if (b.isFree) return { dimension: a.dimension }
  const level = ({ dimension }: Open) => ['dB', '°'].includes(unitOf(dimension))
  if (level(a) && isPlain(b) && b.tree.op === 'number') return { dimension: a.dimension }
  if (level(b) && isPlain(a) && a.tree.op === 'number') return { dimension: b.dimension }
  return null
}

/** How a number that stands beside a quantity is to be written. */
function number(a: Open, b: Open): string {
  const [one, other] = a.tree.op === 'number' && isPlain(a) ? [a, b] : [b, a]
  if (one.tree.op !== 'number' || !isPlain(one)) return ''
  return `: write the number with its unit, as ${one.tree.value}${unitOf(other.dimension)}`
}

/** A power: of a quantity with a unit by a plain number alone. */
function raised(base: Open, exponent: Open, signal: Signal): Open {
  if (!isPlain(exponent)) throw refused(signal, `an exponent is a plain number, not in ${unitOf(exponent.dimension)}`)
  const { tree } = exponent
  if (tree.op !== 'number' && !isPlain(base))
    throw refused(signal, `a quantity in ${unitOf(base.dimension)} is raised to a plain number alone`)
  const dimension = tree.op === 'number' ? productOf(PLAIN, base.dimension, tree.value) : PLAIN
  if (base.tree.op === 'number' && tree.op === 'number')
    return { tree: { op: 'number', value: base.tree.value ** tree.value }, dimension }
  return { tree: { op: '^', args: [base.tree, tree] }, dimension }
}

/** Two trees under an operator; combinations of unknowns that answer one drive stay one combination. */
function joined(op: '+' | '-' | '*' | '/', a: OpenTree, b: OpenTree): OpenTree {
  if (a.op === 'number' && b.op === 'number') return { op: 'number', value: real[METHODS[op]](a.value, b.value) }
  if (op === '+' || op === '-') {
    const isFree = (tree: OpenTree & { op: 'open' }) => tree.leaf.references === undefined
    if (isSummed(a) && isSummed(b) && isFree(a) && isFree(b) && sameDrive(a.leaf.drive, b.leaf.drive))
      return open(sum(a.leaf, scaled(b.leaf, op === '+' ? 1 : -1)))
  } else if (b.op === 'number' && isSummed(a)) return open(scaled(a.leaf, op === '*' ? b.value : 1 / b.value))
  else if (op === '*' && a.op === 'number' && isSummed(b)) return open(scaled(b.leaf, a.value))
  return { op, args: [a, b] }
}

/** A combination of unknowns as it stands. */
const isSummed = (tree: OpenTree): tree is OpenTree & { op: 'open' } =>
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
  sameDrive(a.drive, b.drive) &&
  JSON.stringify(a.references) === JSON.stringify(b.references)
