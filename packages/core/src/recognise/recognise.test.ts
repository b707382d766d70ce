import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { approximate } from '../approximation/approximate.js'
import { approximations } from '../approximation/index.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { uniform } from '../numeric/random.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { type FilterSpecInput, parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { recognise } from './recognise.js'

const RESPONSES = ['lowpass', 'highpass', 'bandpass', 'bandstop'] as const

const specOf = (id: string, order: number, response: (typeof RESPONSES)[number], family?: string): FilterSpecInput => ({
  response,
  approximation: id as 'butterworth',
  order,
  passband: {
    edges: response.startsWith('band') ? [9e3, 14e3] : [1e4],
    ...((id === 'chebyshev' || id === 'elliptic') && { ripple: 0.5 }),
  },
  ...((id === 'elliptic' || id === 'inverse-chebyshev') && { stopband: { attenuation: 50 } }),
  ...(family && { realization: { family, ...(family === 'lc-ladder' && { source: 50, load: 50 }) } }),
})

/** L2(ω²) = ω⁴: of order 2 the optimum monotonic response is the maximally flat one. */
const nameOf = (id: string, order: number) => (id === 'legendre' && order === 2 ? 'butterworth' : id)

describe('what was made is recognised', () => {
  const cases = approximations.flatMap(({ id }) => RESPONSES.map((response) => [id, response] as const))

  test.each(cases)('%s, %s, orders 2 to 10, as responses', (id, response) => {
    for (let order = 2; order <= 10; order++) {
      const found = recognise(approximate(parseSpec(specOf(id, order, response))).transfer)
      expect([found.response, found.order, found.approximation]).toEqual([response, order, nameOf(id, order)])
    }
  })

  /** Families whose circuit is recognised wrongly or not at all, of all that can be made. */
  const missed = (values: 'exact' | 'E24', family: string, orders: readonly number[]) => {
    const wrong: string[] = []
    let count = 0
    for (const { id } of approximations)
      for (const order of orders)
        for (const response of ['lowpass', 'highpass'] as const) {
          let transfer: TransferFunction
          try {
            const { circuit } = realize(parseSpec(specOf(id, order, response, family)), values)
            ;({ transfer } = polesAndZeros(formulate(circuit)))
          } catch (error) {
            expect(error).toMatchObject({ code: 'REALIZATION_IMPOSSIBLE' })
            continue
          }
          count++
          const found = recognise(transfer)
          const isRight =
            found.response === response && found.order === order && found.approximation === nameOf(id, order)
          if (!isRight) wrong.push(`${id} ${order} ${response}: ${found.approximation}`)
        }
    return { wrong, count }
  }

  test('in circuits of exact values', () => {
    for (const family of ['lc-ladder', 'sallen-key']) {
      const { wrong, count } = missed('exact', family, [2, 3, 5, 8])
      expect(count).toBeGreaterThan(30)
      expect(wrong).toEqual([])
    }
  })

  test('in nine of ten circuits with values of E24', () => {
    for (const family of ['lc-ladder', 'sallen-key']) {
      const { wrong, count } = missed('E24', family, [2, 3, 4, 5, 6])
      expect(wrong.length / count).toBeLessThanOrEqual(0.1)
    }
  })
})

describe('numbers', () => {
  const of = (...lines: string[]) =>
    recognise(polesAndZeros(formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)).transfer)

  test('of a resonator: its middle over its width, √(L/C)/R', () => {
    const found = of('V1 in 0 AC 1', 'L1 in a 10m', 'C1 a out 10n', 'R1 out 0 100')
    expect(found).toMatchObject({ response: 'bandpass', order: 1, approximation: null })
    expect(found.q).toBeCloseTo(10, 9)
    expect(found.gainDb).toBeCloseTo(0, 9)
  })

  test('of a notch: where it has lost half the power on both sides', () => {
    const found = of('V1 in 0 AC 1', 'R1 in out 100', 'L1 out a 10m', 'C1 a 0 10n')
    expect(found).toMatchObject({ response: 'bandstop', order: 1 })
    // Across R the same resonator: the half-power points of both are the same.
    expect(found.cutoffs.map((f) => Math.round(f))).toEqual([15140, 16731])
    expect(found.q).toBeCloseTo(10, 9)
  })

  test('of a first order: no name, for all families are the same there', () => {
    const found = of('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n')
    expect(found).toMatchObject({ response: 'lowpass', order: 1, approximation: null, q: null })
    expect(found.cutoffs[0]).toBeCloseTo(1 / (2 * Math.PI * 1e-4), 9)
  })

  test('ripple and attenuation of an elliptic response are those that were asked', () => {
    const spec = specOf('elliptic', 5, 'highpass')
    const found = recognise(approximate(parseSpec(spec)).transfer)
    expect(found.rippleDb).toBeCloseTo(0.5, 5)
    expect(found.attenuationDb).toBeCloseTo(50, 4)
  })

  test.each([
    ['an all-pass', ['R1 in n 1k', 'R2 n out 1k', 'R3 in p 1k', 'C1 p 0 100n', 'E1 out 0 p n 1e8'], 'allpass'],
    ['a shelf, lowered above', ['R1 in out 1k', 'R2 out a 1k', 'C1 a 0 100n'], 'high-shelf'],
    ['a shelf, lowered below', ['R1 in out 1k', 'C1 in out 100n', 'R2 out 0 1k'], 'low-shelf'],
    ['a divider', ['R1 in out 1k', 'R2 out 0 1k'], null],
    [
      'an integrator, as far down as its amplifier has gain',
      ['R1 in n 1k', 'C1 n out 100n', 'E1 out 0 0 n 1e12'],
      'lowpass',
    ],
  ])('%s', (_, lines, response) => {
    expect(of('V1 in 0 AC 1', ...lines)).toMatchObject({ response, approximation: null })
  })
})

test('of two hundred random circuits none is named wrongly: what has a name is near to it', () => {
  let place = 0
  const draw = () => uniform(17, place++)
  const pick = (count: number) => Math.floor(draw() * count)
  let named = 0
  for (let trial = 0; trial < 200; trial++) {
    const nets = ['in', 'a', 'b', 'c', 'out', '0']
    const lines = ['t', 'V1 in 0 AC 1']
    // A chain through all nets, and parts across it.
    for (let k = 0; k < 4; k++)
      lines.push(`R${k} ${nets[k]} ${nets[k + 1]} ${(100 * 10 ** (2 * draw())).toPrecision(3)}`)
    for (let k = 0; k < 5; k++) {
      const [from, to] = [1 + pick(4), pick(6)]
      if (from === to) continue
      const kind = 'CLC'[pick(3)]!
      const size = kind === 'C' ? 1e-9 * 10 ** (2 * draw()) : 1e-4 * 10 ** (2 * draw())
      lines.push(`${kind}X${k} ${nets[from]} ${nets[to]} ${size.toPrecision(3)}`)
    }
    let transfer: TransferFunction
    try {
      ;({ transfer } = polesAndZeros(formulate(readNetlist([...lines, ''].join('\n')).circuit)))
    } catch (error) {
      expect(error).toMatchObject({ code: expect.any(String) })
      continue
    }
    const { approximation, order } = recognise(transfer)
    if (approximation !== null) named++
    // One that has a family's one number by chance has its very shape; of more poles none has.
    if (approximation !== null) expect(order).toBe(2)
  }
  expect(named).toBeLessThanOrEqual(10)
})
