import type { Mna, NoiseTerm, Probe, StoreTerm } from './mna.js'
import type { OperatingPoint } from './operatingPoint.js'
import { operatingPoint } from './operatingPoint.js'
import { GROUND, type StoragePlace } from '../circuit/parts/PartKind.js'
import { doubtsOf } from './doubts.js'
import { addToSlots, withDevice } from './mna.js'

/**
 * The linear circuit that a circuit is for small signals around its operating point; a linear one is its own. Its warnings
 * name the devices whose models do not hold there.
 */
export function smallSignal(mna: Mna, point?: OperatingPoint): Mna {
  if (mna.devices.length === 0) return mna
  const at = point ?? operatingPoint(mna)
  const { devices } = at
  const g = mna.g.slice()
  let { summands } = mna
  const c = mna.c.slice()
  const currents = new Map(mna.currents)
  const places: StoragePlace[] = [...mna.places]
  const stores: StoreTerm[] = [...mna.stores]
  const noises: NoiseTerm[] = [...mna.noises]
  for (const { placed, u, state } of devices) {
    for (const [from, to, density, flicker = 0] of placed.device.noise(u, state))
      noises.push({ element: placed.element, from, to, density, flicker })
    addToSlots(g, placed.current, state.conductance)
    summands = withDevice(summands, placed.current, state.conductance)
    addToSlots(c, placed.charge, state.capacitance)
    const { controls, flows } = placed.device
    const terms: [number, number, number][] = []
    for (const [flow, sign] of placed.pinCurrent ?? []) {
      controls.forEach((pair, j) => {
        const e = flow * controls.length + j
        const [dg, dc] = [sign * state.conductance[e], sign * state.capacitance[e]]
        if (dg === 0 && dc === 0) return
        if (pair[0] !== GROUND) terms.push([pair[0], dg, dc])
        if (pair[1] !== GROUND) terms.push([pair[1], -dg, -dc])
      })
    }
    if (placed.pinCurrent) currents.set(placed.element, merged(terms))
    // Each flow and each control voltage that stores anything becomes a place.
    const placeOf = ([plus, minus]: readonly [number, number]) => {
      const known = places.findIndex((p) => 'plus' in p && p.plus === plus && p.minus === minus)
      return known >= 0 ? known : places.push({ plus, minus }) - 1
    }
    flows.forEach((flow, f) => {
      controls.forEach((control, j) => {
        const value = state.capacitance[f * controls.length + j]
        if (value !== 0) stores.push({ at: placeOf(flow), of: placeOf(control), value })
      })
    })
  }
  const circuit = { ...mna.circuit, warnings: [...mna.circuit.warnings, ...doubtsOf(mna, at)] }
  return { ...mna, circuit, g, summands, c, currents, places, stores, noises, devices: [] }
}

/** One term a column. */
function merged(terms: readonly (readonly [number, number, number])[]): Probe {
  const sums = new Map<number, [number, number, number]>()
  for (const [column, g, c] of terms) {
    const sum = sums.get(column) ?? [column, 0, 0]
    sums.set(column, [column, sum[1] + g, sum[2] + c])
  }
  return [...sums.values()]
}
