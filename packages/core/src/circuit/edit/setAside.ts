import { z } from 'zod'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({ part: z.string(), as: z.enum(['open', 'short']).nullable() })

/** Takes a part out without deleting it, its pins open or joined; null puts it back. */
export const setAside: CircuitEdit<z.output<typeof schema>, 'set-aside'> = {
  id: 'set-aside',
  schema,
  label: ({ part, as }) => (as ? `${part} set aside` : `${part} put back`),
  apply: (circuit, { part, as }) =>
    withPart(circuit, part, ({ aside: _before, ...rest }) => ({ ...rest, ...(as && { aside: as }) })),
  says: ({ part, as }) => [
    {
      part,
      patch: ({ aside: _before, ...rest }) => ({ ...rest, ...(as && { aside: as }) }),
    },
  ],
}
