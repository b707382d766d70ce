/**
 * Graphical symbols after IEC 60617, in grid units around the part's centre, unrotated; y points down. Strokes are
 * drawn in ink; `text` stands upright.
 */
export interface PartSymbol {
  readonly strokes: readonly string[]
  readonly texts?: readonly { readonly x: number; readonly y: number; readonly text: string }[]
  /** Half width and half height, with room for a finger. */
  readonly half: readonly [number, number]
}

const ROUND = (r: number) => `M${-r} 0A${r} ${r} 0 1 1 ${r} 0A${r} ${r} 0 1 1 ${-r} 0`

export const symbols: Readonly<Record<string, PartSymbol>> = {
  resistor: { strokes: ['M-2 0H-1.25M1.25 0H2', 'M-1.25 -.45H1.25V.45H-1.25Z'], half: [2, 0.7] },
  capacitor: { strokes: ['M-2 0H-.22M.22 0H2', 'M-.22 -.85V.85M.22 -.85V.85'], half: [2, 1] },
  inductor: {
    strokes: [
      'M-2 0H-1.5M1.5 0H2',
      'M-1.5 0a.375 .42 0 0 1 .75 0a.375 .42 0 0 1 .75 0a.375 .42 0 0 1 .75 0a.375 .42 0 0 1 .75 0',
    ],
    half: [2, 0.7],
  },
  'voltage-source': { strokes: ['M-2 0H2', ROUND(1)], texts: [{ x: -1.45, y: -0.55, text: '+' }], half: [2, 1.1] },
  'current-source': { strokes: ['M-2 0H-1M1 0H2', ROUND(1), 'M0 -1V1'], half: [2, 1.1] },
  vcvs: { strokes: ['M2 -2V-1M2 1V2M2 -1L3 0L2 1L1 0ZM2 -1V1', 'M-2 -2H-1M-2 2H-1'], half: [3, 2.2] },
  opamp: {
    strokes: ['M-3 -1H-2M-3 1H-2M2 0H3', 'M-2 -2H2V2H-2Z', 'M-.55 -1.55L.05 -1.2L-.55 -.85Z'],
    texts: [
      { x: -1.6, y: -1, text: '+' },
      { x: -1.6, y: 1, text: '\u2212' },
      { x: 0.85, y: -1.2, text: '∞' },
    ],
    half: [3, 2],
  },
  transformer: {
    strokes: [
      `M-2 -2H-.9V-1.5${'a.42 .375 0 0 1 0 .75'.repeat(4)}V2H-2`,
      `M2 -2H.9V-1.5${'a.42 .375 0 0 0 0 .75'.repeat(4)}V2H2`,
    ],
    half: [2, 2.2],
  },
  ground: { strokes: ['M0 0V.45M-.75 .45H.75M-.48 .75H.48M-.2 1.05H.2'], half: [0.8, 1.1] },
}
