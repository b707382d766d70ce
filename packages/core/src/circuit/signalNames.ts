import type { SignalNames } from '../quantity/signalCompletion.js'
import type { Circuit } from './circuit.js'
import { GROUND_NAME } from './flatten.js'
import { NetMap } from './NetMap.js'
import { partKind } from './parts/index.js'

/** What a signal of a circuit can be made of; without a circuit, nothing. */
export function signalNames(circuit: Circuit | null): SignalNames {
  if (!circuit) return { nets: [], parts: [], sources: [], parameters: [] }
  const kinds = circuit.parts.map((part) => ({ id: part.id, kind: partKind(part.kind, part.id) }))
  const isNamed = (net: string) => !/^\d+$/.test(net)
  const nets = NetMap.of(circuit).nets.filter((net) => net !== GROUND_NAME)
  return {
    // Those that somebody has named come first.
    nets: [...nets.filter(isNamed), ...nets.filter((net) => !isNamed(net))],
    parts: kinds.filter(({ kind }) => kind.id !== 'ground' && kind.pins.length > 0).map(({ id }) => id),
    sources: kinds.filter(({ kind }) => kind.takesWaveform).map(({ id }) => id),
    parameters: Object.keys(circuit.parameters ?? {}),
  }
}
