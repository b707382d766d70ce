import type { PartKind } from './PartKind.js'
import { describeSource, sourceCard, sourceValues } from './sources.js'
import { circle } from './PartSymbol.js'

/** Drives its current from the plus pin through the source to the minus pin: out of the net at plus. */
export const currentSource: PartKind = {
  id: 'current-source',
  name: 'Current source',
  letter: 'I',
  group: 'drive',
  words: ['current'],
  usuallyToGround: true,
  pins: ['plus', 'minus'],
  pinPlaces: { plus: [-2, 0], minus: [2, 0] },
  symbol: { strokes: ['M-2 0H-1M1 0H2', circle(1), 'M0 -1V1'], half: [2, 1.1] },
  values: sourceValues('A'),
  takesWaveform: true,
  describe: describeSource('A'),
  stamp(s, { nodes }) {
    s.source(nodes[0], -1)
    s.source(nodes[1], 1)
  },
  card: sourceCard,
}
