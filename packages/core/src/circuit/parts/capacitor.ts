import { oneValueCard, type PartKind } from './PartKind.js'

export const capacitor: PartKind = {
  id: 'capacitor',
  name: 'Capacitor',
  letter: 'C',
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  values: [{ id: 'capacitance', name: 'Capacitance', unit: 'F', default: 1e-9, range: 'nonnegative-warned' }],
  mainValue: 'capacitance',
  law: 'linear',
  usual: [1e-16, 10],
  stamp(s, { nodes: [plus, minus], values }) {
    s.store({ plus, minus }, { plus, minus }, values.capacitance)
    s.current([
      [plus, 0, values.capacitance],
      [minus, 0, -values.capacitance],
    ])
  },
  card: oneValueCard('capacitance', 'the capacitance'),
}
