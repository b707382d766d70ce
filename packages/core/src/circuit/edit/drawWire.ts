import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { GridSchema } from '../circuit.js'
import { freeId } from '../ids.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { endAt, sameEnd, SpotSchema, wireOf } from './spots.js'

const schema = z.strictObject({ from: SpotSchema, to: SpotSchema, bends: z.array(GridSchema).max(100).optional() })

/** A wire from one place to another; from the middle of a wire it begins at a joint. */
export const drawWire: CircuitEdit<z.output<typeof schema>, 'draw-wire'> = {
  id: 'draw-wire',
  schema,
  label: () => 'wire',
  apply(circuit, { from, to, bends = [] }) {
    const [begun, a] = endAt(circuit, from)
    // The wire that the other end lies on may just have been made two.
    const [joined, b] = endAt(begun, 'wire' in to && 'at' in to ? { at: to.at } : to)
    if (sameEnd(a, b))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: 'This wire would end where it begins.',
        fix: 'Lead it to another place.',
      })
    return { ...joined, wires: [...joined.wires, wireOf(freeId(joined, 'wires'), [a, b], bends)] }
  },
}
