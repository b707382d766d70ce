import type { PartKind } from './PartKind.js'

/** v(primary) = ratio · v(secondary), at every frequency; the power that goes in comes out. */
export const transformer: PartKind = {
  id: 'transformer',
  name: 'Ideal transformer',
  letter: 'T',
  group: 'store',
  grows: { from: 'primary', to: 'secondary' },
  flow: { in: ['primary', 'primaryReturn'], out: ['secondary', 'secondaryReturn'] },
  pins: ['primary', 'primaryReturn', 'secondary', 'secondaryReturn'],
  pinPlaces: { primary: [-2, -2], primaryReturn: [-2, 2], secondary: [2, -2], secondaryReturn: [2, 2] },
  symbol: {
    strokes: [
      `M-2 -2H-.9V-1.5${'a.42 .375 0 0 1 0 .75'.repeat(4)}V2H-2`,
      `M2 -2H.9V-1.5${'a.42 .375 0 0 0 0 .75'.repeat(4)}V2H2`,
    ],
    half: [2, 2.2],
  },
  values: [{ id: 'ratio', name: 'Turns ratio, primary to secondary', unit: '', default: 1, range: 'nonzero' }],
  mainValue: 'ratio',
  sensitive: true,
  stamp(s, { nodes: [p, pr, q, qr], values: { ratio } }) {
    const k = s.branch()
    for (const [net, turns] of [
      [p, 1],
      [pr, -1],
      [q, -ratio],
      [qr, ratio],
    ] as const) {
      s.entry(net, k, turns)
      s.entry(k, net, turns)
    }
    s.current([[k, 1, 0]])
  },
  netlist: ({ ratio }) => [
    { letter: 'E', suffix: '', pins: ['primary', 'primaryReturn', 'secondary', 'secondaryReturn'], value: ratio },
    // The secondary's current is the primary's, turned over and multiplied.
    { letter: 'F', suffix: '', pins: ['secondary', 'secondaryReturn'], senses: 'E', value: -ratio },
  ],
}
