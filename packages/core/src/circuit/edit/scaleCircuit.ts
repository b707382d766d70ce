import { z } from 'zod'
import type { Part } from '../circuit.js'
import { fieldOf } from '../effectiveValues.js'
import { maybePartKind } from '../parts/index.js'
import type { PartPatch } from '../patch.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'

const schema = z.strictObject({
  /** Left out, the whole circuit. */
  parts: z.array(z.string()).optional(),
  /** By what every frequency is multiplied. */
  frequency: z.number().positive().default(1),
  /** By what every impedance is multiplied. */
  impedance: z.number().positive().default(1),
})

/** Powers of the factors by unit (common practice, no source). */
const POWERS: Readonly<Record<string, readonly [impedance: number, frequency: number]>> = {
  Ω: [1, 0],
  S: [-1, 0],
  H: [1, -1],
  F: [-1, -1],
  Hz: [0, 1],
}

/** Scales a circuit, or some of its parts, in frequency and in impedance. Models of devices stay what they are. */
export const scaleCircuit: CircuitEdit<z.output<typeof schema>, 'scale-circuit'> = {
  id: 'scale-circuit',
  schema: schema as z.ZodType<z.output<typeof schema>>,
  label: ({ frequency, impedance }) =>
    [frequency !== 1 && `frequencies × ${frequency}`, impedance !== 1 && `impedances × ${impedance}`]
      .filter(Boolean)
      .join(', ') || 'scaled by 1',
  apply(circuit, { parts, ...factors }) {
    const ids = new Set(parts ?? circuit.parts.map((p) => p.id))
    for (const id of ids) partOf(circuit, id)
    return { ...circuit, parts: circuit.parts.map((p) => (ids.has(p.id) ? withSaid(p, scaled(p, factors)) : p)) }
  },
  says({ parts, ...factors }, circuit) {
    const ids = new Set(parts ?? circuit.parts.map((p) => p.id))
    return circuit.parts.flatMap((part) => {
      const next = scaled(part, factors)
      if (!ids.has(part.id) || Object.keys(next).length === 0) return []
      return [{ part: part.id, patch: (before: PartPatch) => withSaid(before, next) }]
    })
  },
}

const withSaid = <P extends PartPatch>(of: P, { values, formulas }: Pick<PartPatch, 'values' | 'formulas'>): P => ({
  ...of,
  ...(values && { values: { ...of.values, ...values } }),
  ...(formulas && { formulas: { ...of.formulas, ...formulas } }),
})

function scaled(part: Part, factors: { frequency: number; impedance: number }): Pick<PartPatch, 'values' | 'formulas'> {
  const kind = maybePartKind(part.kind)
  if (!kind || kind.modelType || !['store', 'resist', 'drive'].includes(kind.group) || kind.takesWaveform) return {}
  const factorOf = (id: string) => {
    const [z, f] = POWERS[fieldOf(part, id).unit] ?? [0, 0]
    return factors.impedance ** z * factors.frequency ** f
  }
  // What is not said of the part is the kind's usual value, which scales as well where the drawing shows it.
  const own = { ...(kind.mainValue !== undefined && !part.model && usual(part, kind.mainValue)), ...part.values }
  const values = Object.entries(own).flatMap(([id, v]) => (factorOf(id) === 1 ? [] : [[id, v * factorOf(id)] as const]))
  const formulas = Object.entries(part.formulas ?? {}).flatMap(([id, f]) =>
    factorOf(id) === 1 ? [] : [[id, `(${f})*${factorOf(id)}`] as const],
  )
  return {
    ...(values.length > 0 && { values: Object.fromEntries(values) }),
    ...(formulas.length > 0 && { formulas: Object.fromEntries(formulas) }),
  }
}

const usual = (part: Part, id: string) => ({ [id]: fieldOf(part, id).default })
