import { oneValueCard, type PartKind, realField, stampBranch, stampResistance } from './PartKind.js'
import {
  asNetlist,
  atTemperature,
  bothOrNone,
  resonantWith,
  stampAcross,
  TEMPERATURE_COEFFICIENTS,
  TEMPERATURE_FIELDS,
} from './realPassive.js'

type Values = Readonly<Record<string, number>>

/** Resistance in series, Ω: what is given, and what the loss factor tan δ makes at its frequency. */
const seriesResistance = ({ capacitance, seriesResistance, lossFactor, lossFrequency }: Values): number =>
  seriesResistance +
  (lossFactor > 0 && capacitance !== 0 ? lossFactor / (2 * Math.PI * lossFrequency * capacitance) : 0)

/** Inductance in series, H: what is given, and what makes the part resonate. */
const seriesInductance = ({ capacitance, seriesInductance, selfResonance }: Values): number =>
  seriesInductance + resonantWith(capacitance, selfResonance)

/** A capacitance; a real one has a resistance and an inductance in series with it and a leakage across all. */
export const capacitor: PartKind = {
  id: 'capacitor',
  name: 'Capacitor',
  letter: 'C',
  group: 'store',
  words: ['cap', 'capacitance'],
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  symbol: { strokes: ['M-2 0H-.22M.22 0H2', 'M-.22 -.85V.85M.22 -.85V.85'], half: [2, 1] },
  values: [
    { id: 'capacitance', name: 'Capacitance', unit: 'F', default: 1e-9, range: 'nonnegative-warned' },
    realField('seriesResistance', 'Series resistance', 'Ω'),
    realField('lossFactor', 'Loss factor (tan δ)', ''),
    realField('lossFrequency', 'Frequency of the loss factor', 'Hz'),
    realField('seriesInductance', 'Series inductance', 'H'),
    realField('selfResonance', 'Self-resonant frequency', 'Hz'),
    realField('parallelResistance', 'Leakage resistance (0: none)', 'Ω'),
    ...TEMPERATURE_FIELDS,
  ],
  mainValue: 'capacitance',
  notInNetlist: TEMPERATURE_COEFFICIENTS,
  sensitive: true,
  usual: [1e-16, 10],
  check: (values) => bothOrNone(values, 'lossFactor', 'lossFrequency'),
  stamp(s, { nodes: [a, b], values }) {
    const capacitance = atTemperature(values.capacitance, values, s.temperature)
    const [resistance, inductance] = [seriesResistance(values), seriesInductance(values)]
    const terms: [number, number, number][] = []
    let plus = a
    if (inductance > 0) {
      plus = s.net('coil')
      const branch = stampBranch(s, a, plus)
      s.store({ branch }, { branch }, inductance)
      terms.push([branch, 1, 0])
    }
    let minus = b
    if (resistance > 0) {
      minus = s.net('plate')
      stampResistance(s, minus, b, resistance)
    }
    s.store({ plus, minus }, { plus, minus }, capacitance)
    if (inductance === 0) terms.push([plus, 0, capacitance], [minus, 0, -capacitance])
    stampAcross(s, a, b, { resistance: values.parallelResistance, capacitance: 0 }, terms)
    s.current(terms)
  },
  card: oneValueCard('capacitance', 'the capacitance'),
  netlist: (values) =>
    asNetlist(
      [
        ['C', values.capacitance],
        ['R', seriesResistance(values)],
        ['L', seriesInductance(values)],
      ],
      { resistance: values.parallelResistance, capacitance: 0 },
    ),
}
