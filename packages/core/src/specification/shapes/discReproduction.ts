import { complex } from '../../numeric/complex.js'
import { magnitudeDb } from '../../numeric/transferFunction.js'
import type { Shape } from './Shape.js'

/** Time constants of IEC 60098, s: the last is the amendment's roll-off below the audible. */
const [BASS, MIDDLE, TREBLE, RUMBLE] = [3180e-6, 318e-6, 75e-6, 7950e-6]

/** The reproducing characteristic of discs, 0 dB at 1 kHz. */
export const discReproduction: Shape<{ rumble: string }> = {
  id: 'disc-reproduction',
  name: 'disc-reproduction',
  character: 'Undoes the recording characteristic of discs: bass up, treble down, 0 dB at 1 kHz.',
  source: 'IEC 60098 (time constants 3180, 318 and 75 µs; amendment: 7950 µs)',
  formulas: ['H ∝ (1 + s·318 µs)/((1 + s·3180 µs)(1 + s·75 µs)), with the amendment × s·7950 µs/(1 + s·7950 µs)'],
  fields: [
    {
      id: 'rumble',
      name: 'Roll-off below 20 Hz',
      kind: 'choice',
      default: 'without',
      choices: [
        { id: 'without', name: 'Without' },
        { id: 'with', name: 'With (7950 µs)' },
      ],
    },
  ],
  transfer({ rumble }) {
    const pole = (t: number) => complex(-1 / t)
    const falls = rumble === 'with'
    const raw = {
      poles: [pole(BASS), pole(TREBLE), ...(falls ? [pole(RUMBLE)] : [])],
      zeros: [pole(MIDDLE), ...(falls ? [complex(0)] : [])],
      gain: 1,
    }
    return { ...raw, gain: 10 ** (-magnitudeDb(raw, 2 * Math.PI * 1000) / 20) }
  },
  marks: () => [20, 20_000],
}
