import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, End } from '../circuit.js'
import { GROUND_NAME } from '../flatten.js'
import { NetMap } from '../NetMap.js'
import { freeId } from './ids.js'

/** Joins an end to a net: by its name where it has one, by a wire to one of its pins otherwise. */
export function joinedToNet(circuit: Circuit, end: End, net: string): Circuit {
  if (net === GROUND_NAME || circuit.labels.some((l) => l.name === net))
    return { ...circuit, labels: [...circuit.labels, { id: freeId(circuit, 'labels'), name: net, end }] }
  const [pin] = new NetMap(circuit).pinsOf(net)
  if (!pin) {
    throw new VoskelError('CIRCUIT_INVALID', {
      problem: `There is no net "${net}" in this circuit.`,
      fix: 'Name a net that a part lies on.',
    })
  }
  return { ...circuit, wires: [...circuit.wires, { id: freeId(circuit, 'wires'), ends: [pin, end] }] }
}

export const isAt = (end: End, part: string, pin?: string): boolean =>
  'part' in end && end.part === part && (pin === undefined || end.pin === pin)

/** The circuit with whatever ends at one pin ending elsewhere. */
export function movedEnds(circuit: Circuit, part: string, pin: string, to: End): Circuit {
  const moved = (end: End): End => (isAt(end, part, pin) ? to : end)
  return {
    ...circuit,
    wires: circuit.wires.map((w) => ({ ...w, ends: [moved(w.ends[0]), moved(w.ends[1])] })),
    labels: circuit.labels.map((l) => ({ ...l, end: moved(l.end) })),
  }
}
