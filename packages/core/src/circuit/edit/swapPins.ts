import { z } from 'zod'
import type { End } from '../circuit.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { isAt } from './connect.js'

const schema = z.strictObject({ part: z.string(), pins: z.tuple([z.string(), z.string()]) })

/** Exchanges what is joined to two pins of a part. */
export const swapPins: CircuitEdit<z.output<typeof schema>> = {
  id: 'swap-pins',
  schema,
  label: ({ part }) => `pins of ${part} exchanged`,
  apply(circuit, { part, pins: [a, b] }) {
    partOf(circuit, part)
    const swapped = (end: End): End =>
      isAt(end, part, a) ? { part, pin: b } : isAt(end, part, b) ? { part, pin: a } : end
    return {
      ...circuit,
      wires: circuit.wires.map((w) => ({ ...w, ends: [swapped(w.ends[0]), swapped(w.ends[1])] })),
      labels: circuit.labels.map((l) => ({ ...l, end: swapped(l.end) })),
    }
  },
}
