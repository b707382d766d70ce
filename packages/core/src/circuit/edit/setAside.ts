import { z } from 'zod'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({ parts: z.array(z.string()).min(1), as: z.enum(['open', 'short']).nullable() })

/** Takes parts out without deleting them, their pins open or joined; null puts them back. */
export const setAside: CircuitEdit<z.output<typeof schema>, 'set-aside'> = {
  id: 'set-aside',
  schema,
  label: ({ parts, as }) =>
    `${parts.length === 1 ? parts[0] : `${parts.length} parts`} ${as ? 'set aside' : 'put back'}`,
  apply: (circuit, { parts, as }) =>
    parts.reduce(
      (now, part) => withPart(now, part, ({ aside: _before, ...rest }) => ({ ...rest, ...(as && { aside: as }) })),
      circuit,
    ),
  says: ({ parts, as }) =>
    parts.map((part) => ({
      part,
      patch: ({ aside: _before, ...rest }) => ({ ...rest, ...(as && { aside: as }) }),
    })),
}
