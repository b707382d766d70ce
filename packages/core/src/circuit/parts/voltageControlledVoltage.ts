import { oneValueCard, type PartKind, stampBranch } from './PartKind.js'

/** v(plus, minus) = gain · v(senseplus, senseminus). */
export const voltageControlledVoltage: PartKind = {
  id: 'vcvs',
  name: 'Voltage-controlled voltage source',
  letter: 'E',
  pins: ['plus', 'minus', 'sensePlus', 'senseMinus'],
  pinPlaces: { plus: [2, -2], minus: [2, 2], sensePlus: [-2, -2], senseMinus: [-2, 2] },
  values: [{ id: 'gain', name: 'Gain', unit: '', default: 1, range: 'any' }],
  mainValue: 'gain',
  stamp(s, { nodes, values }) {
    const k = stampBranch(s, nodes[0], nodes[1])
    s.entry(k, nodes[2], -values.gain)
    s.entry(k, nodes[3], values.gain)
  },
  card: oneValueCard('gain', 'the gain'),
}
