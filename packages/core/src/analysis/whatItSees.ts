import { abs, add, complex, multiply } from '../numeric/complex.js'
import type { Signal } from '../quantity/signal.js'
import type { FlatElement } from '../circuit/parts/PartKind.js'
import { element } from './elements.js'
import type { Mna } from './mna.js'
import { AcAnalysis } from './signalAnalysis.js'

/** The circuit as one of its parts sees it: Thévenin's source, at a low frequency. */
export interface Seen {
  /** Hz at which the rest is looked at */
  readonly frequency: number
  /** Ω, its magnitude */
  readonly impedance: number
  /** What stands across its pins without it, over the input */
  readonly openVoltage: number
  /** Hz: 1/(2π·R·C) of a capacitor, R/(2π·L) of a coil; null of other parts */
  readonly corner: number | null
}

/**
 * What a part with two pins sees: the impedance of all that is left, the voltage across its open place, and the corner that
 * follows with the part.
 *
 * @param frequency Hz, low enough for the rest to be what it is at DC
 * @returns null for a part without a current of its own, or with more pins
 * @throws VoskelError `ARGUMENT`, `SINGULAR`
 */
export function whatItSees(mna: Mna, part: string, frequency: number, input?: string): Seen | null {
  const { element: own, index } = element(mna, part)
  if (own.nodes.length !== 2 || own.kind.takesWaveform || !mna.currents.has(index)) return null
  const s = complex(0, 2 * Math.PI * frequency)
  const asked = input === undefined ? {} : { input }
  const at = (output: Signal) => new AcAnalysis(mna, { ...asked, output }).at(s)
  const z = at({ op: 'z', of: [part] })
  const across = at({ op: 'v', of: own.nodes.map((node) => (node < 0 ? '0' : mna.circuit.nodes[node])) })
  // What it takes through what it sees is missing from the voltage across it.
  const open = add(across, multiply(z, at({ op: 'i', of: [part] })))
  const impedance = abs(z)
  return { frequency, impedance, openVoltage: abs(open), corner: cornerOf(own, impedance) }
}

function cornerOf({ kind, values }: FlatElement, resistance: number): number | null {
  if (kind.id === 'capacitor') return 1 / (2 * Math.PI * resistance * values.capacitance)
  return kind.id === 'inductor' ? resistance / (2 * Math.PI * values.inductance) : null
}
