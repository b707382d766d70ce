import type { Circuit, Subcircuit } from './circuit.js'
import { resolveNets } from './flatten.js'

/** A pin of a part. */
export interface Pin {
  readonly part: string
  readonly pin: string
}

/** Which net each pin lies on, and which pins lie on each net. */
export class NetMap {
  private readonly ofPin: ReadonlyMap<string, string>
  private readonly pins = new Map<string, Pin[]>()

  /** @throws VoskelError as `resolveNets` */
  constructor(circuit: Circuit | Subcircuit) {
    this.ofPin = resolveNets(circuit)
    for (const [key, net] of this.ofPin) {
      const [part, pin] = key.split('\u0000')
      const known = this.pins.get(net)
      if (known) known.push({ part, pin })
      else this.pins.set(net, [{ part, pin }])
    }
  }

  /** Names of all nets that a pin lies on, ground's among them. */
  get nets(): readonly string[] {
    return [...this.pins.keys()]
  }

  /** The net of a pin; null where nothing is joined to it. */
  netOf(part: string, pin: string): string | null {
    return this.ofPin.get(`${part}\u0000${pin}`) ?? null
  }

  /** The nets of a part's pins, in the order of its first joints; each net once a pin. */
  netsOf(part: string): readonly string[] {
    return [...this.ofPin].flatMap(([key, net]) => (key.startsWith(`${part}\u0000`) ? [net] : []))
  }

  /** The pins on a net; empty where there is no such net. */
  pinsOf(net: string): readonly Pin[] {
    return this.pins.get(net) ?? []
  }
}
