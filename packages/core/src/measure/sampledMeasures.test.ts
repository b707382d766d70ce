import { describe, expect, test } from 'vitest'
import { gaussian } from '../numeric/random.js'
import { logarithmicGrid } from '../analysis/sweeps.js'
import { sampledResponseMeasures, sampledStepMeasures } from './sampledMeasures.js'

/** A resonator of quality q at 1 kHz: |H| = 1/√(1 + q²(f/f₀ − f₀/f)²); cutoffs f₀·(√(1 + 1/4q²) ∓ 1/2q), textbook form. */
const resonator = (x: Float64Array, q: number) => x.map((f) => -10 * Math.log10(1 + (q * (f / 1e3 - 1e3 / f)) ** 2))

describe('measures of samples over frequency', () => {
  const x = logarithmicGrid(10, 1e5, 400)

  test('of a resonator: peak, cutoffs, bandwidth and Q, as near as the samples are', () => {
    const m = sampledResponseMeasures(x, resonator(x, 5))
    expect(m['ac.peakFrequency']).toBeCloseTo(1000, 6)
    const root = Math.sqrt(1 + 1 / 100)
    expect(m['ac.cutoffs[0]']! / (1e3 * (root - 0.1)) - 1).toBeCloseTo(0, 4)
    expect(m['ac.cutoffs[1]']! / (1e3 * (root + 0.1)) - 1).toBeCloseTo(0, 4)
    expect(m['ac.q']).toBeCloseTo(5, 2)
    expect(m['ac.center']).toBeCloseTo(1000, 1)
  })

  test('of a first-order low-pass with gain: the phase there, the bandwidth from DC, the unity-gain frequency', () => {
    const db = x.map((f) => 20 - 10 * Math.log10(1 + (f / 1e3) ** 2))
    const phase = x.map((f) => (-Math.atan(f / 1e3) * 180) / Math.PI)
    const m = sampledResponseMeasures(x, db, phase)
    expect(m['ac.phaseAtCutoffsDeg[0]']).toBeCloseTo(-45, 1)
    expect(m['ac.bandwidth']! / 1e3).toBeCloseTo(1, 2)
    expect(m['ac.gainCrossing']! / (1e3 * Math.sqrt(99))).toBeCloseTo(1, 4)
    expect(m['ac.q']).toBeUndefined()
  })

  test('a single sample of noise is no cutoff', () => {
    const db = resonator(x, 0.5)
    db[db.indexOf(Math.max(...db)) - 20] = -9
    expect(sampledResponseMeasures(x, db)['ac.cutoffs[0]']! / (1e3 * (Math.SQRT2 - 1))).toBeCloseTo(1, 3)
  })

  test('of nothing are none', () => {
    expect(
      sampledResponseMeasures(
        x,
        x.map(() => NaN),
      ),
    ).toEqual({})
  })
})

describe('measures of samples over time', () => {
  // 1 − e^(−t/τ): 10–90 % in τ·ln 9, half after τ·ln 2.
  const time = Float64Array.from({ length: 4001 }, (_, k) => -1e-3 + k * 1e-5)
  const value = time.map((t) => (t < 0 ? 0 : 2 * (1 - Math.exp(-t / 2e-3))))

  test('of a first-order answer that begins after the record', () => {
    const m = sampledStepMeasures(time, value)
    expect(m['step.riseTime']! / (2e-3 * Math.log(9))).toBeCloseTo(1, 3)
    expect(m['step.delay']! / (2e-3 * Math.LN2)).toBeCloseTo(1, 3)
    expect(m['step.final']).toBeCloseTo(2, 4)
    expect(m['step.overshootPercent']).toBeLessThan(0.01)
  })

  test('noise moves them by what it is', () => {
    const noisy = value.map((v, k) => v + 2e-3 * gaussian(3, k))
    expect(sampledStepMeasures(time, noisy)['step.riseTime']! / (2e-3 * Math.log(9))).toBeCloseTo(1, 1)
  })

  test('too few samples, or none after the step, have none', () => {
    expect(sampledStepMeasures(Float64Array.of(0, 1), Float64Array.of(0, 1))).toEqual({})
    expect(sampledStepMeasures(Float64Array.of(-3, -2, -1), Float64Array.of(0, 0, 0))).toEqual({})
  })
})
