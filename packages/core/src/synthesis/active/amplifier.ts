import { IDEAL_OPAMP_GAIN } from '../../circuit/parts/PartKind.js'
import type { QuantityField } from '../../specification/fields.js'

/** Classes of amplifiers: orders of magnitude of the trade (common practice, no source). */
const CLASSES = [
  { id: 'general', name: 'General purpose', gain: 2e5, bandwidth: 1e6, slew: 5e5, swing: 13, noise: 2e-8, output: 75 },
  { id: 'audio', name: 'Low noise', gain: 1e5, bandwidth: 1e7, slew: 1e7, swing: 13, noise: 5e-9, output: 50 },
  { id: 'precise', name: 'Precise', gain: 5e6, bandwidth: 1e6, slew: 3e5, swing: 13, noise: 1e-8, output: 60 },
  { id: 'fast', name: 'Fast', gain: 1e4, bandwidth: 2e8, slew: 4e8, swing: 3.5, noise: 4e-9, output: 10 },
  { id: 'low-power', name: 'Low power', gain: 1e5, bandwidth: 5e4, slew: 2e4, swing: 2.2, noise: 1e-7, output: 1000 },
] as const

const quantity = (id: string, name: string, unit: string, value: number): QuantityField => ({
  id,
  name,
  kind: 'quantity',
  unit,
  default: value,
  optional: true,
  above: 0,
})

export const AMPLIFIER_FIELD = {
  id: 'amplifier',
  name: 'Amplifier',
  kind: 'record',
  default: 'ideal',
  choices: [{ id: 'ideal', name: 'Ideal' }, ...CLASSES.map(({ id, name }) => ({ id, name }))],
  fields: [
    quantity('gain', 'Open-loop gain', 'V/V', 1e5),
    quantity('bandwidth', 'Gain × bandwidth', 'Hz', 1e6),
    quantity('slew', 'Slew rate', 'V/s', 5e5),
    quantity('swing', 'Swing', 'V', 13),
    quantity('noise', 'Noise', 'V/√Hz', 2e-8),
    quantity('output', 'Output resistance', 'Ω', 75),
  ],
} as const

/** What an amplifier is given as: a class, or numbers of its own. */
export type Amplifier = string | Readonly<Record<string, number>>

/** Gain, bandwidth (Hz), slew (V/s), swing (V), noise (V/√Hz) and output resistance (Ω) where they are known. */
export function amplifierNumbers(amplifier: Amplifier): Readonly<Record<string, number>> {
  if (typeof amplifier !== 'string') return amplifier
  const known = CLASSES.find((c) => c.id === amplifier)
  if (!known) return {}
  const { id: _id, name: _name, ...numbers } = known
  return numbers
}

/** The values of the model that all amplifiers of a circuit share. */
export function amplifierOf({ amplifier }: { amplifier: Amplifier }): { model: Readonly<Record<string, number>> } {
  const { gain = IDEAL_OPAMP_GAIN, bandwidth, slew, swing, noise, output } = amplifierNumbers(amplifier)
  return {
    model: {
      gain,
      ...(bandwidth !== undefined && { gainBandwidth: bandwidth }),
      // A slew rate is that of the stage that makes the bandwidth.
      ...(slew !== undefined && { gainBandwidth: bandwidth ?? 1e6, slewRate: slew }),
      ...(swing !== undefined && { outputHigh: swing, outputLow: -swing }),
      ...(noise !== undefined && { noiseVoltage: noise }),
      ...(output !== undefined && { outputResistance: output }),
    },
  }
}
