import { linked, type PartKind, stampBranch } from './PartKind.js'
import { describeSource, sourceCard, sourceValues } from './sources.js'
import { circle } from './PartSymbol.js'

/** Its current counts from the plus pin through the source to the minus pin. */
export const voltageSource: PartKind = {
  id: 'voltage-source',
  name: 'Voltage source',
  letter: 'V',
  group: 'drive',
  words: ['source', 'voltage'],
  usuallyToGround: true,
  pins: ['plus', 'minus'],
  pinPlaces: { plus: [-2, 0], minus: [2, 0] },
  symbol: { strokes: ['M-2 0H2', circle(1)], texts: [{ x: -1.45, y: -0.55, text: '+' }], half: [2, 1.1] },
  values: sourceValues('V'),
  takesWaveform: true,
  describe: describeSource('V'),
  dcLinks: linked('voltage', ['plus', 'minus']),
  stamp(s, { nodes }) {
    s.source(stampBranch(s, nodes[0], nodes[1]), 1)
  },
  card: sourceCard,
}
