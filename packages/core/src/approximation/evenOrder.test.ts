import { describe, expect, test } from 'vitest'
import { AcAnalysis, approximate, formulate, magnitudeDb, parseSpec, realize } from '../index.js'

const asked = (approximation: string, order: number | undefined, evenOrder: string | undefined, more: object = {}) =>
  parseSpec({
    response: 'lowpass',
    approximation,
    order,
    passband: { edges: [1000], ripple: 0.5 },
    ...(approximation !== 'chebyshev' && { stopband: { attenuation: 50 } }),
    ...(evenOrder && { evenOrder }),
    ...more,
  })

/** Highest and lowest level in a band, dB. */
function span(h: Parameters<typeof magnitudeDb>[0], from: number, to: number) {
  const levels = Array.from({ length: 6001 }, (_, k) => magnitudeDb(h, 2 * Math.PI * (from + ((to - from) * k) / 6000)))
  return { highest: Math.max(...levels), lowest: Math.min(...levels) }
}

// R. Saal, E. Ulbrich, IRE Trans. CT-5, 1958: what types b and c are made for.
describe('even orders in the forms that ladders need', () => {
  test.each([2, 4, 6, 8, 12].flatMap((n) => ['b', 'c'].map((form) => [n, form] as const)))(
    'elliptic of order %i, form %s: the ripples stay, the last zero is at infinity, DC as the form says',
    (order, form) => {
      const { transfer, stopbandEdges } = approximate(asked('elliptic', order, form))
      expect(transfer.poles.length - transfer.zeros.length).toBe(2)
      const pass = span(transfer, 1e-3, 1000)
      expect(pass.highest).toBeCloseTo(0, 4)
      expect(pass.lowest).toBeCloseTo(-0.5, 6)
      expect(magnitudeDb(transfer, 0)).toBeCloseTo(form === 'b' ? -0.5 : 0, 9)
      expect(span(transfer, stopbandEdges![0], 60 * stopbandEdges![0]).highest).toBeCloseTo(-50, 6)
    },
  )

  test.each([2, 4, 6, 10])('Chebyshev of order %i, form c: DC touches the top', (order) => {
    const { transfer } = approximate(asked('chebyshev', order, 'c'))
    expect(magnitudeDb(transfer, 0)).toBeCloseTo(0, 9)
    const pass = span(transfer, 0, 1000)
    expect(pass.highest).toBeCloseTo(0, 6)
    expect(pass.lowest).toBeCloseTo(-0.5, 6)
  })

  test('odd orders stay as they are', () => {
    for (const form of ['b', 'c'])
      expect(approximate(asked('elliptic', 5, form)).transfer).toEqual(
        approximate(asked('elliptic', 5, undefined)).transfer,
      )
  })

  test('the stop band that moved out asks for more: the least order is found by trying', () => {
    const stop = { stopband: { edges: [1250], attenuation: 50 } }
    const plain = approximate(asked('elliptic', undefined, undefined, stop))
    const formed = approximate(asked('elliptic', undefined, 'c', stop))
    expect(formed.order).toBeGreaterThanOrEqual(plain.order)
    expect(span(formed.transfer, 1250, 1e5).highest).toBeLessThanOrEqual(-50 + 1e-6)
  })

  const ladders = [
    ['elliptic', 'c', 75],
    ['elliptic', 'b', 150],
    ['chebyshev', 'c', 75],
    ['inverse-chebyshev', 'b', 75],
  ] as const
  test.each(ladders.flatMap(([id, form, load]) => [2, 4, 6, 8, 10].map((order) => [id, form, order, load] as const)))(
    '%s, form %s, order %i: a ladder between 75 Ω and %i Ω is the response',
    (id, form, order, load) => {
      const spec = asked(id, order, form, { realization: { family: 'lc-ladder', source: 75, load } })
      const ideal = approximate(spec)
      const { circuit, referenceDb } = realize(spec, 'exact', ideal)
      const grid = Float64Array.from({ length: 60 }, (_, k) => 10 * 10 ** (k / 20))
      const { re, im } = new AcAnalysis(formulate(circuit)).sweep(grid)
      grid.forEach((f, k) => {
        const wanted = 10 ** (magnitudeDb(ideal.transfer, 2 * Math.PI * f) / 20)
        expect(Math.hypot(re[k], im[k]) / 10 ** (referenceDb / 20)).toBeCloseTo(wanted, 8)
      })
      for (const part of circuit.parts)
        if (part.kind === 'capacitor' || part.kind === 'inductor')
          expect(Object.values(part.values)[0]).toBeGreaterThan(0)
    },
  )

  test('no other family, and no other form', () => {
    expect(() => asked('bessel', 4, 'c')).toThrow(/belongs to chebyshev/)
    expect(() => asked('elliptic', 4, 'd')).toThrow(/"b" or "c"/)
  })
})
