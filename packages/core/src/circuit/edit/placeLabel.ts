import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { GridSchema } from '../circuit.js'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({
  part: z.string(),
  /** Where the middle of its name and value goes, from the part's place; null lets the drawing choose. */
  at: GridSchema.nullable(),
})

const labelled = <P extends object>(at: z.output<typeof schema>['at'], of: P & { label?: unknown }): P => {
  const { label: _before, ...rest } = of
  return { ...rest, ...(at && { label: at }) } as P
}

/** Puts a part's name and value somewhere. */
export const placeLabel: CircuitEdit<z.output<typeof schema>, 'place-label'> = {
  id: 'place-label',
  schema,
  label: ({ part }) => `words beside ${part} moved`,
  apply: (circuit, { part, at }) => withPart(circuit, part, (p) => labelled(at, p)),
  says: ({ part, at }) => [{ part, patch: (before) => labelled(at, before) }],
}

const nameSchema = z.strictObject({ label: z.string(), at: GridSchema.nullable() })

/** Puts a net's name somewhere; null lets the drawing choose. */
export const placeName: CircuitEdit<z.output<typeof nameSchema>, 'place-name'> = {
  id: 'place-name',
  schema: nameSchema,
  label: () => 'name of a net moved',
  apply(circuit, { label: id, at }) {
    if (!circuit.labels.some((l) => l.id === id))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is no name "${id}".`,
        fix: 'Choose one that is there.',
      })
    return {
      ...circuit,
      labels: circuit.labels.map((label) => {
        if (label.id !== id) return label
        const { at: _before, ...rest } = label
        return { ...rest, ...(at && { at }) }
      }),
    }
  },
}
