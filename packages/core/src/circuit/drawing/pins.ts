import type { Circuit, GridPoint } from '../circuit.js'
import type { NetMap, Pin } from '../NetMap.js'
import { partShape } from '../parts/index.js'
import { placed } from './geometry.js'

/** A pin on the drawing, and what it hangs together with: its net, or itself where nothing is joined to it. */
export interface PlacedPin extends Pin {
  readonly net: string
  readonly at: GridPoint
}

/** Every pin of every part that has a place. No net has the name of a pin that nothing is joined to. */
export function placedPins(circuit: Circuit, nets: NetMap): PlacedPin[] {
  return circuit.parts.flatMap((part) => {
    if (!part.at) return []
    return Object.entries(partShape(part).pinPlaces).map(([pin, place]) => ({
      part: part.id,
      pin,
      net: nets.netOf(part.id, pin) ?? `\u0000${part.id} ${pin}`,
      at: placed(part, place),
    }))
  })
}
