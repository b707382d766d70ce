import { capacitor, resistor } from '../../twoPole.js'
import { type Five, floatingConverter, groundedConverter } from './converterParts.js'
import { drawArms } from './drawArms.js'
import { DRAIN_FIELD, LARGEST, simulatedLadder } from './simulated.js'

const FIVE: Five = ['R1', 'C2', 'R3', 'R4', 'R5']

/** Equal resistors that make L = R²·C. */
function valuesOf(l: number, size: number) {
  const R = Math.sqrt(l / size)
  return { R1: R, C2: size, R3: R, R4: R, R5: R }
}

/** Each coil of the ladder by two amplifiers, of four where it lies in the line. */
export const gyratorLadder = simulatedLadder({
  id: 'gyrator-ladder',
  name: 'Ladder with simulated coils',
  character: 'The LC ladder with amplifiers instead of coils: little sensitive, as the ladder is; many amplifiers.',
  source:
    'A. Antoniou, Proc. IEE 116, 1969, 1838–1850; J. Gorski-Popiel, Electronics Letters 3, 1967, 381–382 for coils in the line (from memory)',
  formulas: ['L = R₁·R₃·R₅·C₂/R₄; between two converters the resistor R₅ looks like a coil in the line'],
  near: 1e-6,
  own: [DRAIN_FIELD],
  remarks: [
    'A coil in the line is two converters, whose capacitors both hold its current: the resistances beside them only make one of it at DC. In a real circuit some megohms (drain) do.',
  ],
  draw: ({ sketch, arms, source, load, size, given }) => {
    const drain = (given.drain as number | undefined) ?? LARGEST
    return drawArms(sketch, {
      arms,
      source: source === undefined ? null : resistor(source),
      load: load === undefined ? null : resistor(load),
      coil: {
        inLine: (line, l) => floatingConverter(line, FIVE, { ...valuesOf(l, size), R6: drain }, 'R6'),
        toGround: (line, l, below) => groundedConverter(line, FIVE, valuesOf(l, size), below),
      },
      capacitor,
    })
  },
})
