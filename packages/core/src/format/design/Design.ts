import { z } from 'zod'
import { CircuitSchema } from '../../circuit/circuit.js'
import { PartPatchSchema } from '../../circuit/patch.js'
import { FilterSpecSchema } from '../../specification/filterSpec.js'
import { RequirementSchema } from '../../specification/requirements/index.js'
import { VALUE_CHOICES } from '../../synthesis/values.js'
import { ComparedSchema, MOST_COMPARED } from './compared.js'
import { CursorSchema, MOST_CURSORS } from './cursors.js'
import { DiagramSchema } from './diagrams.js'
import { ExpectedSchema, MOST_EXPECTED } from './expected.js'
import { FigureSchema, MOST_FIGURES } from './figures.js'

/** The version that this code writes; it reads this and every earlier one (upgrades.ts). */
export const DESIGN_VERSION = 3

/** The circuit of the specification: computed, with what was said about its parts. */
const DerivedSchema = z.strictObject({
  origin: z.literal('derived'),
  patches: z.record(z.string().min(1).max(200), PartPatchSchema).default({}),
  /**
   * The circuit as it was computed when it was last shown, without the patches: where a later version computes other
   * values, these stay until they are given up.
   */
  witness: CircuitSchema.optional(),
})

/** A circuit that stands for itself. */
const DrawnSchema = z.strictObject({ origin: z.literal('drawn'), circuit: CircuitSchema })

/** Where a design's circuit comes from. */
export const DesignCircuitSchema = z.discriminatedUnion('origin', [DerivedSchema, DrawnSchema])
export type DesignCircuit = z.output<typeof DesignCircuitSchema>
export type DerivedCircuit = z.output<typeof DerivedSchema>

/** What every version says of a design besides its circuit. */
export const COMMON = {
  format: z.literal('voskel-design'),
  name: z.string().min(1, 'A design needs a name.').max(200, 'A name has at most 200 characters.'),
  notes: z.string().max(20_000).optional(),
  specification: FilterSpecSchema.optional(),
  /** The values that synthesis takes; parts whose value was typed over keep what was typed. */
  values: z.enum(VALUE_CHOICES).default('exact'),
  analyses: z.array(z.strictObject({ analysis: z.enum(['ac', 'tran', 'op']), words: z.array(z.string()) })).optional(),
}

/** How the circuit is looked at, where the usual is not meant. */
const StudySchema = z.strictObject({
  /** The source that is the input; left out, the first that drives. */
  input: z.string().min(1).max(200).optional(),
  /** The signal that is the output; left out, the net `out`. */
  output: z.string().min(1).max(1000).optional(),
  /** °C; left out, 27. */
  temperature: z.number().min(-273).max(1000).optional(),
  /** What a run over time begins from; left out, the operating point. `settled`: where it is after any number of periods. */
  start: z.enum(['op', 'zero', 'settled']).optional(),
})
export type StudySettings = z.output<typeof StudySchema>

/** What a design says since version 2. */
export const SINCE_2 = {
  /** What is asked besides pass- and stop band; of a circuit without a specification as well. */
  requirements: z.array(RequirementSchema).optional(),
  circuit: DesignCircuitSchema.default({ origin: 'derived', patches: {} }),
  /** What is drawn, in order; left out, magnitude and phase over frequency and the step over time. */
  diagrams: z.array(DiagramSchema).max(50).optional(),
  /** The circuit turns the output over against the input; said for readers, never read. */
  inverting: z.boolean().optional(),
}

/**
 * A design file: what is asked, where the circuit comes from, and which values its parts may have. Open and
 * self-describing; the JSON Schema in docs/design.schema.json follows from here (`npm run schema`).
 */
export const DesignSchema = z.strictObject({
  ...COMMON,
  ...SINCE_2,
  version: z.literal(DESIGN_VERSION),
  study: StudySchema.optional(),
  /** Limits that the circuit comes with; said for readers, never read. */
  limits: z.array(z.strictObject({ id: z.string(), name: z.string(), value: z.number(), unit: z.string() })).optional(),
  /** Places that were marked on the diagrams. */
  cursors: z.array(CursorSchema).max(MOST_CURSORS).optional(),
  /** What was found by hand, to be compared. */
  expected: z.array(ExpectedSchema).max(MOST_EXPECTED).optional(),
  /** Diagrams that lie on the drawing. */
  figures: z.array(FigureSchema).max(MOST_FIGURES, `At most ${MOST_FIGURES} diagrams lie on a drawing.`).optional(),
  /** Pinned runs and what was measured, beside its own curves. */
  compared: z.array(ComparedSchema).max(MOST_COMPARED, `At most ${MOST_COMPARED} stand beside a design.`).optional(),
})
export type Design = z.output<typeof DesignSchema>

/** The design file as JSON Schema (draft 2020-12); docs/design.schema.json is written from it. */
export const designJsonSchema = () => z.toJSONSchema(DesignSchema, { io: 'input' })
