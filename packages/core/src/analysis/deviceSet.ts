import { type DeviceState, GROUND } from '../circuit/parts/PartKind.js'
import { addToSlots, type Mna, type PlacedDevice } from './mna.js'

/** A conductance that stays across every junction, S: what a reverse-biased junction has at the least. */
export const LEAST_CONDUCTANCE = 1e-15

/** A device with what it does at the present iteration. */
export interface ActiveDevice {
  readonly placed: PlacedDevice
  /** Control voltages at which `state` holds, V. */
  readonly u: Float64Array
  readonly state: DeviceState
  /** Room for one number a flow. */
  readonly rest: Float64Array
}

/** All nonlinear devices of a circuit, evaluated together. Nothing is allocated after construction. */
export class DeviceSet {
  readonly active: readonly ActiveDevice[]
  private readonly last: readonly Float64Array[]

  constructor(mna: Mna) {
    this.active = mna.devices.map((placed) => {
      const flows = placed.device.flows.length
      const controls = placed.device.controls.length
      return {
        placed,
        u: new Float64Array(controls),
        rest: new Float64Array(flows),
        state: {
          current: new Float64Array(flows),
          charge: new Float64Array(flows),
          conductance: new Float64Array(flows * controls),
          capacitance: new Float64Array(flows * controls),
        },
      }
    })
    this.last = this.active.map(({ u }) => new Float64Array(u.length))
  }

  /**
   * Evaluates every device at the voltages of x.
   *
   * @param limited whether steps from the last evaluation are damped
   * @param gmin conductance across junctions, S, besides the least one
   * @returns index of the first device that was damped, or −1
   */
  evaluate(x: Float64Array, limited: boolean, gmin = 0): number {
    let damped = -1
    for (let k = 0; k < this.active.length; k++) {
      const { placed, u, state } = this.active[k]
      const { device } = placed
      for (let j = 0; j < u.length; j++) u[j] = at(x, device.controls[j][0]) - at(x, device.controls[j][1])
      if (limited && device.limit(u, this.last[k]) && damped < 0) damped = k
      this.last[k].set(u)
      device.evaluate(u, state)
      for (const [flow, control] of device.junctions) {
        const g = LEAST_CONDUCTANCE + gmin
        state.current[flow] += g * u[control]
        state.conductance[flow * u.length + control] += g
      }
    }
    return damped
  }

  /** Takes the voltages of x as those from which steps are damped. */
  startFrom(x: Float64Array): void {
    for (let k = 0; k < this.active.length; k++) {
      const { controls } = this.active[k].placed.device
      for (let j = 0; j < controls.length; j++) this.last[k][j] = at(x, controls[j][0]) - at(x, controls[j][1])
    }
  }

  /** Adds the devices' derivatives to the entries of G and C. */
  linearize(g: Float64Array, c: Float64Array): void {
    for (const { placed, state } of this.active) {
      addToSlots(g, placed.current, state.conductance)
      addToSlots(c, placed.charge, state.capacitance)
    }
  }

  /**
   * Takes from the right-hand side what the straight lines through the present point leave at zero voltage:
   * i − g·u, and α·(q − c·u).
   */
  offset(b: Float64Array, alpha: number): void {
    for (const { placed, u, state, rest } of this.active) {
      const { flows } = placed.device
      const controls = u.length
      for (let f = 0; f < flows.length; f++) rest[f] = state.current[f] + alpha * state.charge[f]
      takeLinear(placed.current.source, state.conductance, u, controls, 1, rest)
      if (alpha !== 0) takeLinear(placed.charge.source, state.capacitance, u, controls, alpha, rest)
      for (let f = 0; f < flows.length; f++) {
        const [from, to] = flows[f]
        if (from !== GROUND) b[from] -= rest[f]
        if (to !== GROUND) b[to] += rest[f]
      }
    }
  }

  /** Adds the devices' charges by row. */
  addCharges(q: Float64Array): void {
    for (const { placed, state } of this.active) {
      placed.device.flows.forEach(([from, to], f) => {
        if (from !== GROUND) q[from] += state.charge[f]
        if (to !== GROUND) q[to] -= state.charge[f]
      })
    }
  }
}

/** rest −= factor·derivative·u for every coupling. */
function takeLinear(
  source: Int32Array,
  derivatives: Float64Array,
  u: Float64Array,
  controls: number,
  factor: number,
  rest: Float64Array,
): void {
  for (let k = 0; k < source.length; k++) {
    const e = source[k]
    const flow = Math.floor(e / controls)
    rest[flow] -= factor * derivatives[e] * u[e - flow * controls]
  }
}

const at = (x: Float64Array, unknown: number): number => (unknown === GROUND ? 0 : x[unknown])
