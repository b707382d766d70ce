import { capacitor, resistor } from '../../twoPole.js'
import { besideEach, drawArms } from './drawArms.js'
import { type Five, floatingConverter, groundedConverter } from './converterParts.js'
import { DRAIN, DRAIN_FIELD, LARGEST, simulatedLadder } from './simulated.js'

const FIVE: Five = ['C1', 'R2', 'R3', 'R4', 'C5']

/** Equal resistors that make D = R·C², of Z = 1/(s²·D). */
function valuesOf(d: number, size: number) {
  const R = d / (size * size)
  return { C1: size, R2: R, R3: R, R4: R, C5: size }
}

/** Every impedance of the ladder over s: coils become resistors, resistors capacitors, capacitors what two amplifiers make. */
export const fdnrLadder = simulatedLadder({
  id: 'fdnr-ladder',
  name: 'Ladder with frequency-dependent negative resistances',
  character:
    'The LC ladder with every impedance divided by frequency: no coils, two amplifiers for each capacitor to ground.',
  source:
    'L. T. Bruton, "Network transfer functions using the concept of frequency-dependent negative resistance", IEEE Trans. CT-16, 1969, 406–408',
  formulas: [
    'Z → κ·Z/s, κ = 1/(R·C): L → R = κ·L, R → C = 1/(κ·R), C → D = C/κ with Z = 1/(s²·D)',
    'D = C₁·C₅·R₂·R₄/R₃',
  ],
  near: 1e-6,
  own: [DRAIN_FIELD],
  remarks: [
    'The resistances beside the end capacitors only give DC a way: in a real circuit some megohms (drain) do, and cost a little at low frequencies.',
    'Behind a resistor, as in traps and band-passes, such an element may oscillate with amplifiers that are not ideal: look at the poles with the amplifier that is meant.',
  ],
  draw({ sketch, arms, source, load, size, level, dc, given }) {
    const scale = 1 / ((source ?? load!) * size)
    // The one at the load is dc/(1 − dc) times as large.
    const larger = dc === null || dc === 1 ? 1 : Math.max(1, dc / (1 - dc))
    const drain = (given.drain as number | undefined) ?? Math.min(DRAIN * level, LARGEST / larger)
    const series = arms.reduce((sum, arm) => sum + (arm.place === 'series' ? (arm.l ?? 0) * scale : 0), 0)
    // At DC the large resistances divide as the capacitors do above it.
    const lower = dc === null || dc === 1 ? drain : (dc * (drain + series)) / (1 - dc)
    return drawArms(sketch, {
      arms,
      source: source === undefined ? null : besideEach(capacitor(1 / (scale * source)), drain),
      load:
        load === undefined
          ? null
          : source === undefined && dc !== null
            ? capacitor(1 / (scale * load))
            : besideEach(capacitor(1 / (scale * load)), lower),
      coil: (l) => resistor(scale * l),
      capacitor: {
        inLine: (line, c) => floatingConverter(line, FIVE, valuesOf(c / scale, size)),
        toGround: (line, c, below) => groundedConverter(line, FIVE, valuesOf(c / scale, size), below),
      },
      drain: dc === null ? drain : undefined,
    })
  },
})
