import { z } from 'zod'
import { WaveformSchema } from './waveforms/index.js'

/**
 * The circuit as a document: plain, immutable data. Connectivity is logical: a wire joins two ends, a label names the
 * net it sits on, equal labels are one net, ground is a part (a label "0" is ground as well). Geometry (grid
 * positions, bends) rides along and is never needed to simulate.
 */
const name = z.string().min(1).max(200)
const value = z.number()
const GridSchema = z.strictObject({ x: z.number(), y: z.number() })

const EndSchema = z.union([z.strictObject({ part: name, pin: name }), z.strictObject({ junction: name })])

const PartSchema = z.strictObject({
  id: name,
  kind: name,
  /** In SI units, by the names of the kind's value fields. */
  values: z.record(z.string(), value),
  /** What synthesis computed, where a value has since been rounded or typed over. */
  exact: z.record(z.string(), value).optional(),
  waveform: WaveformSchema.optional(),
  /** For a part of kind `subcircuit`: the definition's name and the number of its pins. */
  definition: name.optional(),
  at: GridSchema.extend({
    rotation: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]),
    mirrored: z.boolean().optional(),
  }).optional(),
})

const WireSchema = z.strictObject({
  id: name,
  ends: z.tuple([EndSchema, EndSchema]),
  bends: z.array(GridSchema).optional(),
})
const JunctionSchema = z.strictObject({ id: name, at: GridSchema.optional() })
const LabelSchema = z.strictObject({ id: name, name, end: EndSchema, at: GridSchema.optional() })

const flatShape = {
  title: z.string().max(1000).optional(),
  parts: z.array(PartSchema),
  wires: z.array(WireSchema),
  junctions: z.array(JunctionSchema),
  labels: z.array(LabelSchema),
}

const SubcircuitSchema = z.strictObject({
  /** Names of the nets inside that the pins are, in order. */
  pins: z.array(name),
  ...flatShape,
})

export const CircuitSchema = z.strictObject({
  ...flatShape,
  subcircuits: z.record(z.string(), SubcircuitSchema).optional(),
})

export type Circuit = z.output<typeof CircuitSchema>
export type Part = z.output<typeof PartSchema>
export type Wire = z.output<typeof WireSchema>
export type Junction = z.output<typeof JunctionSchema>
export type Label = z.output<typeof LabelSchema>
export type End = z.output<typeof EndSchema>
export type GridPoint = z.output<typeof GridSchema>
export type Subcircuit = z.output<typeof SubcircuitSchema>

export const emptyCircuit = (): Circuit => ({ parts: [], wires: [], junctions: [], labels: [] })

/** The circuit with one value of one part replaced; the value by formula is kept in `exact`. */
export function withValue(circuit: Circuit, partId: string, field: string, value: number): Circuit {
  return {
    ...circuit,
    parts: circuit.parts.map((part) => {
      if (part.id !== partId) return part
      const exact = { [field]: part.values[field]!, ...part.exact }
      return { ...part, values: { ...part.values, [field]: value }, exact }
    }),
  }
}
