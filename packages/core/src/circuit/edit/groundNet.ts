import { z } from 'zod'
import { GROUND_NAME } from '../flatten.js'
import { NetMap } from '../NetMap.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { joinedToNet } from './connect.js'
import { freeId } from './ids.js'

const schema = z.strictObject({ net: z.string() })

/** Makes a net ground. */
export const groundNet: CircuitEdit<z.output<typeof schema>> = {
  id: 'ground-net',
  schema,
  label: ({ net }) => `ground at ${net}`,
  apply(circuit, { net }) {
    const [pin] = new NetMap(circuit).pinsOf(net)
    if (!pin) return joinedToNet(circuit, { part: '', pin: '' }, net)
    const label = { id: freeId(circuit, 'labels'), name: GROUND_NAME, end: pin }
    return { ...circuit, labels: [...circuit.labels, label] }
  },
}
