import type { PartKind } from './PartKind.js'

/** Names its net ground; it has no equations of its own. */
export const ground: PartKind = {
  id: 'ground',
  name: 'Ground',
  letter: 'G',
  pins: ['g'],
  pinPlaces: { g: [0, 0] },
  values: [],
  stamp: () => {},
}
