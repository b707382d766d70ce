import type { Circuit, End, GridPoint, Part } from '../circuit/circuit.js'
import type { ValuePolicy } from './values.js'

type Rotation = 0 | 90 | 180 | 270

/** Half the length of a part with two pins, in grid units. */
export const HALF = 2

/** Draws a circuit while it is synthesised: parts, wires and junctions with their places on the grid. */
export class Sketch {
  private readonly parts: Part[] = []
  private readonly wires: Circuit['wires'] = []
  private readonly junctions: Circuit['junctions'] = []
  private readonly labels: Circuit['labels'] = []
  private readonly counters = new Map<string, number>()

  constructor(private readonly values: ValuePolicy) {}

  /** The next free name with this letter: C1, C2, … */
  name(letter: string): string {
    let next = (this.counters.get(letter) ?? 0) + 1
    while (this.parts.some((p) => p.id === `${letter}${next}`)) next++
    this.counters.set(letter, next)
    return `${letter}${next}`
  }

  part(id: string, kind: string, values: Part['values'], x: number, y: number, rotation: Rotation = 0): string {
    this.parts.push({ id, kind, values, at: { x, y, rotation } })
    return id
  }

  /** A part whose computed value is taken to an allowed one; `chosen` overrides which. */
  valued(
    id: string,
    kind: string,
    field: string,
    computed: number,
    place: [number, number, Rotation?],
    chosen?: number,
  ): string {
    const value = chosen ?? this.values.nearest(computed)
    const [x, y, rotation = 0] = place
    const part: Part = { id, kind, values: { [field]: value }, at: { x, y, rotation } }
    if (value !== computed) part.exact = { [field]: computed }
    this.parts.push(part)
    return id
  }

  /** Couples two coils, both with their dots at their first pins. */
  couple(coils: readonly [string, string], coupling: number, x: number, y: number): void {
    this.parts.push({
      id: this.name('K'),
      kind: 'coupling',
      values: { coupling },
      refs: [...coils],
      at: { x, y, rotation: 0 },
    })
  }

  /** A source of 1 V AC that steps by 1 V at t = 0, its minus pin grounded. */
  input(x: number, y: number): End {
    const id = 'V1'
    this.parts.push({
      id,
      kind: 'voltage-source',
      values: { bias: 0, acMagnitude: 1, acPhase: 0 },
      waveform: { kind: 'pulse', low: 0, high: 1, delay: 0, rise: 0, fall: 0 },
      at: { x, y, rotation: 90 },
    })
    this.ground({ part: id, pin: 'minus' }, x, y + HALF + 1)
    return { part: id, pin: 'plus' }
  }

  ground(end: End, x: number, y: number): void {
    const id = this.part(this.name('GND'), 'ground', {}, x, y)
    this.wire(end, { part: id, pin: 'g' })
  }

  junction(x: number, y: number): End {
    const id = `J${this.junctions.length + 1}`
    this.junctions.push({ id, at: { x, y } })
    return { junction: id }
  }

  wire(from: End, to: End, ...bends: [number, number][]): void {
    const points = bends.map(([x, y]): GridPoint => ({ x, y }))
    this.wires.push({ id: `W${this.wires.length + 1}`, ends: [from, to], ...(points.length > 0 && { bends: points }) })
  }

  label(name: string, end: End, x: number, y: number): void {
    this.labels.push({ id: `N${this.labels.length + 1}`, name, end, at: { x, y } })
  }

  circuit(title: string): Circuit {
    return { title, parts: this.parts, wires: this.wires, junctions: this.junctions, labels: this.labels }
  }
}
