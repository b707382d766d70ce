import { describe, expect, test } from 'vitest'
import { approximate, groupDelay, magnitudeDb, parseSpec, phase, shapes, specIssues } from '../../index.js'
import { evidenceOf } from '../../verdict/evidence.js'
import { ledger } from '../../verdict/ledger.js'

const at = (response: string, shape: object, f: number, gain = 0) =>
  magnitudeDb(approximate(parseSpec({ response, shape, gain })).transfer, 2 * Math.PI * f)

const degrees = (response: string, shape: object, f: number) =>
  (phase(approximate(parseSpec({ response, shape })).transfer, 2 * Math.PI * f) * 180) / Math.PI

describe('weightings against the tables of IEC 61672-1:2013, table 3 (design goals, rounded to 0.1 dB; from memory)', () => {
  // Nominal frequencies stand for 1000·10^(n/10) Hz.
  const A: readonly (readonly [n: number, db: number])[] = [
    [-20, -70.4], [-17, -50.5], [-15, -39.4], [-13, -30.2], [-12, -26.2], [-10, -19.1], [-9, -16.1], [-7, -10.9],
    [-6, -8.6], [-5, -6.6], [-4, -4.8], [-3, -3.2], [-2, -1.9], [-1, -0.8], [0, 0], [1, 0.6], [2, 1], [3, 1.2], [4, 1.3],
    [5, 1.2], [6, 1], [7, 0.5], [8, -0.1], [9, -1.1], [10, -2.5], [11, -4.3], [12, -6.6], [13, -9.3],
  ] // prettier-ignore
  const C: readonly (readonly [n: number, db: number])[] = [
    [-20, -14.3], [-17, -6.2], [-15, -3], [-13, -1.3], [-12, -0.8], [-10, -0.3], [-7, 0], [0, 0], [3, -0.2], [6, -0.8],
    [8, -2], [9, -3], [10, -4.4], [11, -6.2], [12, -8.5], [13, -11.2],
  ] // prettier-ignore
  test.each(A)('A at 1000·10^(%i/10) Hz', (n, db) =>
    expect(Math.abs(at('a-weighting', {}, 1000 * 10 ** (n / 10)) - db)).toBeLessThan(0.051),
  )
  test.each(C)('C at 1000·10^(%i/10) Hz', (n, db) =>
    expect(Math.abs(at('c-weighting', {}, 1000 * 10 ** (n / 10)) - db)).toBeLessThan(0.051),
  )
})

// IEC 60098's characteristic as tables print it (from memory).
test.each([
  [20, 19.27],
  [100, 13.09],
  [500, 2.65],
  [1000, 0],
  [2000, -2.59],
  [10_000, -13.73],
  [20_000, -19.62],
])('disc reproduction at %i Hz', (f, db) => expect(Math.abs(at('disc-reproduction', {}, f) - db)).toBeLessThan(0.011))

describe('shapes are what their fields say', () => {
  test('peaking: the boost at the centre, mirrored for a dip, half of it where the band of Q ends', () => {
    expect(at('peaking', { center: 1e3, boost: 7, q: 3 }, 1e3)).toBeCloseTo(7, 12)
    for (const f of [300, 900, 1500]) {
      const [bell, dip] = [7, -7].map((boost) => at('peaking', { center: 1e3, boost, q: 3 }, f))
      expect(bell + dip).toBeCloseTo(0, 12)
    }
    expect(at('peaking', { center: 1e3, boost: 7, q: 3 }, 1e6)).toBeCloseTo(0, 4)
  })

  test.each([1, 2, 3, 5, 8])('shelves of order %i: all of the boost on one side, half at the corner', (order) => {
    for (const boost of [-11, 5]) {
      const shelf = { corner: 500, boost, order }
      expect(at('low-shelf', shelf, 1e-3)).toBeCloseTo(boost, 6)
      expect(at('low-shelf', shelf, 500)).toBeCloseTo(boost / 2, 9)
      expect(at('low-shelf', shelf, 1e9)).toBeCloseTo(0, 6)
      for (const f of [90, 700]) expect(at('high-shelf', shelf, f)).toBeCloseTo(boost - at('low-shelf', shelf, f), 9)
    }
  })

  test('notch: depth at the centre, half power as far apart as asked', () => {
    const shape = { center: 50, width: 3, depth: 26 }
    expect(at('notch', shape, 50)).toBeCloseTo(-26, 9)
    // f − 50²/f = ±3 at the half-power points.
    for (const sign of [1, -1]) {
      const f = sign * 1.5 + Math.hypot(1.5, 50)
      expect(at('notch', shape, f)).toBeCloseTo(-10 * Math.log10(2), 9)
    }
    expect(at('notch', { center: 50, width: 3 }, 50)).toBe(-Infinity)
  })

  test('integrator and differentiator: gain 1 where asked, the phase error at the end of the band', () => {
    const slope = { from: 100, to: 1e4, unity: 1e3, error: 1.5 }
    for (const response of ['integrator', 'differentiator']) expect(at(response, slope, 1e3)).toBeCloseTo(0, 12)
    expect(degrees('integrator', slope, 100)).toBeCloseTo(-90 + 1.5, 9)
    expect(degrees('differentiator', slope, 1e4)).toBeCloseTo(90 - 1.5, 9)
  })

  test.each([1, 45, 90, 179, 181, 720, 1500])('phase shifter: a lag of %i° at its frequency, magnitude 1', (lag) => {
    const shape = { frequency: 1e3, lag }
    expect(degrees('phase-shifter', shape, 1e3)).toBeCloseTo(-lag, 8)
    for (const f of [1, 1e3, 1e6]) expect(at('phase-shifter', shape, f)).toBeCloseTo(0, 9)
  })

  test('free: coefficients and roots are the same response', () => {
    // (s + 300)·s over (s² + 200·s + 10⁶)·(s + 5000)
    const typed = { numerator: [1, 300, 0], denominator: [1, 5200, 2e6, 5e9] }
    const y = Math.sqrt(1e6 - 1e4)
    const roots = { zeros: [[0, 0], [-300, 0]], poles: [[-100, y], [-100, -y], [-5000, 0]] } // prettier-ignore
    for (const f of [1, 159, 1e4]) expect(at('free', typed, f)).toBeCloseTo(at('free', roots, f), 9)
    const { transfer } = approximate(parseSpec({ response: 'free', shape: typed }))
    expect(groupDelay(transfer, 1000)).toBeCloseTo(
      groupDelay(approximate(parseSpec({ response: 'free', shape: roots })).transfer, 1000),
      12,
    )
  })

  test('gain raises every one of them', () => {
    expect(at('peaking', { center: 1e3, boost: 7, q: 3 }, 1e3, 5)).toBeCloseTo(12, 12)
  })
})

describe('limits of standards', () => {
  const limits = (response: string, shape: object) => {
    const spec = parseSpec({ response, shape })
    const ideal = approximate(spec)
    return ledger(evidenceOf({ promised: { spec, ideal }, transfer: ideal.transfer })).find((v) => v.id === 'limits')!
  }

  test('each response keeps its own, with room', () => {
    for (const wanted of ['1', '2'])
      for (const fraction of ['1', '3'])
        expect(limits('octave-band', { midband: 1e3, fraction, class: wanted })).toMatchObject({ met: true })
    expect(limits('a-weighting', {}).margin).toBeCloseTo(0.7, 3)
    expect(limits('c-weighting', { class: '2' }).margin).toBeCloseTo(1, 3)
  })

  test('another response than the goal misses them where it leaves them', () => {
    const spec = parseSpec({ response: 'a-weighting', shape: {} })
    const c = approximate(parseSpec({ response: 'c-weighting', shape: {} }))
    const line = ledger(evidenceOf({ promised: { spec, ideal: c }, transfer: c.transfer })).find(
      (v) => v.id === 'limits',
    )!
    expect(line.met).toBe(false)
    // At 16 Hz: C −8.5 dB against A −56.7 + 2 dB; 10 Hz: −14.3 against −70.4 + 3 dB.
    expect(line.margin).toBeCloseTo(-70.4 + 3 + 14.3, 0)
    expect(line.at).toBeCloseTo(10, 6)
  })
})

test('a free response of roots takes no coefficients: nothing typed is left out unseen', () => {
  const wrong = (shape: object) => specIssues({ response: 'free', shape } as never).map((i) => i.path)
  const poles = [[-1, 0]]
  expect(wrong({ poles, numerator: [2] })).toEqual(['shape.numerator'])
  expect(wrong({ poles, denominator: [1, 1] })).toEqual(['shape.poles'])
  expect(wrong({ numerator: [2] })).toEqual(['shape.denominator'])
  expect(wrong({ poles })).toEqual([])
  expect(wrong({ numerator: [2], denominator: [1, 1] })).toEqual([])
})

describe('drawn masks', () => {
  const room = (shape: object) => {
    const spec = parseSpec({ response: 'masked', shape })
    const ideal = approximate(spec)
    expect(ideal.transfer.poles.every((p) => p.re < 0)).toBe(true)
    return ledger(evidenceOf({ promised: { spec, ideal }, transfer: ideal.transfer })).find((v) => v.id === 'limits')!
      .margin!
  }
  const step = (edge: number, ripple: number, stop: number, attenuation: number) => [
    [edge / 100, -ripple, ripple],
    [edge, -ripple, ripple],
    [edge, null, ripple],
    [stop, null, ripple],
    [stop, null, -attenuation],
    [20 * stop, null, -attenuation],
  ]

  // An elliptic response of that order meets each of these (its closed form says so), so that the mask can be met.
  test.each([
    [4, 2200, 40],
    [5, 1600, 40],
  ])('a low-pass mask that an elliptic response of order %i meets is met', (order, stop, attenuation) => {
    const elliptic = { response: 'lowpass', approximation: 'elliptic', passband: { edges: [1000], ripple: 1 } }
    const known = approximate(parseSpec({ ...elliptic, stopband: { edges: [stop], attenuation } }))
    expect(known.order).toBeLessThanOrEqual(order)
    expect(room({ order, levels: step(1000, 0.5, stop, attenuation) })).toBeGreaterThan(0)
  })

  test('ten decibels a decade, by alternate real poles and zeros', () => {
    const levels = [100, 1000, 10_000].map((f, k) => [f, -10 * k - 0.5, -10 * k + 0.5])
    expect(room({ order: 3, levels })).toBeGreaterThan(0.3)
  })

  test('level and delay together', () => {
    const shape = {
      order: 6,
      levels: [[10, -1, 0.2], [800, -1, 0.2], [800, null, 0.2], [2500, null, 0.2], [2500, null, -30], [2e4, null, -30]],
      delays: [[10, 0.45e-3, 0.5e-3], [900, 0.45e-3, 0.5e-3]],
    } // prettier-ignore
    expect(room(shape)).toBeGreaterThan(0)
    const { transfer } = approximate(parseSpec({ response: 'masked', shape }))
    for (const f of [10, 200, 500, 800, 900]) {
      const delay = groupDelay(transfer, 2 * Math.PI * f)
      expect(delay).toBeGreaterThan(0.449e-3)
      expect(delay).toBeLessThan(0.501e-3)
    }
  })

  test('the same mask, the same numbers; what cannot be met is missed, not refused', () => {
    const shape = { order: 1, levels: step(1000, 0.5, 1200, 60) }
    expect(room(shape)).toBeLessThan(-10)
    expect(room({ ...shape })).toBe(room(shape))
  })

  test.each([
    [{ order: 2, levels: [[100, 0, 1]] }, 'shape.levels', /at least two points/],
    [{ order: 2, levels: [[100, 0, 1], [50, 0, 1]] }, 'shape.levels', /do not ascend/],
    [{ order: 2, levels: [[100, 2, 1], [500, 0, 1]] }, 'shape.levels', /lies above/],
    [{ order: 2, levels: [[100, null, null], [500, null, null]] }, 'shape.levels', /no limit anywhere/],
    [{ order: 2, levels: [[100, 'x', 1]] }, 'shape.levels.0.1', /./],
    [{ order: 0, levels: [] }, 'shape.order', /at least 1/],
  ])('bad input: %j', (shape, path, problem) => {
    expect(specIssues({ response: 'masked', shape })[0]).toMatchObject({ path, problem: expect.stringMatching(problem) })
  }) // prettier-ignore
})

describe('bad input is told where it stands', () => {
  test.each([
    ['peaking', {}, 'shape.center', /centre is missing/],
    ['peaking', { center: 1e3, boost: 80, q: 1 }, 'shape.boost', /at most 60 dB/],
    ['peaking', { center: 1e3, boost: 8, q: 0 }, 'shape.q', /above 0/],
    ['low-shelf', { corner: 1e3, boost: 8, order: 1.5 }, 'shape.order', /whole number/],
    ['notch', { center: 50, width: 3, depth: 2 }, 'shape.depth', /never comes to half power/],
    ['integrator', { from: 1e4, to: 10, unity: 1, error: 1 }, 'shape.to', /does not ascend/],
    ['phase-shifter', { frequency: 1e3, lag: 400, order: 2 }, 'shape.order', /less than 360°/],
    ['a-weighting', { class: '3' }, 'shape.class', /"1" or "2"/],
    ['free', {}, 'shape.denominator', /Neither poles nor a denominator/],
    ['free', { poles: [[-1, 2]] }, 'shape.poles', /one is missing/],
    ['free', { poles: [[1, 0]] }, 'shape.poles', /not left of the axis/],
    ['free', { numerator: [1, 0, 0], denominator: [1, 1] }, 'shape.numerator', /more zeros/],
    ['free', { denominator: [0, 1] }, 'shape.denominator', /begins with 0/],
  ])('%s %j', (response, shape, path, problem) => {
    const [issue] = specIssues({ response, shape })
    expect(issue).toMatchObject({ path, problem: expect.stringMatching(problem) })
    expect(issue.fix).not.toBe('')
  })

  test('a shape with bands, or without its values, and an unknown response', () => {
    expect(
      specIssues({ response: 'peaking', passband: { edges: [1] }, shape: { center: 1, boost: 1, q: 1 } })[0].path,
    ).toBe('passband')
    expect(specIssues({ response: 'peaking' })[0].problem).toMatch(/"center", "boost", "q"/)
    expect(specIssues({ response: 'wobble' })[0]).toMatchObject({
      path: 'response',
      problem: expect.stringMatching(/wobble/),
    })
  })
})

test('every shape names its source, its fields and one default that can be used', () => {
  for (const shape of shapes.filter((s) => s.id !== 'free' && s.id !== 'masked')) {
    const values = Object.fromEntries(shape.fields.flatMap((f) => ('default' in f ? [[f.id, f.default]] : [])))
    expect(specIssues({ response: shape.id, shape: values })).toEqual([])
    expect(shape.source).not.toBe('')
  }
})
