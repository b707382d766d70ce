import { waveformKind } from '../circuit/waveforms/index.js'
import type { FlatElement } from '../circuit/parts/PartKind.js'
import type { Mna } from './mna.js'
import { RealSystem } from './realSystem.js'

/**
 * The DC solution of a linear circuit: inductors short, capacitors open.
 *
 * @param value what each independent source gives; its bias when left out
 * @returns one value an unknown: V for nets, A for branches
 * @throws VoskelError `SINGULAR` where a net has no DC path to ground, or ideal sources form a loop
 */
export function operatingPoint(mna: Mna, value: (source: FlatElement) => number = (s) => s.values.bias): Float64Array {
  const system = new RealSystem(mna, [0], 'at DC')
  system.factor(0)
  const b = new Float64Array(mna.size)
  for (const { row, sign, element } of mna.sources) b[row] += sign * value(mna.circuit.elements[element])
  const x = new Float64Array(mna.size)
  system.solve(b, x)
  return x
}

/** What a source gives before a transient begins. */
export function initialValue(source: FlatElement): number {
  return source.waveform ? waveformKind(source.waveform).initial(source.waveform) : source.values.bias
}
