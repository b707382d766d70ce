import { z } from 'zod'
import type { CircuitEdit } from './CircuitEdit.js'
import { pinOn } from './connect.js'

const schema = z.strictObject({
  net: z.string(),
  /** V; null leaves it to the operating point. */
  voltage: z.number().nullable(),
})

/** The voltage of a net from which a run over time begins. */
export const setInitial: CircuitEdit<z.output<typeof schema>, 'set-initial'> = {
  id: 'set-initial',
  schema,
  label: ({ net }) => `voltage of ${net} at the start`,
  apply(circuit, { net, voltage }) {
    pinOn(circuit, net)
    const { initial, ...rest } = circuit
    const { [net]: _before, ...others } = initial ?? {}
    const next = voltage === null ? others : { ...others, [net]: voltage }
    return Object.keys(next).length > 0 ? { ...rest, initial: next } : rest
  },
}
