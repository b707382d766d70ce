import type { Mna } from './mna.js'
import { netlistName } from './elements.js'
import type { OperatingPoint } from './operatingPoint.js'

/**
 * What the devices' models do not say truly at an operating point, one sentence a device: every result that rests on it is
 * to be marked by them.
 */
export function doubtsOf(mna: Mna, { devices }: OperatingPoint): string[] {
  return devices.flatMap(({ placed, u, state }) => {
    const doubt = placed.device.doubt?.(u, state)
    return doubt ? [`${netlistName(mna.circuit.elements[placed.element])}: ${doubt}`] : []
  })
}
