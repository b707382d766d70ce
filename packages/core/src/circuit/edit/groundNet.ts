import { z } from 'zod'
import { GROUND_NAME } from '../flatten.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { named, pinOn } from './connect.js'

const schema = z.strictObject({ net: z.string() })

/** Makes a net ground. */
export const groundNet: CircuitEdit<z.output<typeof schema>> = {
  id: 'ground-net',
  schema,
  label: ({ net }) => `ground at ${net}`,
  apply: (circuit, { net }) => named(circuit, pinOn(circuit, net), GROUND_NAME),
}
