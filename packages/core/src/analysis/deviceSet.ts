import { type DeviceState, GROUND } from '../circuit/parts/PartKind.js'
import { addToSlots, type Mna, type PlacedDevice, type Placement } from './mna.js'

/** A conductance that stays across every junction, S: what a reverse-biased junction has at the least. */
export const LEAST_CONDUCTANCE = 1e-15

/** A device with what it does at the present iteration. */
export interface ActiveDevice {
  readonly placed: PlacedDevice
  /** Control voltages at which `state` holds, V. */
  readonly u: Float64Array
  readonly state: DeviceState
}

/**
 * All nonlinear devices of a circuit, evaluated together: each device writes into its own window of arrays that serve
 * them all. Nothing is allocated after construction.
 */
export class DeviceSet {
  readonly active: readonly ActiveDevice[]
  /** Whether devices that can are evaluated as if nothing bounded them. */
  unbounded = false
  /** By control, all devices one after the other: voltages now and at the evaluation before, and the unknowns between. */
  private readonly u: Float64Array
  private readonly last: readonly Float64Array[]
  private readonly plus: Int32Array
  private readonly minus: Int32Array
  /** By flow. */
  private readonly from: Int32Array
  private readonly to: Int32Array
  private readonly current: Float64Array
  private readonly charge: Float64Array
  private readonly rest: Float64Array
  /** Charges that movements are counted from. */
  private readonly held: Float64Array
  private readonly kept: { readonly current: Float64Array; readonly charge: Float64Array }
  /** By device: its first flow. */
  private readonly flowAt: readonly number[]
  private readonly conductance: Float64Array
  private readonly capacitance: Float64Array
  private readonly linearized: { readonly conductance: Float64Array; readonly capacitance: Float64Array }
  private readonly conductances: Couplings
  private readonly capacitances: Couplings
  private readonly junctions: Pairs

  constructor(mna: Mna) {
    const devices = mna.devices.map(({ device }) => device)
    const controls = devices.flatMap((d) => d.controls)
    const flows = devices.flatMap((d) => d.flows)
    const derivatives = devices.reduce((sum, d) => sum + d.flows.length * d.controls.length, 0)
    this.u = new Float64Array(controls.length)
    this.plus = Int32Array.from(controls, ([plus]) => plus)
    this.minus = Int32Array.from(controls, ([, minus]) => minus)
    this.from = Int32Array.from(flows, ([from]) => from)
    this.to = Int32Array.from(flows, ([, to]) => to)
    this.current = new Float64Array(flows.length)
    this.charge = new Float64Array(flows.length)
    this.rest = new Float64Array(flows.length)
    this.held = new Float64Array(flows.length)
    this.kept = { current: new Float64Array(flows.length), charge: new Float64Array(flows.length) }
    this.conductance = new Float64Array(derivatives)
    this.capacitance = new Float64Array(derivatives)
    this.linearized = { conductance: new Float64Array(derivatives), capacitance: new Float64Array(derivatives) }
    const places: Place[] = []
    let [control, flow, derivative] = [0, 0, 0]
    this.active = mna.devices.map((placed) => {
      const [nu, nf] = [placed.device.controls.length, placed.device.flows.length]
      const window = (of: Float64Array, from: number, length: number) => of.subarray(from, from + length)
      places.push({ control, flow, derivative, controls: nu })
      const active = {
        placed,
        u: window(this.u, control, nu),
        state: {
          current: window(this.current, flow, nf),
          charge: window(this.charge, flow, nf),
          conductance: window(this.conductance, derivative, nf * nu),
          capacitance: window(this.capacitance, derivative, nf * nu),
        },
      }
      control += nu
      flow += nf
      derivative += nf * nu
      return active
    })
    this.flowAt = places.map(({ flow }) => flow)
    this.last = this.active.map(({ u }) => new Float64Array(u.length))
    const joined = (pairs: (placed: PlacedDevice) => readonly (readonly [flow: number, control: number])[]) =>
      joinedPairs(mna.devices.map(pairs), places)
    const slots = (placements: readonly Placement[]) => Int32Array.from(placements.flatMap((p) => [...p.slots]))
    const { devices: placed } = mna
    this.conductances = { ...joined((d) => d.device.couplings.current), slots: slots(placed.map((d) => d.current)) }
    this.capacitances = { ...joined((d) => d.device.couplings.charge), slots: slots(placed.map((d) => d.charge)) }
    this.junctions = joined((d) => d.device.junctions)
  }

  /**
   * Evaluates every device at the voltages of x.
   *
   * @param limited whether steps from the last evaluation are damped
   * @param gmin conductance across junctions, S, besides the least one
   * @returns index of the first device that was damped, or −1
   */
  evaluate(x: Float64Array, limited: boolean, gmin = 0): number {
    this.read(x)
    let damped = -1
    const g = LEAST_CONDUCTANCE + gmin
    for (let k = 0; k < this.active.length; k++) {
      const { placed, u, state } = this.active[k]
      const { device } = placed
      const last = this.last[k]
      const isFree = this.unbounded && device.evaluateUnbounded !== undefined
      if (limited && !isFree && device.limit(u, last) && damped < 0) damped = k
      for (let j = 0; j < u.length; j++) last[j] = u[j]
      if (isFree) device.evaluateUnbounded!(u, state)
      else device.evaluate(u, state)
    }
    const { flow, control, source } = this.junctions
    for (let j = 0; j < source.length; j++) {
      this.current[flow[j]] += g * this.u[control[j]]
      this.conductance[source[j]] += g
    }
    return damped
  }

  /** Takes the voltages of x as those from which steps are damped. */
  startFrom(x: Float64Array): void {
    this.read(x)
    for (let k = 0; k < this.active.length; k++) this.last[k].set(this.active[k].u)
  }

  /** Adds the devices' derivatives to the entries of G and C, and keeps them for `changed`. */
  linearize(g: Float64Array, c: Float64Array): void {
    addToSlots(g, this.conductances, this.conductance)
    addToSlots(c, this.capacitances, this.capacitance)
    this.linearized.conductance.set(this.conductance)
    this.linearized.capacitance.set(this.capacitance)
  }

  /**
   * How much derivatives are no longer what they were when last linearized: the largest difference, against the larger of both.
   *
   * @param least S; a smaller difference does not count, nor one of α times a capacitance
   */
  changed(alpha: number, least: number): number {
    const { conductance, capacitance } = this.linearized
    return Math.max(
      largestChange(this.conductances.source, conductance, this.conductance, least),
      largestChange(this.capacitances.source, capacitance, this.capacitance, least / alpha),
    )
  }

  /**
   * Takes from the right-hand side what the straight lines through the present point leave at zero voltage:
   * i − g·u, and α·(q − c·u).
   */
  offset(b: Float64Array, alpha: number): void {
    const { rest, u } = this
    for (let f = 0; f < rest.length; f++) rest[f] = this.current[f] + alpha * this.charge[f]
    addProducts(rest, this.conductances, this.conductance, u, -1)
    if (alpha !== 0) addProducts(rest, this.capacitances, this.capacitance, u, -alpha)
    this.spread(rest, b, -1)
  }

  /** Carries charges, and currents where they are wanted, along their straight lines to the voltages of x. */
  carryTo(x: Float64Array, currents: boolean): void {
    const { u, plus, minus } = this
    for (let j = 0; j < u.length; j++) u[j] = at(x, plus[j]) - at(x, minus[j]) - u[j]
    if (currents) addProducts(this.current, this.conductances, this.conductance, u, 1)
    addProducts(this.charge, this.capacitances, this.capacitance, u, 1)
    this.read(x)
  }

  /** Takes i + α·(q − held) by row from what the equations still lack. */
  takeFlows(residual: Float64Array, alpha: number): void {
    const { rest, held } = this
    for (let f = 0; f < rest.length; f++) rest[f] = this.current[f] + alpha * (this.charge[f] - held[f])
    this.spread(rest, residual, -1)
  }

  /** Keeps what the devices do at present, so that `recall` brings it back. */
  remember(): void {
    this.kept.current.set(this.current)
    this.kept.charge.set(this.charge)
  }

  recall(): void {
    this.current.set(this.kept.current)
    this.charge.set(this.kept.charge)
  }

  /** Charges are counted from the present ones on. */
  holdCharges(): void {
    this.held.set(this.charge)
  }

  /** Adds by row what the devices' charges have moved by. */
  addChargesMoved(q: Float64Array): void {
    const { rest, held } = this
    for (let f = 0; f < rest.length; f++) rest[f] = this.charge[f] - held[f]
    this.spread(rest, q, 1)
  }

  /** What the charge that has flowed into a device's first pin has moved by. */
  pinChargeMoved(device: number): number {
    const from = this.flowAt[device]
    const pin = this.active[device].placed.pinCurrent ?? []
    return pin.reduce((sum, [flow, sign]) => sum + sign * (this.charge[from + flow] - this.held[from + flow]), 0)
  }

  private read(x: Float64Array): void {
    const { u, plus, minus } = this
    for (let j = 0; j < u.length; j++) u[j] = at(x, plus[j]) - at(x, minus[j])
  }

  private spread(byFlow: Float64Array, byRow: Float64Array, sign: number): void {
    const { from, to } = this
    for (let f = 0; f < byFlow.length; f++) {
      if (from[f] !== GROUND) byRow[from[f]] += sign * byFlow[f]
      if (to[f] !== GROUND) byRow[to[f]] -= sign * byFlow[f]
    }
  }
}

/** Where a device's window begins, by control, flow and derivative. */
interface Place {
  readonly control: number
  readonly flow: number
  readonly derivative: number
  readonly controls: number
}

/** Pairs of flow and control, and where in all derivatives theirs stands. */
interface Pairs {
  readonly flow: Int32Array
  readonly control: Int32Array
  readonly source: Int32Array
}

/** All derivatives of one kind, with the entries of the equations that they stand in. */
type Couplings = Pairs & Placement

function joinedPairs(
  pairs: readonly (readonly (readonly [flow: number, control: number])[])[],
  places: readonly Place[],
): Pairs {
  const all = pairs.flatMap((own, k) =>
    own.map(([flow, control]) => {
      const place = places[k]
      return {
        flow: place.flow + flow,
        control: place.control + control,
        source: place.derivative + flow * place.controls + control,
      }
    }),
  )
  return {
    flow: Int32Array.from(all, (p) => p.flow),
    control: Int32Array.from(all, (p) => p.control),
    source: Int32Array.from(all, (p) => p.source),
  }
}

function largestChange(places: Int32Array, from: Float64Array, to: Float64Array, least: number): number {
  let largest = 0
  for (let k = 0; k < places.length; k++) {
    const [a, b] = [from[places[k]], to[places[k]]]
    const moved = Math.abs(a - b)
    if (moved > least && moved > largest * Math.max(Math.abs(a), Math.abs(b)))
      largest = moved / Math.max(Math.abs(a), Math.abs(b))
  }
  return largest
}

/** sums += factor·derivative·u for every coupling. */
function addProducts(
  sums: Float64Array,
  { source, flow, control }: Couplings,
  derivatives: Float64Array,
  u: Float64Array,
  factor: number,
): void {
  for (let k = 0; k < source.length; k++) sums[flow[k]] += factor * derivatives[source[k]] * u[control[k]]
}

const at = (x: Float64Array, unknown: number): number => (unknown === GROUND ? 0 : x[unknown])
