import { z } from 'zod'
import { GridSchema } from '../circuit.js'
import { freeId } from '../ids.js'
import type { CircuitEdit } from './CircuitEdit.js'

const schema = z.strictObject({
  /** Left out for a new one. */
  note: z.string().optional(),
  text: z.string().trim().min(1).max(4000),
  at: GridSchema,
  as: z.enum(['title', 'text']),
})

/** Free words on the sheet, new or changed. */
export const writeNote: CircuitEdit<z.output<typeof schema>, 'write-note'> = {
  id: 'write-note',
  schema,
  label: ({ as }) => (as === 'title' ? 'title' : 'text'),
  apply(circuit, { note, text, at, as }) {
    const notes = circuit.notes ?? []
    const id = note ?? freeId(circuit, 'notes')
    const next = { id, text, at, as }
    const has = notes.some((n) => n.id === id)
    return { ...circuit, notes: has ? notes.map((n) => (n.id === id ? next : n)) : [...notes, next] }
  },
}
