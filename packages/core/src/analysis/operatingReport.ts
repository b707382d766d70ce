import type { Mna } from './mna.js'
import { netlistName } from './outputs.js'
import type { OperatingPoint } from './operatingPoint.js'

/** An operating point in the circuit's own names. */
export interface OperatingReport {
  /** V by net, ground left out */
  readonly nodes: Record<string, number>
  /** A into each part's first pin; in a source from its plus pin through it */
  readonly currents: Record<string, number>
  /** Region and small-signal values (S, F) of each nonlinear device. */
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
    currents[name] = placed.pinCurrent.reduce((sum, [flow, sign]) => sum + sign * state.current[flow], 0)
    described[name] = placed.device.describe(u, state)
  }
  return { nodes: Object.fromEntries(nodes.map((n, k) => [n, x[k]])), currents, devices: described }
}
