import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import type { Label } from '../circuit.js'
import { isShown } from '../drawing/labels.js'
import { GROUND_NAME } from '../flatten.js'
import { NetMap } from '../NetMap.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { named } from './connect.js'
import { groundedBelow } from './growPart.js'
import { endAt, sameEnd, SpotSchema, stillJoined } from './spots.js'

const schema = z.strictObject({ at: SpotSchema, name: z.string().trim().min(1).max(200) })

/**
 * Names the net at a place, where its name then stands; nets of one name are one net. A name that stood at the very place,
 * or went with the signal, goes.
 */
export const nameNet: CircuitEdit<z.output<typeof schema>, 'name-net'> = {
  id: 'name-net',
  schema,
  label: ({ name }) => `net named ${name}`,
  apply(circuit, { at, name }) {
    const [with_, end] = endAt(circuit, at)
    if (name === GROUND_NAME) return groundedBelow(with_, end)
    const nets = NetMap.of(with_)
    const net = nets.netAt(end)
    const gives = (label: Label) =>
      sameEnd(label.end, end) ||
      (label.follows && label.name === name) ||
      ((label.follows || !isShown(label)) && net !== null && nets.netAt(label.end) === net)
    return stillJoined(with_, named({ ...with_, labels: with_.labels.filter((l) => !gives(l)) }, end, name))
  },
}

const renameSchema = z.strictObject({ net: z.string(), to: z.string().trim().min(1).max(200) })

/** Another name for a net, wherever its name stands. */
export const renameNet: CircuitEdit<z.output<typeof renameSchema>, 'rename-net'> = {
  id: 'rename-net',
  schema: renameSchema,
  label: ({ net, to }) => `net ${net} named ${to}`,
  apply(circuit, { net, to }) {
    if (!circuit.labels.some((l) => l.name === net))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `No net bears the name "${net}".`,
        fix: 'Name a net at one of its places.',
      })
    const labels = circuit.labels.map((label) => {
      if (label.name !== net) return label
      const { follows: _ends, ...rest } = label
      return { ...rest, name: to }
    })
    const { [net]: volts, ...others } = circuit.initial ?? {}
    return {
      ...circuit,
      labels,
      ...(circuit.initial && { initial: { ...others, ...(volts !== undefined && { [to]: volts }) } }),
    }
  },
}
