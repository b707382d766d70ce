import { describe, expect, test } from 'vitest'
import { approximate } from '../approximation/approximate.js'
import { groupDelay } from '../numeric/transferFunction.js'
import { parseSpec, specIssues } from './filterSpec.js'

describe('a delay rules, and needs no edge beside it', () => {
  const BESSEL = { response: 'lowpass', approximation: 'bessel', order: 4, delay: 2e-3 }

  test.each([[{}], [{ passband: { ripple: 1 } }], [{ passband: { edges: [12345] } }]])('%j', (passband) => {
    const { transfer } = approximate(parseSpec({ ...BESSEL, ...passband }))
    expect(groupDelay(transfer, 1e-6)).toBeCloseTo(2e-3, 12)
  })

  test('what has no delay still needs one', () => {
    expect(specIssues({ ...BESSEL, delay: undefined })).toMatchObject([{ path: 'passband' }])
    expect(specIssues({ ...BESSEL, approximation: 'butterworth' })).toMatchObject([{ path: 'delay' }])
  })
})

describe('a frequency that no grid reaches is refused where it stands', () => {
  const BASE = { response: 'lowpass', approximation: 'butterworth', order: 3, passband: { edges: [1000] } }
  const band = (from: number, to = 900) => ({ kind: 'phase-linearity', limit: 5, from, to })

  test.each([
    [{ ...BASE, passband: { edges: [1e-320] } }, 'passband.edges.0'],
    [{ ...BASE, requirements: [band(1e-320)] }, 'requirements.0.from'],
    [{ ...BASE, requirements: [{ kind: 'gain-at', limit: 1, target: 0, at: 5e-324 }] }, 'requirements.0.at'],
    [{ response: 'notch', shape: { frequency: 1e-310, q: 1 } }, 'shape'],
    [
      {
        response: 'masked',
        shape: {
          order: 2,
          levels: [
            [1e-300, -1, 1],
            [10, -1, 1],
          ],
        },
      },
      'shape.levels',
    ],
    [
      {
        response: 'masked',
        shape: {
          order: 2,
          levels: [
            [5, -1, 1],
            [5, -2, 1],
          ],
        },
      },
      'shape.levels',
    ],
    [
      {
        response: 'masked',
        shape: {
          order: 2,
          levels: [
            [5, -1, 1],
            [50, -2, 1],
          ],
          delays: [[10, 0, 1]],
        },
      },
      'shape.delays',
    ],
  ])('%j', (spec, path) => {
    const [issue] = specIssues(spec)
    expect(issue?.path.startsWith(path), JSON.stringify(issue)).toBe(true)
    expect(issue!.fix).not.toBe('')
  })

  test.each([1e-12, 1e-6, 1])('from %d Hz on it is judged', (from) => {
    expect(specIssues({ ...BASE, requirements: [band(from)] })).toEqual([])
  })
})
