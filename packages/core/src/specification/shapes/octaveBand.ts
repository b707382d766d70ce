import { toBandpass } from '../../numeric/reactanceTransform.js'
import { circleRoots } from '../../numeric/roots.js'
import { CLASS_FIELD, frequencyField, type LimitPoint, type Shape } from './Shape.js'

/** The octave ratio of IEC 61260-1:2014, 10^(3/10). */
const G = 10 ** 0.3

/** Least order of a Butterworth prototype that keeps the limits of class 1. */
const ORDER = 3

/**
 * Limits of the attenuation against the midband, dB, at G^x of an octave filter: x, class 1 least and most, class 2 least
 * and most; IEC 61260-1:2014, table 1 (from memory). Up to the band edge, x = ½, and from it on.
 */
const INSIDE: readonly (readonly [number, number, number, number, number])[] = [
  [0, -0.4, 0.4, -0.6, 0.6],
  [1 / 8, -0.4, 0.5, -0.6, 0.7],
  [1 / 4, -0.4, 0.7, -0.6, 0.9],
  [3 / 8, -0.4, 1.4, -0.6, 1.7],
  [0.4999, -0.4, 5.3, -0.6, 5.8],
]
const OUTSIDE: readonly (readonly [number, number, number])[] = [
  [0.5001, 1.2, 0.8],
  [1, 16.6, 15.6],
  [2, 40.5, 39.5],
  [3, 60, 54],
  [4, 70, 60],
]

type Band = {
  midband: number
  fraction: string
  class: string
}

/** Where a point of the octave's table lies for a fraction of it: annexes of the standard map the distances from the edge. */
function placed(x: number, fraction: number): number {
  const octave = G ** x
  return 1 + ((G ** (1 / (2 * fraction)) - 1) / (G ** 0.5 - 1)) * (octave - 1)
}

/** One band of an octave or third-octave analyser. */
export const octaveBand: Shape<Band> = {
  id: 'octave-band',
  name: 'octave-band',
  character: 'One band of an octave or third-octave analyser with the limits of its class.',
  source: 'IEC 61260-1:2014 (limits from memory)',
  formulas: ['Butterworth band-pass of order 3 between f·G^(±1/2b), G = 10^(3/10)'],
  fields: [
    frequencyField('midband', 'Midband', 1000),
    {
      id: 'fraction',
      name: 'Band',
      kind: 'choice',
      default: '1',
      choices: [
        { id: '1', name: 'Octave' },
        { id: '3', name: 'Third octave' },
      ],
    },
    CLASS_FIELD,
  ],
  transfer({ midband, fraction }) {
    const w = 2 * Math.PI * midband
    const half = G ** (1 / (2 * Number(fraction)))
    return toBandpass({ poles: circleRoots(ORDER, 1), zeros: [], gain: 1 }, w, w * (half - 1 / half))
  },
  marks: ({ midband, fraction }) => {
    const half = G ** (1 / (2 * Number(fraction)))
    return [midband, midband * half, midband / half]
  },
  limits({ midband, fraction, class: wanted }) {
    const first = wanted === '1'
    const upper: LimitPoint[] = [
      ...INSIDE.map(([x, a, b, c, d]): LimitPoint => {
        const [least, most] = first ? [a, b] : [c, d]
        return [placed(x, Number(fraction)), -most, -least]
      }),
      ...OUTSIDE.map(([x, a, b]): LimitPoint => [placed(x, Number(fraction)), -Infinity, -(first ? a : b)]),
    ]
    const lower = upper.slice(1).map(([f, low, high]): LimitPoint => [1 / f, low, high])
    const points = [...lower.reverse(), ...upper].map(([f, low, high]): LimitPoint => [f * midband, low, high])
    return { name: `Octave band, class ${wanted}`, reference: midband, points }
  },
}
