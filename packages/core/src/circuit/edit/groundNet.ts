import { z } from 'zod'
import type { CircuitEdit } from './CircuitEdit.js'
import { grounded, pinOn } from './connect.js'

const schema = z.strictObject({ net: z.string() })

/** Makes a net ground. */
export const groundNet: CircuitEdit<z.output<typeof schema>, 'ground-net'> = {
  id: 'ground-net',
  schema,
  label: ({ net }) => `ground at ${net}`,
  apply: (circuit, { net }) => grounded(circuit, pinOn(circuit, net)),
}
