import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import type { End } from '../circuit.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { movedEnds } from './connect.js'

const schema = z.strictObject({ part: z.string(), to: z.string().trim().min(1).max(200) })

/** What a part's name may be: it stands in netlists and signals. */
const NAME = /^[A-Za-z_][\w]*$/

/** Another name for a part, wherever it is named. */
export const renamePart: CircuitEdit<z.output<typeof schema>, 'rename-part'> = {
  id: 'rename-part',
  schema,
  label: ({ part, to }) => `${part} named ${to}`,
  apply(circuit, { part: id, to }) {
    const part = partOf(circuit, id)
    if (!NAME.test(to))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `"${to}" cannot be the name of a part.`,
        fix: 'Begin with a letter, then letters, digits and _.',
      })
    const other = circuit.parts.find((p) => p !== part && p.id.toUpperCase() === to.toUpperCase())
    if (other)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is a part "${other.id}" already.`,
        fix: 'Choose another name.',
      })
    const ended = (end: End): End => ('part' in end && end.part === id ? { ...end, part: to } : end)
    const next = movedEnds(circuit, ended)
    return {
      ...next,
      parts: next.parts.map((p) => ({
        ...p,
        ...(p === part && { id: to }),
        ...(p.refs && { refs: p.refs.map((r) => (r.toUpperCase() === id.toUpperCase() ? to : r)) }),
      })),
    }
  },
}
