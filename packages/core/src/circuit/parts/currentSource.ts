import type { PartKind } from './PartKind.js'
import { sourceCard, sourceValues } from './sources.js'

/** Drives its current from the plus pin through the source to the minus pin: out of the net at plus. */
export const currentSource: PartKind = {
  id: 'current-source',
  name: 'Current source',
  letter: 'I',
  pins: ['plus', 'minus'],
  pinPlaces: { plus: [-2, 0], minus: [2, 0] },
  values: sourceValues('A'),
  takesWaveform: true,
  stamp(s, { nodes }) {
    s.source(nodes[0], -1)
    s.source(nodes[1], 1)
  },
  card: sourceCard,
}
