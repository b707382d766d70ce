import type { PartKind } from './PartKind.js'

/** A use of one of the circuit's own definitions; flattening replaces it, so it has no equations itself. */
export const subcircuit: PartKind = {
  id: 'subcircuit',
  name: 'Subcircuit',
  letter: 'X',
  group: 'join',
  // Pins are numbered p1, p2, … by the definition.
  pins: [],
  pinPlaces: {},
  symbol: { strokes: ['M-2 -2H2V2H-2Z'], half: [2, 2] },
  values: [],
  stamp: () => {},
}
