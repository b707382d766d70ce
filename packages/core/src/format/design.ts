import { z } from 'zod'
import { type Circuit, CircuitSchema } from '../circuit/circuit.js'
import { partKind } from '../circuit/parts/index.js'
import { isText } from '../errors/readable.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type FilterSpec, FilterSpecSchema, parseSpec } from '../specification/filterSpec.js'
import { VALUE_CHOICES } from '../synthesis/values.js'
import { DEEPEST } from './jsonText.js'
import type { AnalysisCard } from './netlist/readNetlist.js'

/** The version that this code writes; it reads this and every earlier one. */
export const DESIGN_VERSION = 1

/**
 * A design file: what was asked, the circuit, and which values its parts may have. Open and self-describing; the
 * JSON Schema in docs/design.schema.json follows from here (`npm run schema`).
 */
export const DesignSchema = z.strictObject({
  format: z.literal('voskel-design'),
  version: z.literal(DESIGN_VERSION),
  name: z.string().min(1, 'A design needs a name.').max(200, 'A name has at most 200 characters.'),
  notes: z.string().max(20_000).optional(),
  specification: FilterSpecSchema.optional(),
  /** The values that synthesis takes; parts whose value was typed over keep what was typed. */
  values: z.enum(VALUE_CHOICES).default('exact'),
  /** Absent where the specification has no circuit (yet). */
  circuit: CircuitSchema.optional(),
  analyses: z.array(z.strictObject({ analysis: z.enum(['ac', 'tran', 'op']), words: z.array(z.string()) })).optional(),
})
export type Design = z.output<typeof DesignSchema>

/** The design file as JSON Schema (draft 2020-12); docs/design.schema.json is written from it. */
export const designJsonSchema = () => z.toJSONSchema(DesignSchema, { io: 'input' })

/**
 * A design from parsed JSON.
 *
 * @throws VoskelError `DESIGN_NEWER`, `DESIGN_INVALID` or `SPEC_INVALID`, placed by path
 */
export function readDesign(value: unknown): Design {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw invalid('it is no JSON object', '')
  const head = value as Record<string, unknown>
  if (head.format !== 'voskel-design') throw invalid('"format" is not "voskel-design"', 'format')
  if (typeof head.version === 'number' && head.version > DESIGN_VERSION) {
    throw new VoskelError('DESIGN_NEWER', { version: head.version, known: DESIGN_VERSION }, { path: 'version' })
  }
  checkTree(value)
  if (head.specification !== undefined) {
    try {
      parseSpec(head.specification)
    } catch (error) {
      if (error instanceof VoskelError)
        throw error.at({ path: ['specification', error.place.path].filter(Boolean).join('.') })
      throw error
    }
  }
  const parsed = DesignSchema.safeParse(value)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    const path = issue.path.map(String).join('.')
    throw invalid(`"${path || 'the whole'}" does not fit: ${issue.message}`, path)
  }
  checkKinds(parsed.data)
  return parsed.data
}

/** Refuses what no text holds and what is nested without end, before anything walks through it. */
function checkTree(value: unknown): void {
  const open: { value: unknown; path: readonly string[] }[] = [{ value, path: [] }]
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const { value, path } = next
    if (path.length > DEEPEST) throw invalid(`it is nested more than ${DEEPEST} deep`, path.slice(0, 3).join('.'))
    if (typeof value === 'string' && !isText(value)) {
      throw invalid(`"${path.join('.')}" holds a character that no text has`, path.join('.'))
    }
    if (typeof value !== 'object' || value === null) continue
    for (const [key, member] of Object.entries(value)) {
      if (!isText(key)) throw invalid('a name holds a character that no text has', path.join('.'))
      open.push({ value: member, path: [...path, key] })
    }
  }
}

/** @throws VoskelError `NOT_OFFERED` at the first part or model whose kind is none of ours */
function checkKinds({ circuit }: Design): void {
  if (!circuit) return
  const blocks: [path: string, block: Pick<Circuit, 'parts' | 'models'>][] = [['circuit', circuit]]
  for (const [name, block] of Object.entries(circuit.subcircuits ?? {})) {
    blocks.push([`circuit.subcircuits.${name}`, block])
  }
  for (const [path, { parts, models }] of blocks) {
    parts.forEach(({ kind }, k) => knownKind(kind, `${path}.parts.${k}.kind`))
    for (const [name, { kind }] of Object.entries(models ?? {})) knownKind(kind, `${path}.models.${name}.kind`)
  }
}

function knownKind(kind: string, path: string): void {
  try {
    partKind(kind)
  } catch (error) {
    throw error instanceof VoskelError ? error.at({ path }) : error
  }
}

/** A design around a circuit that was drawn or read, without a specification. */
export function designOfCircuit(circuit: Circuit, analyses: readonly AnalysisCard[] = []): Design {
  return {
    format: 'voskel-design',
    version: DESIGN_VERSION,
    name: circuit.title?.slice(0, 200) || 'Circuit',
    values: 'exact',
    circuit,
    ...(analyses.length > 0 && { analyses: analyses.map((a) => ({ analysis: a.analysis, words: [...a.words] })) }),
  }
}

/** A design around a specification and its circuit. */
export function designOfSpec(
  name: string,
  specification: FilterSpec,
  values: Design['values'],
  circuit?: Circuit,
): Design {
  return { format: 'voskel-design', version: DESIGN_VERSION, name, specification, values, ...(circuit && { circuit }) }
}

function invalid(problem: string, path: string): VoskelError {
  return new VoskelError('DESIGN_INVALID', { problem }, { path })
}
