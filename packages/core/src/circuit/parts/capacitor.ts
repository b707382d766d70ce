import { oneValueCard, type PartKind, stampAdmittance } from './PartKind.js'

export const capacitor: PartKind = {
  id: 'capacitor',
  name: 'Capacitor',
  letter: 'C',
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  values: [{ id: 'capacitance', name: 'Capacitance', unit: 'F', default: 1e-9, range: 'nonnegative-warned' }],
  mainValue: 'capacitance',
  stamp(s, { nodes, values }) {
    stampAdmittance(s, nodes[0], nodes[1], 0, values.capacitance)
    s.store({ kind: 'capacitance', plus: nodes[0], minus: nodes[1], value: values.capacitance })
  },
  card: oneValueCard('capacitance', 'the capacitance'),
}
