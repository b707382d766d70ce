import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, End } from '../circuit.js'
import { GROUND_NAME } from '../flatten.js'
import { NetMap, type Pin } from '../NetMap.js'
import { freeId, freePartId } from '../ids.js'

/** Joins an end to a net: by a ground of its own, by its name where it has one, by a wire to one of its pins otherwise. */
export function joinedToNet(circuit: Circuit, end: End, net: string): Circuit {
  if (net === GROUND_NAME) return grounded(circuit, end)
  if (circuit.labels.some((l) => l.name === net)) return named(circuit, end, net)
  return wired(circuit, pinOn(circuit, net), end)
}

/** The circuit with a ground at an end. */
export function grounded(circuit: Circuit, end: End): Circuit {
  const id = freePartId(circuit, 'ground')
  return wired({ ...circuit, parts: [...circuit.parts, { id, kind: 'ground', values: {} }] }, end, {
    part: id,
    pin: 'g',
  })
}

/** The circuit with a net's name at an end. */
export const named = (circuit: Circuit, end: End, name: string): Circuit => ({
  ...circuit,
  labels: [...circuit.labels, { id: freeId(circuit, 'labels'), name, end }],
})

/** The circuit with a wire from end to end. */
export const wired = (circuit: Circuit, from: End, to: End): Circuit => ({
  ...circuit,
  wires: [...circuit.wires, { id: freeId(circuit, 'wires'), ends: [from, to] }],
})

/** A pin on a net. @throws VoskelError `CIRCUIT_INVALID` where no part lies on it */
export function pinOn(circuit: Circuit, net: string): Pin {
  const [pin] = NetMap.of(circuit).pinsOf(net)
  if (pin) return pin
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `There is no net "${net}" in this circuit.`,
    fix: 'Name a net that a part lies on.',
  })
}

export const isAt = (end: End, part: string, pin: string): boolean =>
  'part' in end && end.part === part && end.pin === pin

/** The circuit with every end of a wire or a label put where `to` says. */
export const movedEnds = (circuit: Circuit, to: (end: End) => End): Circuit => ({
  ...circuit,
  wires: circuit.wires.map((w) => ({ ...w, ends: [to(w.ends[0]), to(w.ends[1])] })),
  labels: circuit.labels.map((l) => ({ ...l, end: to(l.end) })),
})

/** Where wires and names of nets end. */
export const joinedEnds = ({ wires, labels }: Circuit): End[] => [
  ...wires.flatMap((w) => w.ends),
  ...labels.map((l) => l.end),
]
