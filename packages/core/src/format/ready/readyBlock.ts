import type { Circuit } from '../../circuit/circuit.js'
import { arranged } from '../../circuit/drawing/arrange/index.js'
import { partTexts } from '../../circuit/drawing/texts.js'
import { circuitEdit } from '../../circuit/edit/index.js'
import { readNetlist } from '../netlist/readNetlist.js'
import type { ReadyCircuit } from './ReadyCircuit.js'

/** A ready circuit without its sources, as a block that is used once: a piece to be put into a circuit. */
export function readyBlock({ id, netlist }: ReadyCircuit): Circuit {
  const { circuit } = readNetlist(netlist)
  const drawn = arranged(circuit, partTexts(circuit))
  const parts = drawn.parts.filter((p) => p.kind !== 'voltage-source' && p.kind !== 'ground').map((p) => p.id)
  const made = circuitEdit({ edit: 'make-block', args: { parts, name: id } }).apply(drawn)
  const { models, subcircuits } = made
  return {
    parts: made.parts.filter((p) => p.definition === id),
    wires: [],
    junctions: [],
    labels: [],
    ...(models && { models }),
    ...(subcircuits && { subcircuits }),
  }
}
