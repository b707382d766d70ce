import { z } from 'zod'
import { partKind } from '../parts/index.js'
import { type CircuitEdit, pinsToJoin } from './CircuitEdit.js'
import { joinedToNet } from './connect.js'
import { freePartId } from '../ids.js'

const schema = z.strictObject({
  kind: z.string(),
  values: z.record(z.string(), z.number()),
  /** One for each pin. */
  nets: z.array(z.string()).min(1),
})

/** A new part between nets. */
export const bridgeNets: CircuitEdit<z.output<typeof schema>, 'bridge-nets'> = {
  id: 'bridge-nets',
  schema,
  label: ({ kind, nets }) => `${partKind(kind).name.toLowerCase()} between ${nets.join(' and ')}`,
  apply(circuit, { kind, values, nets }) {
    const id = freePartId(circuit, kind)
    const pins = pinsToJoin(kind, nets.length)
    const before = { ...circuit, parts: [...circuit.parts, { id, kind, values }] }
    return nets.reduce((c, net, k) => joinedToNet(c, { part: id, pin: pins[k] }, net), before)
  },
}
