import { linked, oneValueCard, type PartKind, realField, stampBranch, stampSeries } from './PartKind.js'
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

/** Resistance in series, Ω: what is given, and what the quality factor makes at its frequency. */
const seriesResistance = ({ inductance, seriesResistance, quality, qualityFrequency }: Values): number =>
  seriesResistance + (quality > 0 ? (2 * Math.PI * qualityFrequency * Math.abs(inductance)) / quality : 0)

/** Capacitance across, F: what is given, and what makes the part resonate. */
const parallelCapacitance = ({ inductance, parallelCapacitance, selfResonance }: Values): number =>
  parallelCapacitance + resonantWith(Math.abs(inductance), selfResonance)

/** The inductance of an inductor, H, at a temperature, K. */
export const inductanceAt = (values: Values, temperature: number): number =>
  atTemperature(values.inductance, values, temperature)

/**
 * v = L·di/dt; its current is an unknown, so that L = 0 is a short. A real one has a resistance in series and a
 * capacitance and a resistance across both.
 */
export const inductor: PartKind = {
  id: 'inductor',
  name: 'Inductor',
  letter: 'L',
  group: 'store',
  words: ['coil', 'inductance', 'choke'],
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  symbol: {
    strokes: ['M-2 0H-1.5M1.5 0H2', `M-1.5 0${'a.375 .42 0 0 1 .75 0'.repeat(4)}`],
    half: [2, 0.7],
  },
  values: [
    { id: 'inductance', name: 'Inductance', unit: 'H', default: 1e-3, range: 'nonnegative-warned' },
    realField('seriesResistance', 'Series resistance', 'Ω'),
    realField('quality', 'Quality factor', ''),
    realField('qualityFrequency', 'Frequency of the quality factor', 'Hz'),
    realField('parallelResistance', 'Parallel resistance (0: none)', 'Ω'),
    realField('parallelCapacitance', 'Parallel capacitance', 'F'),
    realField('selfResonance', 'Self-resonant frequency', 'Hz'),
    ...TEMPERATURE_FIELDS,
  ],
  mainValue: 'inductance',
  notInNetlist: TEMPERATURE_COEFFICIENTS,
  sensitive: true,
  dcLinks: linked('voltage', ['a', 'b']),
  usual: [1e-12, 1e4],
  check: (values) => bothOrNone(values, 'quality', 'qualityFrequency'),
  stamp(s, { nodes: [a, b], values }) {
    const inner = stampSeries(s, a, seriesResistance(values), 'inner')
    const branch = stampBranch(s, inner, b)
    s.store({ branch }, { branch }, inductanceAt(values, s.temperature))
    const terms: [number, number, number][] = [[branch, 1, 0]]
    const across = { resistance: values.parallelResistance, capacitance: parallelCapacitance(values) }
    stampAcross(s, a, b, across, terms)
    s.current(terms)
  },
  card: oneValueCard('inductance', 'the inductance'),
  netlist: (values) =>
    asNetlist(
      [
        ['L', values.inductance],
        ['R', seriesResistance(values)],
      ],
      { resistance: values.parallelResistance, capacitance: parallelCapacitance(values) },
    ),
}
