import { linked, type PartKind, stampConductance, thermalNoise } from './PartKind.js'
import type { PartSymbol } from './PartSymbol.js'

const OPEN: PartSymbol = { strokes: ['M-2 0H-.9M.9 0H2', 'M-.9 0L.75 -.85'], half: [2, 1] }
const CLOSED: PartSymbol = { ...OPEN, strokes: ['M-2 0H-.9M.9 0H2', 'M-.9 0L1 -.14'] }

export const switchPart: PartKind = {
  id: 'switch',
  name: 'Switch',
  letter: 'S',
  group: 'switch',
  pins: ['a', 'b'],
  pinPlaces: { a: [-2, 0], b: [2, 0] },
  symbol: OPEN,
  symbolFor: ({ closed }) => (closed === 0 ? OPEN : CLOSED),
  values: [
    { id: 'closed', name: 'Closed (1) or open (0)', unit: '', default: 1, range: 'any' },
    { id: 'on', name: 'Resistance when closed', unit: 'Ω', default: 0.01, range: 'nonzero' },
    { id: 'off', name: 'Resistance when open', unit: 'Ω', default: 1e12, range: 'nonzero' },
  ],
  hand: {
    field: 'closed',
    positions: [
      { value: 1, name: 'closed' },
      { value: 0, name: 'open' },
    ],
  },
  dcLinks: linked('resistance', ['a', 'b']),
  check: ({ closed }) =>
    closed === 0 || closed === 1
      ? null
      : { problem: `${closed} is no state of a switch`, fix: 'Give 1 (closed) or 0 (open).' },
  stamp(s, { nodes: [a, b], values: { closed, on, off } }) {
    const g = 1 / (closed === 1 ? on : off)
    stampConductance(s, a, b, g)
    s.noise(a, b, thermalNoise(g, s.temperature))
    s.current([
      [a, g, 0],
      [b, -g, 0],
    ])
  },
  netlist: ({ closed, on, off }) => [{ letter: 'R', suffix: '', pins: ['a', 'b'], value: closed === 1 ? on : off }],
}
