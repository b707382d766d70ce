import type { Circuit } from '../circuit/circuit.js'
import { partKind } from '../circuit/parts/index.js'

/** How many parts are bought: sources and ground are not. */
export const boughtParts = (circuit: Circuit): number =>
  circuit.parts.filter((p) => p.kind !== 'ground' && !partKind(p.kind).takesWaveform).length

/** The main values of all parts of a kind. */
export function valuesOf(circuit: Circuit, kind: string): number[] {
  const { mainValue } = partKind(kind)
  return circuit.parts.flatMap((p) => (p.kind === kind && mainValue ? [p.values[mainValue]] : []))
}

/** Largest over smallest value of one kind of part, of the kind where that is most. */
export function valueSpread(circuit: Circuit): number {
  const ratios = ['resistor', 'capacitor', 'inductor'].map((kind) => {
    const values = valuesOf(circuit, kind)
    return values.length > 1 ? Math.max(...values) / Math.min(...values) : 1
  })
  return Math.max(...ratios)
}
