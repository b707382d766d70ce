import {
  linked,
  oneValueCard,
  type PartKind,
  realField,
  stampBranch,
  stampConductance,
  stampResistance,
  thermalNoise,
} from './PartKind.js'
import { asNetlist, atTemperature, stampAcross, TEMPERATURE_COEFFICIENTS, TEMPERATURE_FIELDS } from './realPassive.js'
import { RESISTANCE, ZIGZAG } from './PartSymbol.js'

/** A resistance; a real one has an inductance in series with it and a capacitance across both. */
export const resistor: PartKind = {
  id: 'resistor',
  name: 'Resistor',
  letter: 'R',
  group: 'resist',
  words: ['resistance', 'ohm'],
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  symbol: { strokes: RESISTANCE, zigzag: ZIGZAG, half: [2, 0.7] },
  values: [
    { id: 'resistance', name: 'Resistance', unit: 'Ω', default: 1e3, range: 'nonzero' },
    realField('seriesInductance', 'Series inductance', 'H'),
    realField('parallelCapacitance', 'Parallel capacitance', 'F'),
    ...TEMPERATURE_FIELDS,
  ],
  mainValue: 'resistance',
  notInNetlist: TEMPERATURE_COEFFICIENTS,
  sensitive: true,
  dcLinks: linked('resistance', ['a', 'b']),
  usual: [1e-3, 1e12],
  stamp(s, { nodes: [a, b], values }) {
    const { seriesInductance, parallelCapacitance } = values
    const resistance = atTemperature(values.resistance, values, s.temperature)
    const terms: [number, number, number][] = []
    if (seriesInductance > 0) {
      const inner = s.net('inner')
      stampResistance(s, a, inner, resistance)
      const branch = stampBranch(s, inner, b)
      s.store({ branch }, { branch }, seriesInductance)
      terms.push([branch, 1, 0])
    } else {
      const g = 1 / resistance
      stampConductance(s, a, b, g)
      s.noise(a, b, thermalNoise(g, s.temperature))
      terms.push([a, g, 0], [b, -g, 0])
    }
    stampAcross(s, a, b, { resistance: 0, capacitance: parallelCapacitance }, terms)
    s.current(terms)
  },
  card: oneValueCard('resistance', 'the resistance'),
  netlist: ({ resistance, seriesInductance, parallelCapacitance }) =>
    asNetlist(
      [
        ['R', resistance],
        ['L', seriesInductance],
      ],
      { resistance: 0, capacitance: parallelCapacitance },
    ),
}
