import type { Circuit } from './circuit.js'
import { partKind } from './parts/index.js'

/** The next free name of a part of a kind: R1, R2, … in any case of letters. */
export function freePartId(circuit: Circuit, kind: string): string {
  const taken = new Set(circuit.parts.map((p) => p.id.toUpperCase()))
  return free(kind === 'ground' ? 'GND' : partKind(kind).letter, (id) => taken.has(id.toUpperCase()))
}

const LETTERS = { wires: 'W', junctions: 'J', labels: 'N', notes: 'T' } as const

/** The next free name of a wire, a junction, a label or a note: W1, J1, N1, T1. */
export function freeId(circuit: Circuit, of: keyof typeof LETTERS): string {
  const taken = new Set((circuit[of] ?? []).map((x) => x.id))
  return free(LETTERS[of], (id) => taken.has(id))
}

function free(letter: string, isTaken: (id: string) => boolean): string {
  for (let k = 1; ; k++) if (!isTaken(`${letter}${k}`)) return `${letter}${k}`
}
