import type { Circuit, End, GridPoint, Part } from '../circuit/circuit.js'
import { IDEAL_OPAMP_GAIN } from '../circuit/parts/PartKind.js'

/** Values of parts by the names of their slots: Ω, H, F. */
export type Values = Readonly<Record<string, number>>

/** The kinds of parts whose values a plan leaves to be chosen, with the field that holds them. */
export const SLOT_FIELDS = { resistor: 'resistance', inductor: 'inductance', capacitor: 'capacitance' } as const
export type SlotKind = keyof typeof SLOT_FIELDS

/** A part whose value is to be chosen. */
export interface Slot {
  readonly id: string
  readonly kind: SlotKind
  /** An allowed value below the computed one would leave the others without a solution. */
  readonly atLeast?: true
}

export type Rotation = 0 | 90 | 180 | 270

/** Half the length of a part with two pins, in grid units. */
export const HALF = 2

/** The model of every amplifier of a circuit, so that what is said of it once holds for all. */
const AMPLIFIER = 'amplifier'

/** Draws a circuit while it is synthesised: parts, wires and junctions with their places on the grid. */
export class Sketch {
  private readonly parts: Part[] = []
  private readonly wires: Circuit['wires'] = []
  private readonly junctions: Circuit['junctions'] = []
  private readonly labels: Circuit['labels'] = []
  private readonly counters = new Map<string, number>()

  private hasAmplifiers = false
  /** Of the parts whose values can be chosen, in the order in which they were drawn. */
  readonly slots: Slot[] = []
  /** What these were computed as. */
  readonly computed: Record<string, number> = {}

  /**
   * @param values what was chosen instead of computed values
   * @param amplifierValues of the model of its amplifiers
   */
  constructor(
    private readonly values: Values = {},
    private amplifierValues: Values = { gain: IDEAL_OPAMP_GAIN },
  ) {}

  /** The same paper, whose amplifiers have a model of their own. */
  withAmplifier(values: Values): this {
    this.amplifierValues = values
    return this
  }

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

  /** A potentiometer with its position 1 to the left, and its wiper below. */
  potentiometer(id: string, values: Part['values'], x: number, y: number): string {
    this.parts.push({ id, kind: 'potentiometer', values, at: { x, y, rotation: 0, mirrored: true } })
    return id
  }

  /** A part whose value was computed, and may have been chosen otherwise. */
  valued(id: string, kind: SlotKind, computed: number, x: number, y: number, rotation: Rotation = 0): string {
    const field = SLOT_FIELDS[kind]
    const value = this.values[id] ?? computed
    this.slots.push({ id, kind })
    this.computed[id] = computed
    const exact = value !== computed && { exact: { [field]: computed } }
    this.parts.push({ id, kind, values: { [field]: value }, ...exact, at: { x, y, rotation } })
    return id
  }

  /** An amplifier of the model that all of them share; turned as `Figure.ts` says. */
  amplifier(x: number, y: number, turned?: 'over' | 'back' | 'left'): string {
    const id = this.name('U')
    const isMirrored = turned === 'over' || turned === 'left'
    const rotation = turned === 'over' || turned === 'back' ? 180 : 0
    const at = { x, y, rotation, ...(isMirrored && { mirrored: true }) } as const
    this.parts.push({ id, kind: 'opamp', values: {}, model: AMPLIFIER, at })
    this.hasAmplifiers = true
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
    const { parts, wires, junctions, labels } = this
    const models = { [AMPLIFIER]: { kind: 'opamp', values: { ...this.amplifierValues } } }
    return { title, parts, wires, junctions, labels, ...(this.hasAmplifiers && { models }) }
  }
}
