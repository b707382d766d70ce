import { flatten, type FlatCircuit } from '../circuit/flatten.js'
import type { Circuit } from '../circuit/circuit.js'
import { findVoltageLoop } from '../circuit/checks/voltageLoop.js'
import { NOMINAL_TEMPERATURE } from '../circuit/devices/constants.js'
import {
  type Device,
  type FlatElement,
  GROUND,
  type PinCurrent,
  type Stamper,
  type StoragePlace,
} from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type Pattern, PatternBuilder } from '../numeric/sparse/pattern.js'

/** An independent source among the equations: `sign` times its value on the right-hand side of `row`. */
export interface SourceTerm {
  readonly row: number
  readonly sign: number
  /** Index into `elements`. */
  readonly element: number
}

/** A wanted quantity as Σ (g + s·c)·x[column]. */
export type Probe = readonly (readonly [column: number, g: number, c: number])[]

/** d/dt (value · quantity of place `of`) at place `at`; indices into `places`. */
export interface StoreTerm {
  readonly at: number
  readonly of: number
  readonly value: number
}

/** A noise current between two unknowns. */
export interface NoiseTerm {
  /** Index into `elements`. */
  readonly element: number
  readonly from: number
  readonly to: number
  /** A²/Hz at every frequency */
  readonly density: number
  /** A²: stands over the frequency */
  readonly flicker: number
}

/** Values and the slots that they are added to. */
export interface Summands {
  readonly slots: readonly number[]
  readonly values: readonly number[]
}

/** A nonlinear device among the equations. */
export interface PlacedDevice {
  readonly device: Device
  /** Index into `elements`. */
  readonly element: number
  /** The current into the part's first pin; null where the linear equations have it. */
  readonly pinCurrent: PinCurrent | null
  /** Where the derivatives of its currents and of its charges stand. */
  readonly current: Placement
  readonly charge: Placement
}

/** Where derivatives of a device stand among the entries: `source` indexes its own arrays, by flow · controls + control. */
export interface Placement {
  readonly source: Int32Array
  /** Slots of (from, plus), (from, minus), (to, plus), (to, minus), at 4·k, signs + − − +; −1 where ground takes part. */
  readonly slots: Int32Array
}

/**
 * The equations of a circuit: (G + s·C)·x + device currents = b, x = node voltages then inner voltages and branch
 * currents; entries by slot of `pattern`, those of devices included with what is linear in them.
 * Source: C.-W. Ho, A. E. Ruehli, P. A. Brennan, IEEE Trans. CAS-22, 1975, 504–509.
 */
export interface Mna {
  readonly circuit: FlatCircuit
  readonly size: number
  /** Names of the unknowns as errors say them: `v(out)`, `i(L1)`. */
  readonly unknowns: readonly string[]
  readonly pattern: Pattern
  readonly g: Float64Array
  /** What `g` is the rounded sum of: where conductances cancel, what is rounded off decides. */
  readonly summands: Summands
  readonly c: Float64Array
  readonly sources: readonly SourceTerm[]
  /** The current into each element's first pin; absent where it has none of its own (independent current sources). */
  readonly currents: ReadonlyMap<number, Probe>
  readonly places: readonly StoragePlace[]
  readonly stores: readonly StoreTerm[]
  readonly devices: readonly PlacedDevice[]
  readonly noises: readonly NoiseTerm[]
  /** The branch unknown of each element that has one. */
  readonly branches: ReadonlyMap<number, number>
  /** K */
  readonly temperature: number
}

/**
 * Writes down the equations of a circuit. Errors are those of `flatten`, `FLOATING_NET` and `VOLTAGE_LOOP`.
 *
 * @param options.temperature K; 27 °C when left out
 */
export function formulate(circuit: Circuit | FlatCircuit, options: { temperature?: number } = {}): Mna {
  const flat = 'elements' in circuit ? circuit : flatten(circuit)
  refuseFloatingNets(flat)
  // Inductors in a loop of voltages are sound away from DC, where the search for an operating point will meet them.
  const loop = findVoltageLoop(flat, (kind) => kind !== 'inductor')
  if (loop) throw new VoskelError('VOLTAGE_LOOP', { parts: loop }, { part: loop.at(-1) })
  const sheet = new Sheet(flat, options.temperature ?? NOMINAL_TEMPERATURE)
  // What refers to other parts comes when their branches are known.
  for (const refers of [false, true]) {
    flat.elements.forEach((element, k) => {
      if ((element.kind.refersToParts !== undefined) !== refers) return
      sheet.place = k
      element.kind.stamp(sheet, element)
    })
  }
  return sheet.finish()
}

class Sheet implements Stamper {
  place = 0
  private readonly builder = new PatternBuilder()
  private readonly g: number[] = []
  private readonly summands = { slots: [] as number[], values: [] as number[] }
  private readonly c: number[] = []
  private readonly unknowns: string[]
  private readonly sources: SourceTerm[] = []
  private readonly currents = new Map<number, Probe>()
  private readonly branches = new Map<number, number>()
  private readonly places: StoragePlace[] = []
  private readonly placeIndex = new Map<string, number>()
  private readonly stores: StoreTerm[] = []
  private readonly devices: PlacedDevice[] = []
  private readonly noises: NoiseTerm[] = []

  constructor(
    private readonly flat: FlatCircuit,
    readonly temperature: number,
  ) {
    this.unknowns = flat.nodes.map((n) => `v(${n})`)
  }

  entry(row: number, column: number, g: number): void {
    const slot = this.slot(row, column)
    if (slot < 0) return
    this.g[slot] += g
    this.summands.slots.push(slot)
    this.summands.values.push(g)
  }

  branch(): number {
    const branch = this.unknowns.push(`i(${this.flat.elements[this.place].name})`) - 1
    this.branches.set(this.place, branch)
    return branch
  }

  net(name: string): number {
    return this.unknowns.push(`v(${this.flat.elements[this.place].name}:${name})`) - 1
  }

  source(row: number, sign: number): void {
    if (row !== GROUND) this.sources.push({ row, sign, element: this.place })
  }

  current(terms: Probe): void {
    this.currents.set(
      this.place,
      terms.filter(([column]) => column !== GROUND),
    )
  }

  currentOf(element: number): Probe {
    // The whole current, what flows beside the branch of a real part included.
    const current = this.branches.has(element) ? this.currents.get(element) : undefined
    if (current) return current
    throw this.wrongReference(element, 'a part whose current is an unknown, such as a voltage source')
  }

  branchOf(element: number, kind: string): number {
    const branch = this.branches.get(element)
    if (branch !== undefined && this.flat.elements[element].kind.id === kind) return branch
    throw this.wrongReference(element, `an ${kind}`)
  }

  element(index: number): FlatElement {
    return this.flat.elements[index]
  }

  store(at: StoragePlace, of: StoragePlace, value: number): void {
    if (value === 0) return
    this.stores.push({ at: this.placeOf(at), of: this.placeOf(of), value })
    for (const [row, rowSign] of placeTerms(at)) {
      for (const [column, sign] of placeTerms(of)) {
        const slot = this.slot(row, column)
        // The branch row reads v(a) − v(b) − d(flux)/dt = 0.
        if (slot >= 0) this.c[slot] += ('branch' in at ? -1 : rowSign * sign) * value
      }
    }
  }

  noise(from: number, to: number, density: number, flicker = 0): void {
    if (density !== 0 || flicker !== 0) this.noises.push({ element: this.place, from, to, density, flicker })
  }

  device(device: Device, pinCurrent: PinCurrent | null): void {
    const placed = (pairs: readonly (readonly [flow: number, control: number])[]): Placement => ({
      source: Int32Array.from(pairs, ([flow, control]) => flow * device.controls.length + control),
      slots: Int32Array.from(
        pairs.flatMap(([flow, control]) =>
          device.flows[flow].flatMap((row) => device.controls[control].map((column) => this.slot(row, column))),
        ),
      ),
    })
    const { current, charge } = device.couplings
    this.devices.push({ device, element: this.place, pinCurrent, current: placed(current), charge: placed(charge) })
  }

  finish(): Mna {
    const size = this.unknowns.length
    return {
      circuit: this.flat,
      size,
      unknowns: this.unknowns,
      pattern: this.builder.build(size),
      g: Float64Array.from(this.g),
      summands: this.summands,
      c: Float64Array.from(this.c),
      sources: this.sources,
      currents: this.currents,
      places: this.places,
      stores: this.stores,
      devices: this.devices,
      noises: this.noises,
      branches: this.branches,
      temperature: this.temperature,
    }
  }

  private slot(row: number, column: number): number {
    if (row === GROUND || column === GROUND) return -1
    const slot = this.builder.slot(row, column)
    if (slot === this.g.length) {
      this.g.push(0)
      this.c.push(0)
    }
    return slot
  }

  private placeOf(place: StoragePlace): number {
    const key = 'branch' in place ? `${place.branch}` : `${place.plus},${place.minus}`
    let index = this.placeIndex.get(key)
    if (index === undefined) {
      index = this.places.push(place) - 1
      this.placeIndex.set(key, index)
    }
    return index
  }

  private wrongReference(index: number, wanted: string): VoskelError {
    const part = this.flat.elements[this.place].name
    const problem = `${part} refers to ${this.flat.elements[index].name}, which is not ${wanted}.`
    return new VoskelError('CIRCUIT_INVALID', { problem, fix: `Name ${wanted}.` }, { part })
  }
}

/** The unknowns of a place with their signs; ground is left out by whoever looks for slots. */
export function placeTerms(place: StoragePlace): readonly (readonly [unknown: number, sign: number])[] {
  if ('branch' in place) return [[place.branch, 1]]
  return [
    [place.plus, 1],
    [place.minus, -1],
  ]
}

/** Adds a device's derivatives to the entries that they stand in. */
export function addToSlots(values: Float64Array, { source, slots }: Placement, derivatives: Float64Array): void {
  for (let k = 0; k < source.length; k++) {
    const d = derivatives[source[k]]
    const at = 4 * k
    if (slots[at] >= 0) values[slots[at]] += d
    if (slots[at + 1] >= 0) values[slots[at + 1]] -= d
    if (slots[at + 2] >= 0) values[slots[at + 2]] -= d
    if (slots[at + 3] >= 0) values[slots[at + 3]] += d
  }
}

/** The summands of conductances with those of a device. */
export function withDevice(
  { slots, values }: Summands,
  { source, slots: places }: Placement,
  derivatives: Float64Array,
): Summands {
  const sum = { slots: [...slots], values: [...values] }
  places.forEach((slot, k) => {
    if (slot < 0) return
    const d = derivatives[source[k >> 2]]
    sum.slots.push(slot)
    sum.values.push(k % 4 === 0 || k % 4 === 3 ? d : -d)
  })
  return sum
}

/** Every net must hang together with ground through some part; what does not is named before any numbers are tried. */
function refuseFloatingNets(flat: FlatCircuit): void {
  const parent = Int32Array.from({ length: flat.nodes.length + 1 }, (_, k) => k)
  const find = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]]
    return k
  }
  // Ground has index 0 here, net k has k + 1.
  for (const { nodes } of flat.elements) {
    for (const n of nodes) parent[find(n + 1)] = find(nodes[0] + 1)
  }
  const floating = flat.nodes.filter((_, k) => find(k + 1) !== find(0))
  if (floating.length > 0) {
    const shown = floating.slice(0, 10)
    throw new VoskelError('FLOATING_NET', { nets: shown }, { net: shown[0] })
  }
}
