import { describe, expect, test } from 'vitest'
import { formulate, type Mna } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { approximate } from '../approximation/approximate.js'
import { approximations } from '../approximation/index.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { uniform } from '../numeric/random.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { type FilterSpecInput, parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { type Recognised, recognise } from './recognise.js'
import { roundingOf } from './rounding.js'

const RESPONSES = ['lowpass', 'highpass', 'bandpass', 'bandstop'] as const

const specOf = (
  id: string,
  order: number,
  response: (typeof RESPONSES)[number],
  { family, edges }: { family?: string; edges?: readonly [number, number] } = {},
): FilterSpecInput => ({
  response,
  approximation: id as 'butterworth',
  order,
  passband: {
    edges: edges ? [...edges] : response.startsWith('band') ? [9e3, 14e3] : [1e4],
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

  const BANDS = [
    [9e3, 14e3],
    [9e3, 11e3],
  ] as const

  /** Families whose circuit is recognised wrongly or not at all, of all that can be made. */
  const missed = (values: 'exact' | 'E24', family: string, response: (typeof RESPONSES)[number], orders: number[]) => {
    const wrong: string[] = []
    let count = 0
    for (const { id } of approximations)
      for (const order of orders)
        for (const edges of response.startsWith('band') ? BANDS : [undefined]) {
          let equations: Mna
          let transfer: TransferFunction
          try {
            equations = formulate(realize(parseSpec(specOf(id, order, response, { family, edges })), values).circuit)
            ;({ transfer } = polesAndZeros(equations))
          } catch (error) {
            expect(error).toMatchObject({ code: expect.stringMatching(/REALIZATION_IMPOSSIBLE|NOT_OFFERED/) })
            continue
          }
          count++
          const found = recognise(transfer, roundingOf(equations))
          const isRight =
            found.response === response && found.order === order && found.approximation === nameOf(id, order)
          if (!isRight) wrong.push(`${id} ${order} ${response}: ${found.order} ${found.approximation}`)
        }
    return { wrong, count }
  }

  const circuits = [
    ...RESPONSES.map((response) => ['lc-ladder', response] as const),
    ['sallen-key', 'lowpass'] as const,
  ]

  test.each(circuits)('in circuits of exact values: %s, %s', (family, response) => {
    const { wrong, count } = missed('exact', family, response, [2, 3, 5, 8])
    expect(count).toBeGreaterThan(30)
    expect(wrong).toEqual([])
  })

  test.each(circuits)('in nine of ten circuits with values of E24: %s, %s', (family, response) => {
    const { wrong, count } = missed('E24', family, response, [2, 3, 5, 6])
    expect(count).toBeGreaterThan(30)
    expect(wrong.length / count, wrong.join('; ')).toBeLessThanOrEqual(0.1)
  })
})

describe('numbers', () => {
  const of = (...lines: string[]) => {
    const equations = formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)
    return recognise(polesAndZeros(equations).transfer, roundingOf(equations))
  }

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

describe('of two hundred random circuits none is named wrongly: what has a name is near to it', () => {
  const E24 = [
    1, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2, 2.2, 2.4, 2.7, 3, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1,
  ]
  const digits = [
    ['two', (x: number) => E24[Math.floor(24 * (x % 1))] * 10 ** Math.floor(x)],
    ['three', (x: number) => Number((10 ** x).toPrecision(3))],
  ] as const

  test.each(digits)('values of %s digits', (_, valueOf) => {
    let place = 0
    const draw = () => uniform(17, place++)
    const pick = (count: number) => Math.floor(draw() * count)
    /** Over two decades. */
    const value = (least: number) => `${least * valueOf(2 * draw())}`
    let named = 0
    for (let trial = 0; trial < 200; trial++) {
      const nets = ['in', 'a', 'b', 'c', 'out', '0']
      const lines = ['t', 'V1 in 0 AC 1']
      // A chain through all nets, and parts across it.
      for (let k = 0; k < 4; k++) lines.push(`R${k} ${nets[k]} ${nets[k + 1]} ${value(100)}`)
      for (let k = 0; k < 5; k++) {
        const [from, to] = [1 + pick(4), pick(6)]
        if (from === to) continue
        const kind = 'CLC'[pick(3)]
        lines.push(`${kind}X${k} ${nets[from]} ${nets[to]} ${value(kind === 'C' ? 1e-9 : 1e-4)}`)
      }
      let found: Recognised
      try {
        const equations = formulate(readNetlist([...lines, ''].join('\n')).circuit)
        found = recognise(polesAndZeros(equations).transfer, roundingOf(equations))
      } catch (error) {
        expect(error).toMatchObject({ code: expect.any(String) })
        continue
      }
      if (found.approximation === null) continue
      named++
      // One that has a family's one number by chance has its very shape; of more poles none has.
      expect(found.order).toBe(2)
    }
    expect(named).toBeLessThanOrEqual(10)
  })
})
