import { describe, expect, test } from 'vitest'
import { AcAnalysis, approximate, formulate, groupDelay, magnitudeDb, parseSpec, realize } from '../index.js'
import { complex } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'
import { equalize } from './equalizer.js'

const filter = (approximation: string, order: number, more: object = {}) =>
  parseSpec({ response: 'lowpass', approximation, order, passband: { edges: [20e3], ripple: 0.5 }, ...more })

/** Delay at many points of a band. */
const delays = (h: Parameters<typeof groupDelay>[0], [from, to]: readonly [number, number]) =>
  Array.from({ length: 4001 }, (_, k) => groupDelay(h, 2 * Math.PI * (from + ((to - from) * k) / 4000)))

describe('delay equaliser', () => {
  // A best approximation with 2N + 1 free numbers touches its bounds 2N + 2 times in turn (P. L. Chebyshev's theorem).
  test.each([
    ['butterworth', 5, 1],
    ['chebyshev', 5, 2],
    ['chebyshev', 5, 4],
    ['elliptic', 7, 4],
  ] as const)('%s of order %i, %i sections: equal ripples, as many as there can be', (id, order, sections) => {
    const { transfer } = approximate(filter(id, order, id === 'elliptic' ? { stopband: { attenuation: 50 } } : {}))
    const band = [0, 18e3] as const
    const { poles, after } = equalize(transfer, band, { sections })
    expect(poles).toHaveLength(2 * sections)
    const all = delays(
      {
        ...transfer,
        poles: [...transfer.poles, ...poles],
        zeros: [...transfer.zeros, ...poles.map((p) => complex(-p.re, p.im))],
      },
      band,
    )
    const [top, bottom] = [Math.max(...all), Math.min(...all)]
    expect((top - bottom) / after).toBeCloseTo(1, 3)
    let touched = 0
    let last = 0
    for (const d of all) {
      const side = d > top - 0.01 * after ? 1 : d < bottom + 0.01 * after ? -1 : 0
      if (side !== 0 && side !== last) [touched, last] = [touched + 1, side]
    }
    expect(touched).toBe(2 * sections + 2)
  })

  test('the magnitude stays, the delay is as flat as is told, and the ladder with its sections is that response', () => {
    const spec = filter('elliptic', 5, {
      stopband: { attenuation: 50 },
      equalizer: { ripple: 6e-6, to: 17e3 },
      realization: { family: 'lc-ladder', source: 75, load: 75 },
    })
    const ideal = approximate(spec)
    const { after, before } = ideal.equalizer!
    expect(after).toBeLessThanOrEqual(6e-6)
    expect(before).toBeGreaterThan(5 * after)
    for (const f of [10, 9e3, 19e3, 50e3])
      expect(magnitudeDb(ideal.transfer, 2 * Math.PI * f)).toBeCloseTo(
        magnitudeDb(ideal.unequalized, 2 * Math.PI * f),
        8,
      )
    const { circuit, referenceDb } = realize(spec, 'exact', ideal)
    const grid = [100, 4e3, 12e3, 17e3, 20e3, 31e3]
    const { re, im } = new AcAnalysis(formulate(circuit)).sweep(Float64Array.from(grid))
    grid.forEach((f, k) => {
      const wanted = evaluate(ideal.transfer, complex(0, 2 * Math.PI * f))
      expect(re[k] / 10 ** (referenceDb / 20)).toBeCloseTo(wanted.re, 8)
      expect(im[k] / 10 ** (referenceDb / 20)).toBeCloseTo(wanted.im, 8)
    })
  })

  test('more sections are never worse', () => {
    const { transfer } = approximate(filter('chebyshev', 5))
    const reached = [1, 2, 3, 4, 5].map((sections) => equalize(transfer, [0, 18e3], { sections }).after)
    for (let k = 1; k < reached.length; k++) expect(reached[k]).toBeLessThanOrEqual(reached[k - 1])
  })

  test('a section that can flatten nothing is left out, not made endlessly narrow or far away', () => {
    for (const [order, edges, sections] of [
      [8, [12.98, 13.41], 2],
      [8, [1000, 2000], 4],
      [5, [1000, 2000], 1],
    ] as const) {
      const { equalizer } = approximate(
        parseSpec({
          response: 'bandpass',
          approximation: 'elliptic',
          order,
          passband: { edges: [...edges], ripple: 0.5 },
          stopband: { attenuation: 40 },
          equalizer: { sections },
        }),
      )
      const { poles, before, after } = equalizer!
      expect(after).toBeLessThanOrEqual(before)
      for (const p of poles) {
        const w = Math.hypot(p.re, p.im)
        expect(w / (2 * Math.PI)).toBeLessThan(2 * edges[1])
        expect(w / (-2 * p.re)).toBeLessThan(1000)
      }
    }
  })

  test('what twelve sections do not reach is refused with what they do', () => {
    const steep = filter('elliptic', 9, { stopband: { attenuation: 40 }, equalizer: { ripple: 1e-9, to: 20e3 } })
    expect(() => approximate(steep)).toThrow(/can be had/)
  })

  test.each([
    [{}, 'equalizer', /number of sections, or a ripple/],
    [{ sections: 2, ripple: 1e-6 }, 'equalizer', /not both/],
    [{ sections: 0 }, 'equalizer.sections', /At least one/],
    [{ sections: 2, from: 3e4 }, 'equalizer.to', /does not ascend/],
  ])('bad input: %j', (equalizer, path, problem) => {
    expect(() => filter('bessel', 3, { equalizer })).toThrow(problem)
    try {
      filter('bessel', 3, { equalizer })
    } catch (error) {
      expect(error).toMatchObject({ place: { path } })
    }
  })
})
