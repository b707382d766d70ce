import { z } from 'zod'
import { partKind } from '../parts/index.js'
import { NetMap } from '../NetMap.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { isAt } from './connect.js'
import { freeId } from './ids.js'

const schema = z.strictObject({
  part: z.string(),
  /** What a part with two pins joined is joined without it. */
  close: z.boolean().optional(),
})

/** Takes a part out for good, with the wires that end at it. */
export const removePart: CircuitEdit<z.output<typeof schema>> = {
  id: 'remove-part',
  schema,
  label: ({ part }) => `${part} removed`,
  apply(circuit, { part, close }) {
    const { pins } = partKind(partOf(circuit, part).kind)
    const nets = new NetMap(circuit)
    // One pin of another part on either side stands for all that is joined there.
    const sides = pins.map((pin) => {
      const net = nets.netOf(part, pin)
      return net === null ? undefined : nets.pinsOf(net).find((p) => p.part !== part)
    })
    const closing = close && pins.length === 2 && sides[0] && sides[1]
    const left = {
      ...circuit,
      parts: circuit.parts.filter((p) => p.id !== part),
      wires: circuit.wires.filter((w) => !w.ends.some((end) => isAt(end, part))),
      labels: circuit.labels.filter((l) => !isAt(l.end, part)),
    }
    if (!closing) return left
    return { ...left, wires: [...left.wires, { id: freeId(left, 'wires'), ends: [sides[0]!, sides[1]!] }] }
  },
}
