import type { PartKind } from './PartKind.js'

/** Names its net ground; it has no equations of its own. */
export const ground: PartKind = {
  id: 'ground',
  name: 'Ground',
  letter: 'G',
  group: 'join',
  words: ['gnd', 'earth', '0'],
  pins: ['g'],
  pinPlaces: { g: [0, 0] },
  symbol: { strokes: ['M0 0V.45M-.75 .45H.75M-.48 .75H.48M-.2 1.05H.2'], half: [0.8, 1.1], top: 0 },
  values: [],
  stamp: () => {},
}
