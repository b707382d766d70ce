import type { Circuit, End, Subcircuit } from './circuit.js'
import { resolveNets } from './flatten.js'

/** A pin of a part. */
export interface Pin {
  readonly part: string
  readonly pin: string
}

/** Which net each pin lies on, and which pins lie on each net. */
export class NetMap {
  private readonly ofPin: ReadonlyMap<string, string>
  private ofJunction: ReadonlyMap<string, string> | null = null
  private readonly pins = new Map<string, Pin[]>()

  private static readonly known = new WeakMap<Circuit['wires'], NetMap>()

  /**
   * The nets of a circuit, worked out once: circuits do not change, and another value joins nothing else.
   *
   * @throws VoskelError as `resolveNets`
   */
  static of(circuit: Circuit): NetMap {
    const known = NetMap.known.get(circuit.wires)
    if (known && isJoinedAlike(known.circuit, circuit)) return known
    const made = new NetMap(circuit)
    NetMap.known.set(circuit.wires, made)
    return made
  }

  /** @throws VoskelError as `resolveNets` */
  constructor(private readonly circuit: Circuit | Subcircuit) {
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

  /** The net of an end of a wire or label; null for a junction that no wire joins to a pin. */
  netAt(end: End): string | null {
    return 'part' in end ? this.netOf(end.part, end.pin) : (this.netsOfJunctions().get(end.junction) ?? null)
  }

  private netsOfJunctions(): ReadonlyMap<string, string> {
    if (this.ofJunction) return this.ofJunction
    const found = new Map<string, string>()
    const named = new Map<string, string>()
    const netOf = (end: End) => ('part' in end ? this.netOf(end.part, end.pin) : (found.get(end.junction) ?? null))
    const learn = (end: End, net: string) => {
      if ('junction' in end) found.set(end.junction, net)
    }
    // What one end of a wire, or one place of a name, knows goes over to the others, until nothing is new.
    let wires = this.circuit.wires
    let labels = this.circuit.labels
    for (let before = -1; before !== wires.length + labels.length;) {
      before = wires.length + labels.length
      wires = wires.filter(({ ends }) => {
        const net = netOf(ends[0]) ?? netOf(ends[1])
        if (net === null) return true
        for (const end of ends) learn(end, net)
        return false
      })
      labels = labels.filter(({ name, end }) => {
        const net = netOf(end) ?? named.get(name) ?? null
        if (net === null) return true
        named.set(name, net)
        learn(end, net)
        return false
      })
    }
    this.ofJunction = found
    return found
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

/** Whether two circuits with the same wires have the same nets. */
function isJoinedAlike(a: Circuit | Subcircuit, b: Circuit): boolean {
  if (a.junctions !== b.junctions || a.labels !== b.labels || a.parts.length !== b.parts.length) return false
  return a.parts === b.parts || a.parts.every(({ id, kind }, k) => id === b.parts[k].id && kind === b.parts[k].kind)
}
