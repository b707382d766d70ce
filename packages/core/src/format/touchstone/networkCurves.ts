import type { Circuit } from '../../circuit/circuit.js'
import { formulate } from '../../analysis/mna.js'
import { portReferences } from '../../analysis/ports.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { isLeaf, parseSignal } from '../../quantity/signal.js'
import type { MeasuredCurve } from '../measured/readMeasured.js'
import type { NetworkParameter, TouchstoneData } from './readTouchstone.js'
import { renormalized } from './renormalized.js'

const UNITS: Readonly<Record<NetworkParameter, string>> = { S: '', Z: 'Ω', Y: 'S', G: '', H: '' }

/** Every entry of a Touchstone text, as a curve of the name that a signal of it has. */
export const networkCurves = ({ parameter, frequency: x, entries }: TouchstoneData): MeasuredCurve[] =>
  Object.entries(entries).map(([entry, { re, im }]) => ({
    name: `${parameter}${entry}`,
    unit: UNITS[parameter],
    samples: { over: 'frequency', x, re, im },
  }))

/**
 * Measured parameters as a circuit's signal has them: scattering parameters referred to the resistors that the signal names.
 *
 * @param signal what they were measured of, as `s21(RS,RL)`; of another kind nothing is done
 * @throws VoskelError as `renormalized`, `portReferences` and `parseSignal`
 */
export function referredTo(data: TouchstoneData, circuit: Circuit, signal: string): TouchstoneData {
  const parsed = parseSignal(signal)
  if (data.parameter !== 'S' || !isLeaf(parsed) || !/^s[12][12]$/.test(parsed.op)) return data
  const references = portReferences(formulate(circuit), parsed.of)
  // Of a one-port the signal says which port it is: s22 is that of the load.
  const own = data.ports === 1 ? [references[parsed.op === 's22' ? 1 : 0]] : references
  if (own.length !== data.ports)
    throw new VoskelError('ARGUMENT', {
      problem: `The data have ${data.ports} ports, and ${signal} names ${own.length}.`,
      fix: 'Name both resistors, as s11(RS,RL).',
    })
  return renormalized(data, own)
}
