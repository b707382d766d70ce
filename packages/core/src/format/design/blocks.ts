import type { DesignCircuit } from './Design.js'
import type { Block } from './Upgrade.js'

/** The circuits that a design keeps, with their paths. */
export function blocksOf(circuit: DesignCircuit): Block[] {
  if (circuit.origin === 'drawn') return [['circuit.circuit', circuit.circuit]]
  return circuit.witness ? [['circuit.witness', circuit.witness]] : []
}
