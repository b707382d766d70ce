import { fittedToMask, limitPoints, type Masked } from './maskFit.js'
import { MOST_FREQUENCY } from '../frequency.js'
import type { Shape, ShapeProblem } from './Shape.js'

function problem({ levels, delays = [] }: Masked): ShapeProblem | null {
  for (const [field, points] of [
    ['levels', levels],
    ['delays', delays],
  ] as const) {
    if (points.length < 2 && (field === 'levels' || points.length === 1))
      return {
        field,
        problem: 'A mask has at least two points.',
        fix: 'Give [Hz, lowest, highest], null where there is no limit.',
      }
    for (const [k, [f, lowest, highest]] of points.entries()) {
      const before = points[k - 1]?.[0] ?? 0
      if (!(f >= 1 / MOST_FREQUENCY && f <= MOST_FREQUENCY && f >= before))
        return {
          field,
          problem: `The frequencies of the mask do not ascend at ${f} Hz, or leave 1e-12 to 1e12 Hz there.`,
          fix: 'Give the points from low to high frequencies, above 0 Hz.',
        }
      if (lowest !== null && highest !== null && lowest > highest)
        return {
          field,
          problem: `At ${f} Hz the lowest limit lies above the highest.`,
          fix: 'Give the lower limit first.',
        }
    }
    if (points.length > 0 && points[0][0] === points.at(-1)![0])
      return {
        field,
        problem: `The mask spans no frequencies: all its points lie at ${points[0][0]} Hz.`,
        fix: 'Give its last point above its first.',
      }
    if (points.length > 0 && points.every(([, lowest, highest]) => lowest === null && highest === null))
      return {
        field,
        problem: 'The mask sets no limit anywhere.',
        fix: 'Give a lowest or a highest value at some points.',
      }
  }
  return null
}

/** A response fitted to a drawn mask of level and delay. */
export const masked: Shape<Masked> = {
  id: 'masked',
  name: 'masked',
  character: 'Poles and zeros fitted to a mask of level and delay that is drawn point by point.',
  source: 'A. G. Deczky, IEEE Trans. AU-20, 1972, 257–263 (least powers of the error; from memory)',
  formulas: ['Σ|error|^p over the mask becomes small, p = 2 … 80; an error of 1 touches a limit'],
  fields: [
    { id: 'order', name: 'Order', kind: 'quantity', unit: '', default: 4, least: 1, most: 12, whole: true },
    { id: 'levels', name: 'Level', kind: 'limits', unit: 'dB' },
    { id: 'delays', name: 'Group delay', kind: 'limits', unit: 's', optional: true },
  ],
  problem,
  transfer: fittedToMask,
  marks: ({ levels }) => [levels[0][0], levels.at(-1)![0]],
  limits: ({ levels }) => ({ name: 'Drawn mask', reference: null, points: limitPoints(levels) }),
}
