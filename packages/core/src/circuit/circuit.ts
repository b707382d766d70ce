import { z } from 'zod'
import { WaveformSchema } from './waveforms/index.js'

/**
 * The circuit as a document: plain, immutable data. Connectivity is logical: a wire joins two ends, a label names the
 * net it sits on, equal labels are one net, ground is a part (a label "0" is ground as well). Geometry (grid
 * positions, bends) rides along and is never needed to simulate.
 */
const name = z.string().min(1).max(200)
const value = z.number()
export const GridSchema = z.strictObject({ x: z.number(), y: z.number() })

export const EndSchema = z.union([z.strictObject({ part: name, pin: name }), z.strictObject({ junction: name })])

/** What an amplitude is said to be of a sine. */
export const AMPLITUDES = ['peak', 'peak-to-peak', 'effective'] as const

/** Where a part lies on the drawing: turned clockwise, after it was mirrored. */
export const PlaceSchema = GridSchema.extend({
  rotation: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]),
  mirrored: z.boolean().optional(),
})

export const PartSchema = z.strictObject({
  id: name,
  kind: name,
  /** In SI units, by the names of the kind's value fields. */
  values: z.record(z.string(), value),
  /** What synthesis computed, where a value has since been rounded or typed over. */
  exact: z.record(z.string(), value).optional(),
  /** Values given as expressions over the circuit's parameters, in SI units; they rule over `values`. */
  formulas: z.record(z.string(), z.string().max(1000)).optional(),
  /** Name of the model that gives the rest of its values. */
  model: name.optional(),
  /** Names of the parts that it refers to: coupled inductors, or the source whose current controls it. */
  refs: z.array(name).optional(),
  /** Taken out without being deleted: its pins open, or joined (parts with two pins). */
  aside: z.enum(['open', 'short']).optional(),
  waveform: WaveformSchema.optional(),
  /** Of a source: what its AC magnitude is of a sine; left out, the effective value. */
  acAs: z.enum(AMPLITUDES).optional(),
  /** Relative, of the main value: 0.01 for ±1 %. */
  tolerance: z.number().min(0).max(1).optional(),
  /** The most that it may be asked to bear: V and A as peaks, W as a mean. */
  rating: z
    .strictObject({
      voltage: z.number().positive().optional(),
      current: z.number().positive().optional(),
      power: z.number().positive().optional(),
    })
    .optional(),
  /** For a part of kind `subcircuit`: the definition's name, and what its pins are called on the drawing, in their order. */
  definition: name.optional(),
  pins: z.array(name).max(200).optional(),
  at: PlaceSchema.optional(),
  /** Where the middle of its name and value was put by hand, from the part's place. */
  label: GridSchema.optional(),
})

const WireSchema = z.strictObject({
  id: name,
  ends: z.tuple([EndSchema, EndSchema]),
  bends: z.array(GridSchema).optional(),
})
const JunctionSchema = z.strictObject({ id: name, at: GridSchema.optional() })
const LabelSchema = z.strictObject({
  id: name,
  name,
  end: EndSchema,
  /** Where it was put by hand; elsewhere than at its end. */
  at: GridSchema.optional(),
  /** Left out of the drawing, where a wire says it: the net keeps its name. */
  shown: z.literal(false).optional(),
  /** It names the net where the signal has come to, and goes on with it as the circuit grows. */
  follows: z.boolean().optional(),
})

/** Free words on the sheet. */
const NoteSchema = z.strictObject({
  id: name,
  text: z.string().min(1).max(4000),
  /** Its upper left corner. */
  at: GridSchema,
  as: z.enum(['title', 'text']),
})

/** Values that several parts share, in SI units by the names of the kind's model fields. */
const ModelSchema = z.strictObject({
  kind: name,
  values: z.record(z.string(), value),
  /** What its text says besides, is not offered, and may change a curve: the names of its values. */
  leftOut: z.array(name).optional(),
})

/** A number, or an expression over other parameters. */
const ParameterSchema = z.union([z.number(), z.string().max(1000)])

/** What a parameter is measured in, and between which values it may be turned. */
const ParameterRangeSchema = z.strictObject({
  unit: z.string().max(20).optional(),
  least: z.number().optional(),
  most: z.number().optional(),
})

const flatShape = {
  title: z.string().max(1000).optional(),
  parts: z.array(PartSchema),
  wires: z.array(WireSchema),
  junctions: z.array(JunctionSchema),
  labels: z.array(LabelSchema),
  models: z.record(z.string(), ModelSchema).optional(),
  parameters: z.record(z.string(), ParameterSchema).optional(),
  /** By the parameters' names. */
  parameterRanges: z.record(z.string(), ParameterRangeSchema).optional(),
  notes: z.array(NoteSchema).optional(),
}

const SubcircuitSchema = z.strictObject({
  /** Names of the nets inside that the pins are, in order. */
  pins: z.array(name),
  /** Elements of its text that are not offered, by name. */
  leftOut: z.array(name).optional(),
  ...flatShape,
})

export const CircuitSchema = z.strictObject({
  ...flatShape,
  subcircuits: z.record(z.string(), SubcircuitSchema).optional(),
  /** Voltages, V, of nets at the begin of a transient. */
  initial: z.record(z.string(), z.number()).optional(),
})

export type Circuit = z.output<typeof CircuitSchema>
export type Part = z.output<typeof PartSchema>
export type Wire = z.output<typeof WireSchema>
export type Junction = z.output<typeof JunctionSchema>
export type Label = z.output<typeof LabelSchema>
export type End = z.output<typeof EndSchema>
export type Note = z.output<typeof NoteSchema>
export type ParameterRange = z.output<typeof ParameterRangeSchema>
export type GridPoint = z.output<typeof GridSchema>
export type Model = z.output<typeof ModelSchema>
export type Parameter = z.output<typeof ParameterSchema>
export type Subcircuit = z.output<typeof SubcircuitSchema>

export const emptyCircuit = (): Circuit => ({ parts: [], wires: [], junctions: [], labels: [] })
