import type { Part } from '../circuit.js'
import { BOLTZMANN } from '../devices/constants.js'
import type { Waveform } from '../waveforms/index.js'
import type { PartSymbol } from './PartSymbol.js'

/** Index of the ground net among the unknowns: entries in its row or column are dropped. */
export const GROUND = -1

/** One number that a part carries. */
export interface ValueField {
  readonly id: string
  readonly name: string
  /** SI unit as on screen. */
  readonly unit: string
  readonly default: number
  /**
   * What values make sense: `nonzero` (zero is an error, negative a warning), `any`, or `nonnegative-warned`
   * (zero is meaningful, negative a warning).
   */
  readonly range: 'nonzero' | 'nonnegative-warned' | 'any'
  /** A value that a named model carries for many parts, rather than each part itself. */
  readonly ofModel?: boolean
}

/**
 * Where a part writes its equations. Rows and columns are unknowns of the modified nodal analysis: node voltages, then
 * branch currents. Source: C.-W. Ho, A. E. Ruehli, P. A. Brennan, IEEE Trans. CAS-22, 1975, 504–509.
 */
export interface Stamper {
  /** Adds a conductance (or a plain factor) at (row, column). */
  entry(row: number, column: number, g: number): void
  /**
   * The part stores energy: d/dt (value · what `of` names) appears at `at`. A capacitance has one pair of nets for
   * both, an inductance one branch; a mutual inductance names two branches.
   */
  store(at: StoragePlace, of: StoragePlace, value: number): void
  /** Opens the extra unknown "current through this part", with its own row, and returns its index. */
  branch(): number
  /** The part is an independent source: `sign` times its value stands on the right-hand side of `row`. */
  source(row: number, sign: number): void
  /** The current into the first pin, as a combination of unknowns: terms [column, g, c] of (g + s·c)·x. */
  current(terms: readonly (readonly [column: number, g: number, c: number])[]): void
  /** A net inside the part, as an unknown of its own. */
  net(name: string): number
  /**
   * The current into another part's first pin, as terms of unknowns. Only for kinds with `refersToParts`, which are
   * stamped after all others.
   */
  currentOf(element: number): readonly (readonly [column: number, g: number, c: number])[]
  /** The branch of another part, which must be of a kind; as above. */
  branchOf(element: number, kind: string): number
  /** Another part. */
  element(index: number): FlatElement
  /**
   * The part bends its currents: the device is evaluated anew at every iteration.
   *
   * @param pinCurrent the current into the part's first pin as a sum of flows; null where `current` says it already
   */
  device(device: Device, pinCurrent: PinCurrent | null): void
  /** A noise current between two nets: density, A²/Hz, and flicker, A², that stands over the frequency. */
  noise(from: number, to: number, density: number, flicker?: number): void
  /** K */
  readonly temperature: number
}

/** A pair of nets (a voltage, and the current between them) or a branch (a current, and the voltage along it). */
export type StoragePlace = { readonly plus: number; readonly minus: number } | { readonly branch: number }

/** What a device does at some voltages, written into the caller's arrays. */
export interface DeviceState {
  /** A by flow */
  readonly current: Float64Array
  /** C by flow */
  readonly charge: Float64Array
  /** ∂current/∂control, S, and ∂charge/∂control, F, by flow · controls + control */
  readonly conductance: Float64Array
  readonly capacitance: Float64Array
}

/** A current as a sum of a device's flows. */
export type PinCurrent = readonly (readonly [flow: number, sign: number])[]

/** [from, to, density A²/Hz, flicker A²] */
export type NoiseCurrent = readonly [from: number, to: number, density: number, flicker?: number]

/**
 * A nonlinear device between unknowns. Its currents run in flows from one net to another, so that charge and current
 * are conserved whatever the model says; each depends on the control voltages alone.
 */
export interface Device {
  /** Unknowns [plus, minus] whose differences are the control voltages. */
  readonly controls: readonly (readonly [plus: number, minus: number])[]
  /** Unknowns [from, to]; a positive current leaves `from` through the device. */
  readonly flows: readonly (readonly [from: number, to: number])[]
  /** Pairs of flow and control that depend on each other: currents and charges. All others have no derivative, ever. */
  readonly couplings: {
    readonly current: readonly (readonly [flow: number, control: number])[]
    readonly charge: readonly (readonly [flow: number, control: number])[]
  }
  /** Junctions, each a flow along its own control: where a search for an operating point may put a small conductance. */
  readonly junctions: readonly (readonly [flow: number, control: number])[]
  /** Currents, charges and derivatives at control voltages u, V. */
  evaluate(u: Float64Array, state: DeviceState): void
  /** The same as if nothing bounded it: of what is meant to stay within its bounds, a search may begin there. */
  evaluateUnbounded?(u: Float64Array, state: DeviceState): void
  /**
   * Draws the control voltages of an iteration back to where the model may be trusted.
   *
   * @param u wanted voltages, changed in place
   * @param last voltages of the iteration before
   * @returns true where something was changed
   */
  limit(u: Float64Array, last: Float64Array): boolean
  /** Noise currents at an operating point, as `Stamper.noise` takes them. */
  noise(u: Float64Array, state: DeviceState): readonly NoiseCurrent[]
  /** What a designer reads at an operating point: region, small-signal values (S, F), voltages. */
  describe(u: Float64Array, state: DeviceState): Record<string, number | string>
  /** A sentence on what the model does not say truly at these voltages; null where it holds. */
  doubt?(u: Float64Array, state: DeviceState): string | null
}

/** A part as an analysis sees it: names and numbers only. */
export interface FlatElement {
  /** As in the netlist; inside subcircuits `X1.R2`. */
  readonly name: string
  readonly kind: PartKind
  /** Unknown index of each pin's net; `GROUND` for ground. */
  readonly nodes: readonly number[]
  readonly values: Readonly<Record<string, number>>
  readonly waveform?: Waveform
  /** What its AC magnitude is of a sine; left out, the effective value. */
  readonly acAs?: Part['acAs']
  /** Indices of the elements that the part refers to by name. */
  readonly refs: readonly number[]
}

/** What follows the name and nodes on a netlist line, handed to the part that reads it. */
export interface CardReader {
  /** The next item as a number, or as an expression over parameters; `what` names it in the error. */
  value(what: string): number | string
  /** True when nothing is left. */
  readonly done: boolean
  /** Takes the next word if it is this one (any case). */
  take(word: string): boolean
  /** The next item if it is a number or an expression. */
  maybeValue(): number | string | undefined
  /** The next word, whatever it is; `what` names it in the error. */
  word(what: string): string
  /** `NAME=value` if one comes next; the name in lower case. */
  maybeAssignment(): { name: string; value: number | string } | undefined
  /** A waveform function such as `PULSE(…)` if one comes next. */
  maybeWaveform(): Waveform | undefined
  /** An error at the next item. */
  fail(problem: string, fix?: string): never
}

/** How a part writes what follows its name and nodes. */
export interface CardWriter {
  /** A value of the part, or its expression, as netlist text. */
  value(field: string): string
  number(value: number): string
  /** The netlist's name of another part. */
  name(part: string): string
}

/** One of the elements that stand for a part in a netlist. */
export interface NetlistElement {
  readonly letter: string
  /** What tells it from the others of the same letter. */
  readonly suffix: string
  /** Pins of the part, or names of nets inside it. */
  readonly pins: readonly string[]
  /** Letter of the element of the same part whose current controls this one. */
  readonly senses?: string
  readonly value: number
}

/** What a netlist line says of a part, besides its name and nodes. */
export interface CardContent {
  values: Record<string, number | string>
  waveform?: Waveform
  refs?: string[]
  model?: string
}

/**
 * What joins two pins at DC: a resistance of some kind, or an ideal voltage (a source, or an inductor, which is a short
 * there). Ground is written `0`.
 */
export interface DcLink {
  readonly pins: readonly [string, string]
  readonly by: 'resistance' | 'voltage'
}

/** Groups of part kinds, by what they do. */
export const PART_GROUPS = ['store', 'resist', 'drive', 'amplify', 'switch', 'join'] as const
export type PartGroup = (typeof PART_GROUPS)[number]

/** A value that a hand throws between positions, or turns along a way. */
export interface Hand {
  readonly field: string
  readonly positions?: readonly { readonly value: number; readonly name: string }[]
  readonly way?: readonly [from: number, to: number]
}

/** Pins, and what is drawn of a part. */
export interface PartShape {
  readonly pins: readonly string[]
  /** Where each pin lies from the part's centre, unrotated, in grid units; y points down. */
  readonly pinPlaces: Readonly<Record<string, readonly [x: number, y: number]>>
  readonly symbol: PartSymbol
  /** Which way a signal takes through it; left out, any way between its pins. */
  readonly flow?: { readonly in: readonly string[]; readonly out: readonly string[] }
}

/**
 * A kind of part. Each stands in a file of its own and in the list of index.ts: pins, values, equations and netlist
 * form together, so that a new kind is one file and one line.
 */
export interface PartKind extends PartShape {
  readonly id: string
  readonly name: string
  /** First letter of its names. */
  readonly letter: string
  /** What it does, for whoever looks for it. */
  readonly group: PartGroup
  /** What a person calls it, besides its name; in lower case. */
  readonly words?: readonly string[]
  /** Where a circuit comes to it and goes on from it; left out, its first pin and its last. */
  readonly grows?: {
    readonly from: string
    readonly to: string
    /** Of a transistor, which is controlled at `from`: the pins that it conducts between, the one nearer to ground first. */
    readonly across?: readonly [lower: string, upper: string]
  }
  /** Pins that are joined to each other until somebody says otherwise. */
  readonly usuallyJoined?: readonly (readonly [string, string])[]
  /** It usually stands between the net and ground. */
  readonly usuallyToGround?: boolean
  /** What a part looks like whose pins are its own: left out, all parts of the kind look as the kind says. */
  shapeFor?(part: Pick<Part, 'pins'>): PartShape
  /** The symbol at some values, where they show on it; of the same outline. */
  symbolFor?(values: Readonly<Record<string, number>>): PartSymbol
  readonly values: readonly ValueField[]
  /** The field that a drawing shows and a person types on the part. */
  readonly mainValue?: string
  /** What a hand sets on the part itself. */
  readonly hand?: Hand
  /** What a drawing says instead of a main value that is only there because a number must be; null for others. */
  readonly valueWord?: (value: number) => string | null
  readonly takesWaveform?: boolean
  /** What a drawing says of a part that has no main value; null for nothing. */
  describe?(part: Part, values: Readonly<Record<string, number>>): string | null
  /** Sensitivities are asked to the main value: it is what a filter is made of. */
  readonly sensitive?: boolean
  /** How its pins hang together at DC; none where it is open there. */
  readonly dcLinks?: readonly DcLink[]
  /** Values, SI, between which the main value is nothing to wonder about. */
  readonly usual?: readonly [least: number, most: number]
  /** Pins that are joined where it is set aside as a short; left out, both of two. */
  readonly bridged?: readonly [string, string]
  /** Pins that may stay open, with the net that they then lie on. */
  readonly optionalPins?: Readonly<Record<string, string>>
  /** What is wrong with a set of values that are each allowed; null where nothing is. */
  check?(values: Readonly<Record<string, number>>): { problem: string; fix: string } | null
  /**
   * What is wrong with some parts of the kind together, each allowed by itself; null where nothing is.
   *
   * @param parts every part of the kind in a circuit
   * @param elements all parts, by the indices of `refs`
   */
  checkTogether?(
    parts: readonly FlatElement[],
    elements: readonly FlatElement[],
  ): { part: string; problem: string; fix: string } | null
  /** How many other parts it names: coupled inductors, or the source whose current controls it. */
  readonly refersToParts?: number
  /** Its `.model` type, such as `NPN`, where parts of the kind share named models. */
  readonly modelType?: string
  /**
   * What values of published models mean that are not offered here and change what a circuit does, by name; others say how a
   * part is made, drawn or rated.
   */
  readonly notOffered?: Readonly<Record<string, string>>
  stamp(s: Stamper, element: FlatElement): void
  /** The elements that stand for the part in a netlist, where its own line would not say everything; null where it does. */
  netlist?(values: Readonly<Record<string, number>>): readonly NetlistElement[] | null
  /** Values that a netlist has no words for: an export says which it leaves out. */
  readonly notInNetlist?: readonly string[]
  /** The netlist form after name and nodes; absent where the netlist writes the part as a subcircuit or not at all. */
  readonly card?: {
    read(reader: CardReader): CardContent
    write(part: Part, writer: CardWriter): string
  }
}

/** The pins that a part of a kind joins where it is set aside as a short; null of one that cannot be. */
export const shortedPins = ({ pins, bridged }: PartKind): readonly string[] | null =>
  bridged ?? (pins.length === 2 ? pins : null)

/** Stamps a conductance between two nets. */
export function stampConductance(s: Stamper, a: number, b: number, g: number): void {
  s.entry(a, a, g)
  s.entry(b, b, g)
  s.entry(a, b, -g)
  s.entry(b, a, -g)
}

/** Opens the branch of a part between two nets, its current flowing from the first to the second. */
export function stampBranch(s: Stamper, a: number, b: number): number {
  const k = s.branch()
  s.entry(a, k, 1)
  s.entry(b, k, -1)
  s.entry(k, a, 1)
  s.entry(k, b, -1)
  s.current([[k, 1, 0]])
  return k
}

/** The netlist form of a part with one number. */
export function oneValueCard(field: string, what: string): NonNullable<PartKind['card']> {
  return {
    read: (reader) => ({ values: { [field]: reader.value(what) } }),
    write: (_part, writer) => writer.value(field),
  }
}

/** The netlist form of a part that names the source whose current controls it, then one number. */
export function oneRefCard(field: string, what: string): NonNullable<PartKind['card']> {
  return {
    read(reader) {
      const refs = [reader.word('the source whose current controls it')]
      return { refs, values: { [field]: reader.value(what) } }
    },
    write: (part, writer) => [...(part.refs ?? []).map((r) => writer.name(r)), writer.value(field)].join(' '),
  }
}

/** The netlist form of a part with a named model, then `NAME=value` for what is its own. */
export function modelCard(own: readonly string[]): NonNullable<PartKind['card']> {
  return {
    read(reader) {
      const model = reader.word('the name of its model').toLowerCase()
      const values: Record<string, number | string> = {}
      while (!reader.done) {
        const given = reader.maybeAssignment()
        if (given && own.includes(given.name)) values[given.name] = given.value
        else if (!given && own[0] === 'area' && values.area === undefined) values.area = reader.value('the area factor')
        else
          return reader.fail(
            'This is not a value of such a part.',
            `Its own values are: ${own.map((n) => `${n.toUpperCase()}=…`).join(' ')}.`,
          )
      }
      return { model, values }
    },
    write(part, writer) {
      const given = own.filter((n) => part.values[n] !== undefined || part.formulas?.[n] !== undefined)
      return [part.model, ...given.map((n) => `${n.toUpperCase()}=${writer.value(n)}`)].join(' ')
    },
  }
}

/** A field that a named model carries. */
export const modelField = (
  id: string,
  name: string,
  unit: string,
  value: number,
  range: ValueField['range'] = 'any',
): ValueField => ({ id, name, unit, default: value, range, ofModel: true })

/** A field of a real part's model: 0 stands for what an ideal one lacks. */
export const realField = (id: string, name: string, unit: string): ValueField =>
  modelField(id, name, unit, 0, 'nonnegative-warned')

/** Flicker noise of a device: kf·I^af/f (common practice, no source). */
export const FLICKER_FIELDS: readonly ValueField[] = [
  modelField('kf', 'Flicker noise coefficient', '', 0),
  modelField('af', 'Flicker noise exponent', '', 1),
]

/** A resistance with its thermal noise. */
export function stampResistance(s: Stamper, a: number, b: number, resistance: number): void {
  stampConductance(s, a, b, 1 / resistance)
  s.noise(a, b, thermalNoise(1 / resistance, s.temperature))
}

/** A resistance between a pin and the device proper; returns the inner net, the pin itself where there is none. */
export function stampSeries(s: Stamper, pin: number, resistance: number, name: string): number {
  if (resistance === 0) return pin
  const inner = s.net(name)
  stampResistance(s, pin, inner, resistance)
  return inner
}

/** 4·k·T·g, A²/Hz. Source: H. Nyquist, Phys. Rev. 32, 1928, 110–113. */
export const thermalNoise = (conductance: number, temperature: number): number =>
  4 * BOLTZMANN * temperature * Math.abs(conductance)

/** The DC links of a part that is a resistance, or an ideal voltage, between its first two pins. */
export const linked = (by: DcLink['by'], ...pins: readonly (readonly [string, string])[]): readonly DcLink[] =>
  pins.map((pair) => ({ pins: pair, by }))

/** Gain of an amplifier that is meant to be ideal. */
export const IDEAL_OPAMP_GAIN = 1e8

/** What a drawing says of a gain that only stands for an ideal amplifier. */
export const idealWord = (gain: number): string | null => (Math.abs(gain) >= IDEAL_OPAMP_GAIN ? 'ideal' : null)
