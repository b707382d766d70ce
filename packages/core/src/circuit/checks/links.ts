import type { FlatCircuit } from '../flatten.js'
import { type DcLink, GROUND } from '../parts/PartKind.js'

/** A DC link between two nets; ground is −1. */
export interface NetLink {
  readonly element: number
  readonly by: DcLink['by']
  readonly nets: readonly [number, number]
}

/** Every DC link of a circuit, part by part. */
export function dcLinks(flat: FlatCircuit): NetLink[] {
  return flat.elements.flatMap(({ kind, nodes }, element) =>
    (kind.dcLinks ?? []).map(({ pins, by }): NetLink => {
      const net = (pin: string) => (pin === '0' ? GROUND : nodes[kind.pins.indexOf(pin)])
      return { element, by, nets: [net(pins[0]), net(pins[1])] }
    }),
  )
}

/** Sets of nets that grow together. Index 0 is ground, net k has k + 1. */
export class NetSets {
  private readonly parent: Int32Array

  constructor(nets: number) {
    this.parent = Int32Array.from({ length: nets + 1 }, (_, k) => k)
  }

  find(net: number): number {
    let k = net + 1
    while (this.parent[k] !== k) k = this.parent[k] = this.parent[this.parent[k]]
    return k
  }

  /** False where the two were together already. */
  join(a: number, b: number): boolean {
    const [ra, rb] = [this.find(a), this.find(b)]
    if (ra === rb) return false
    this.parent[ra] = rb
    return true
  }
}
