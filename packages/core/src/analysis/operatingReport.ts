import { entriesOf } from './influence.js'
import type { Mna } from './mna.js'
import { netlistName } from './elements.js'
import type { OperatingPoint } from './operatingPoint.js'

/** An operating point in the circuit's own names. */
export interface OperatingReport {
  /** V by net, ground left out */
  readonly nodes: Record<string, number>
  /** A into each part's first pin; in a source from its plus pin through it */
  readonly currents: Record<string, number>
  /** W that each part takes up; what a source gives is negative. */
  readonly powers: Record<string, number>
  /** Region and small-signal values (S, F) of each nonlinear device, and in `doubt` why they do not hold. */
  readonly devices: Record<string, Record<string, number | string>>
}

export function operatingReport(mna: Mna, { x, devices }: OperatingPoint): OperatingReport {
  const { elements, nodes } = mna.circuit
  const currents: Record<string, number> = {}
  elements.forEach((element, k) => {
    const probe = mna.currents.get(k)
    if (probe) currents[netlistName(element)] = probe.reduce((sum, [column, g]) => sum + g * x[column], 0)
    else if (element.kind.takesWaveform) currents[element.name] = element.values.bias
  })
  const described: OperatingReport['devices'] = {}
  for (const { placed, u, state } of devices) {
    const { name } = elements[placed.element]
    if (placed.pinCurrent)
      currents[name] = placed.pinCurrent.reduce((sum, [flow, sign]) => sum + sign * state.current[flow], 0)
    const doubt = placed.device.doubt?.(u, state)
    described[name] = { ...placed.device.describe(u, state), ...(doubt && { doubt }) }
  }
  return {
    nodes: Object.fromEntries(nodes.map((n, k) => [n, x[k]])),
    currents,
    powers: powersOf(mna, { x, devices }),
    devices: described,
  }
}

/** v·i summed over all nets that a part drives current into, nets inside it included: there its currents sum to zero. */
function powersOf(mna: Mna, { x, devices }: OperatingPoint): Record<string, number> {
  const powers = mna.circuit.elements.map((_, index) => {
    let power = 0
    for (const [row, column, g] of entriesOf(mna, index)) if (isNet(mna, row)) power += x[row] * g * x[column]
    return power
  })
  for (const { row, sign, element } of mna.sources) {
    // On the right-hand side stands the current into the net.
    if (isNet(mna, row)) powers[element] -= x[row] * sign * mna.circuit.elements[element].values.bias
  }
  for (const { placed, state } of devices) {
    placed.device.flows.forEach(([from, to], f) => {
      powers[placed.element] += state.current[f] * ((from < 0 ? 0 : x[from]) - (to < 0 ? 0 : x[to]))
    })
  }
  return Object.fromEntries(mna.circuit.elements.map((e, k) => [netlistName(e), powers[k]]))
}

const isNet = (mna: Mna, row: number): boolean => mna.unknowns[row].startsWith('v(')
