import { oneValueCard, type PartKind, stampAdmittance } from './PartKind.js'

export const resistor: PartKind = {
  id: 'resistor',
  name: 'Resistor',
  letter: 'R',
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  values: [{ id: 'resistance', name: 'Resistance', unit: 'Ω', default: 1e3, range: 'nonzero' }],
  mainValue: 'resistance',
  stamp(s, { nodes, values }) {
    stampAdmittance(s, nodes[0], nodes[1], 1 / values.resistance, 0)
  },
  card: oneValueCard('resistance', 'the resistance'),
}
