import { z } from 'zod'
import { type CircuitEdit, partOf, pinOf } from './CircuitEdit.js'
import { isAt, movedEnds } from './connect.js'

const schema = z.strictObject({ part: z.string(), pins: z.tuple([z.string(), z.string()]) })

/** Exchanges what is joined to two pins of a part. */
export const swapPins: CircuitEdit<z.output<typeof schema>, 'swap-pins'> = {
  id: 'swap-pins',
  schema,
  label: ({ part }) => `pins of ${part} exchanged`,
  apply(circuit, { part, pins: [a, b] }) {
    const found = partOf(circuit, part)
    for (const pin of [a, b]) pinOf(found, pin)
    return movedEnds(circuit, (end) =>
      isAt(end, part, a) ? { part, pin: b } : isAt(end, part, b) ? { part, pin: a } : end,
    )
  },
}
