import { linked, oneValueCard, type PartKind, stampBranch } from './PartKind.js'

/** v = L·di/dt; its current is an unknown, so that L = 0 is a short. */
export const inductor: PartKind = {
  id: 'inductor',
  name: 'Inductor',
  letter: 'L',
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  values: [{ id: 'inductance', name: 'Inductance', unit: 'H', default: 1e-3, range: 'nonnegative-warned' }],
  mainValue: 'inductance',
  law: 'linear',
  dcLinks: linked('voltage', ['a', 'b']),
  usual: [1e-12, 1e4],
  stamp(s, { nodes, values }) {
    const k = stampBranch(s, nodes[0], nodes[1])
    s.store({ branch: k }, { branch: k }, values.inductance)
  },
  card: oneValueCard('inductance', 'the inductance'),
}
