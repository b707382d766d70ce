import { describe, expect, test } from 'vitest'
import { approximate } from '../approximation/approximate.js'
import { complex } from '../numeric/complex.js'
import { withConjugates, type TransferFunction } from '../numeric/transferFunction.js'
import { parseSpec } from '../specification/filterSpec.js'
import { acMeasures } from './acMeasures.js'
import { proposedRange } from './propose.js'
import { stepMeasures } from './stepMeasures.js'
import { StepResponse } from './stepResponse.js'

const lowpass = (approximation: string, order: number, ripple?: number, edge = 1000) =>
  approximate(parseSpec({ response: 'lowpass', approximation, order, passband: { edges: [edge], ripple } })).transfer

/** ω0²/(s² + 2ζω0·s + ω0²) */
function secondOrder(w0: number, zeta: number): TransferFunction {
  const poles =
    zeta < 1 ? withConjugates([complex(-zeta * w0, w0 * Math.sqrt(1 - zeta * zeta))]) : withConjugates([], [-w0, -w0])
  return { poles, zeros: [], gain: w0 * w0 }
}

describe('frequency measures', () => {
  test('Butterworth: cutoff at the edge, n·45° there, no ripple, 20·n dB a decade (common practice, no source)', () => {
    for (const n of [1, 2, 5, 20]) {
      const m = acMeasures(lowpass('butterworth', n))
      expect(m.cutoffs).toHaveLength(1)
      expect(m.cutoffs[0]).toBeCloseTo(1000, 8)
      expect(m.phaseAtCutoffsDeg[0]).toBeCloseTo(-45 * n, 8)
      expect(m.rippleDb).toBe(0)
      expect(m.rolloffDbPerDecade).toEqual({ below: 0, above: -20 * n })
      expect([m.peakFrequency, m.center, m.q]).toEqual([0, null, null])
      expect(m.gainCrossing).toBeNull()
    }
  })

  test('Chebyshev: ripple as specified, half-power point at cosh(acosh(1/ε)/n) (Matthaei, Young, Jones, § 4.05)', () => {
    for (const [n, ripple] of [
      [3, 0.5],
      [4, 1],
      [7, 0.1],
      [20, 0.01],
    ] as const) {
      const m = acMeasures(lowpass('chebyshev', n, ripple))
      expect(m.rippleDb).toBeCloseTo(ripple, 9)
      const epsilon = Math.sqrt(10 ** (ripple / 10) - 1)
      expect(m.cutoffs[0] / 1000 / Math.cosh(Math.acosh(1 / epsilon) / n)).toBeCloseTo(1, 10)
      expect(m.peakDb).toBeCloseTo(0, 9)
    }
  })

  test('a resonator: center ω0, bandwidth ω0/Q', () => {
    const w0 = 2 * Math.PI * 5000
    const q = 25
    const poles = withConjugates([complex(-w0 / (2 * q), w0 * Math.sqrt(1 - 1 / (4 * q * q)))])
    const m = acMeasures({ poles, zeros: [complex(0)], gain: w0 / q })
    expect(m.peakFrequency).toBeCloseTo(5000, 8)
    expect(m.center).toBeCloseTo(5000, 8)
    expect(m.bandwidth).toBeCloseTo(200, 8)
    expect(m.q).toBeCloseTo(25, 9)
    expect(m.rolloffDbPerDecade).toEqual({ below: 20, above: -20 })
  })

  test('loop margins of 1000/(1 + s)³: −180° at ω = √3, where it is 1000/8 (closed form)', () => {
    const m = acMeasures({ poles: withConjugates([], [-1, -1, -1]), zeros: [], gain: 1000 })
    expect(m.phaseCrossing! * 2 * Math.PI).toBeCloseTo(Math.sqrt(3), 12)
    expect(m.gainMarginDb).toBeCloseTo(-20 * Math.log10(125), 10)
    expect(m.gainCrossing! * 2 * Math.PI).toBeCloseTo(Math.sqrt(99), 10)
    expect(m.phaseMarginDeg).toBeCloseTo(180 - (3 * Math.atan(Math.sqrt(99)) * 180) / Math.PI, 9)
  })
})

describe('step measures', () => {
  test('first order: rise time τ·ln 9, delay τ·ln 2, settling τ·ln 100 (closed form)', () => {
    const tau = 1 / (2 * Math.PI * 1000)
    const m = stepMeasures(lowpass('butterworth', 1))
    expect(m.riseTime! / (tau * Math.log(9))).toBeCloseTo(1, 11)
    expect(m.delay! / (tau * Math.LN2)).toBeCloseTo(1, 11)
    expect(m.settlingTime! / (tau * Math.log(100))).toBeCloseTo(1, 11)
    expect(m).toMatchObject({ initial: 0, overshootPercent: 0 })
    expect(m.final).toBeCloseTo(1, 14)
  })

  test.each([0.05, 0.2, 0.5, 0.7071, 0.9])(
    'second order, ζ = %d: overshoot e^(−πζ/√(1−ζ²)) at π/ωd (closed form)',
    (zeta) => {
      const m = stepMeasures(secondOrder(2e6, zeta))
      const root = Math.sqrt(1 - zeta * zeta)
      expect(m.overshootPercent).toBeCloseTo(100 * Math.exp((-Math.PI * zeta) / root), 8)
      expect(m.peakTime! / (Math.PI / (2e6 * root))).toBeCloseTo(1, 6)
    },
  )

  test('critically damped of order 20: twenty equal poles, Erlang distribution (closed form)', () => {
    const n = 20
    const h = { poles: withConjugates([], Array(n).fill(-1)), zeros: [], gain: 1 }
    const samples = new StepResponse(h).sampled(60, 61)
    const erlang = (t: number) => {
      let [term, sum] = [1, 1]
      for (let k = 1; k < n; k++) sum += term *= t / k
      return 1 - Math.exp(-t) * sum
    }
    samples.forEach((y, t) => expect(y).toBeCloseTo(erlang(t), 12))
    const m = stepMeasures(h)
    expect(m.overshootPercent).toBe(0)
    expect(erlang(m.delay!)).toBeCloseTo(0.5, 12)
    expect(erlang(m.settlingTime!)).toBeCloseTo(0.99, 11)
  })

  test('poles eight decades apart', () => {
    const h = { poles: withConjugates([], [-1, -1e8]), zeros: [], gain: 1e8 }
    const m = stepMeasures(h)
    expect(m.riseTime).toBeCloseTo(Math.log(9), 9)
  })

  test('a high-pass starts whole and ends at nothing', () => {
    const m = stepMeasures({ poles: [complex(-10)], zeros: [complex(0)], gain: 1 })
    expect(m).toMatchObject({ initial: 1, final: 0, riseTime: null, settlingTime: null, peak: 1, peakTime: 0 })
  })

  test('an unstable response and an integrator have no final value', () => {
    expect(stepMeasures({ poles: [complex(1)], zeros: [], gain: 1 }).final).toBeNull()
    expect(stepMeasures({ poles: [complex(0)], zeros: [], gain: 1 }).final).toBeNull()
  })

  test('a notch with direct path: y(0+) = 1, final 1', () => {
    const poles = withConjugates([complex(-0.5, Math.sqrt(0.75))])
    const m = stepMeasures({ poles, zeros: withConjugates([complex(0, 1)]), gain: 1 })
    expect(m.initial).toBe(1)
    expect(m.final).toBeCloseTo(1, 14)
    // H = 1 − s/(s² + s + 1): y = 1 − e^(−t/2)·sin(√¾·t)/√¾
    const samples = new StepResponse({ poles, zeros: withConjugates([complex(0, 1)]), gain: 1 }).sampled(10, 11)
    samples.forEach((y, t) =>
      expect(y).toBeCloseTo(1 - (Math.exp(-t / 2) * Math.sin(Math.sqrt(0.75) * t)) / Math.sqrt(0.75), 12),
    )
  })
})

describe('proposed ranges', () => {
  const real = (...w: number[]) =>
    withConjugates(
      [],
      w.map((x) => -x),
    )

  test('a corner is shown with room around it, what has faded far beyond it is not', () => {
    const one = proposedRange({ poles: real(1e4), zeros: [], gain: 1e4 })
    expect(proposedRange({ poles: real(1e4, 1e8), zeros: [], gain: 1e12 })).toEqual(one)
    expect(proposedRange({ poles: real(1e4, 3e8), zeros: real(1e9), gain: 1 })).toEqual(one)
  })

  test('a second corner close by, a level part far out and a notch there are shown', () => {
    const to = (poles: number[], zeros: number[], notch?: number) =>
      proposedRange({
        poles: real(...poles),
        zeros: [...real(...zeros), ...(notch ? withConjugates([complex(0, notch)]) : [])],
        gain: 1,
      }).to
    expect(to([1e4, 1e5], [])).toBeGreaterThan(1e5 / 6)
    // A shelf: down by 20 dB only, and up again.
    expect(to([1e4, 1e7], [1e5, 1e6])).toBeGreaterThan(1e7 / 6)
    expect(to([1e4], [], 1e8)).toBeGreaterThan(1e8 / 6)
  })
})

describe('settling that is looked for from the end back', () => {
  const banded = (response: string, approximation: string, order: number, edges: [number, number]) =>
    approximate(
      parseSpec({
        response,
        approximation,
        order,
        passband: { edges, ripple: 1 },
        stopband: { attenuation: 50 },
      }),
    ).transfer

  // The definition of settling itself, on the exact response: at the edge of 1 % there, and inside of it for good.
  test.each([
    ['bandpass', 'elliptic', 4, [990, 1010]],
    ['bandpass', 'elliptic', 8, [990, 1010]],
    ['bandstop', 'chebyshev', 5, [950, 1050]],
    ['bandstop', 'butterworth', 8, [990, 1010]],
    ['bandstop', 'bessel', 12, [950, 1050]],
  ] as const)('%s, %s of order %i between %j Hz', (response, approximation, order, [low, high]) => {
    const h = banded(response, approximation, order, [low, high])
    const { settlingTime, final } = stepMeasures(h)
    const limit = Math.abs(final!) / 100
    const step = new StepResponse(h)
    // Samples 20 to a period over the last part before it, the moment itself, and as long again after it.
    const period = 1 / 1000
    const count = Math.ceil((2 * settlingTime!) / period) * 20
    const y = step.sampled(2 * settlingTime!, 2 * count + 1)
    const off = (k: number) => Math.abs(y[k] - final!)
    expect(off(count) / limit).toBeCloseTo(1, 4)
    let after = 0
    for (let k = count + 1; k < y.length; k++) after = Math.max(after, off(k))
    expect(after).toBeLessThanOrEqual(limit * (1 + 1e-6))
    let before = 0
    for (let k = count - 40; k < count; k++) before = Math.max(before, off(k))
    expect(before).toBeGreaterThan(limit)
  })
})

test('a mode that is ten decades slower than the others has its settling time, at once', () => {
  // y(t) = 1 − e^(−t) + what the fast pole adds, which is over within nanoseconds: 1 % is left after ln 100 s.
  const h = {
    poles: [complex(-1), complex(-1e10), complex(-2e10)],
    zeros: [complex(-1.0001e10)],
    gain: 2e10 / 1.0001,
  }
  const { settlingTime, riseTime } = stepMeasures(h)
  expect(settlingTime! / Math.log(100)).toBeCloseTo(1, 6)
  expect(riseTime! / Math.log(9)).toBeCloseTo(1, 6)
  // A stage with a supply that leaks far below: passed and left again by its fast modes, it comes back by the slowest alone, whose
  // residue at its pole is by hand what 1 % is reached by.
  const [poles, zeros] = [
    [-2.7e9, -5.8e8, -4.7e8, -0.2],
    [-3.7e9, -8.1e7, -52, -3e-3],
  ]
  const slow = { poles: poles.map((p) => complex(p)), zeros: zeros.map((z) => complex(z)), gain: 0.0095 }
  const at = (s: number) =>
    zeros.reduce((v, z) => v * (s - z), 0.0095) / poles.slice(0, 3).reduce((v, p) => v * (s - p), 1)
  const [final, residue] = [at(0) / 0.2, at(-0.2) / -0.2]
  const settled = Math.log(Math.abs(residue / (0.01 * final))) / 0.2
  expect(stepMeasures(slow).settlingTime! / settled).toBeCloseTo(1, 6)
})
