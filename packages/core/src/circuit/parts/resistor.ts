import { linked, oneValueCard, type PartKind, stampConductance, thermalNoise } from './PartKind.js'

export const resistor: PartKind = {
  id: 'resistor',
  name: 'Resistor',
  letter: 'R',
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  values: [{ id: 'resistance', name: 'Resistance', unit: 'Ω', default: 1e3, range: 'nonzero' }],
  mainValue: 'resistance',
  law: 'inverse',
  dcLinks: linked('resistance', ['a', 'b']),
  usual: [1e-3, 1e12],
  stamp(s, { nodes: [a, b], values }) {
    const g = 1 / values.resistance
    stampConductance(s, a, b, g)
    s.noise(a, b, thermalNoise(g, s.temperature))
    s.current([
      [a, g, 0],
      [b, -g, 0],
    ])
  },
  card: oneValueCard('resistance', 'the resistance'),
}
