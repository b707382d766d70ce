import { describe, expect, test } from 'vitest'
import { complex } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { frequenciesWhere, nearestOf, nextOf, slopeDbPerDecade, snapsOf } from './places.js'

const TAU = 2 * Math.PI
/** 1/(1 + s/ω₀), f₀ = 1 kHz */
const first: TransferFunction = { poles: [complex(-TAU * 1000)], zeros: [], gain: TAU * 1000 }
/** Two poles of some Q at 1 kHz, unity at DC. */
function second(q: number): TransferFunction {
  const w = TAU * 1000
  const re = -w / (2 * q)
  const im = Math.sqrt(w * w - re * re)
  return { poles: [complex(re, im), complex(re, -im)], zeros: [], gain: w * w }
}

describe('of a first order, by its closed forms', () => {
  test('−20·log₁₀√(1 + (f/f₀)²), −atan(f/f₀), τ/(1 + (f/f₀)²)', () => {
    expect(frequenciesWhere(first, 'db', -20, 1, 1e6)[0]! / (1000 * Math.sqrt(99))).toBeCloseTo(1, 12)
    expect(frequenciesWhere(first, 'phase', -60, 1, 1e6)[0]! / (1000 * Math.sqrt(3))).toBeCloseTo(1, 12)
    expect(frequenciesWhere(first, 'delay', 1 / TAU / 5000, 1, 1e6)[0]! / 2000).toBeCloseTo(1, 12)
    expect(frequenciesWhere(first, 'db', 3, 1, 1e6)).toEqual([])
    expect(frequenciesWhere(first, 'db', -20, 1, 100)).toEqual([])
  })

  test('slope −20 dB a decade · (f/f₀)²/(1 + (f/f₀)²)', () => {
    expect(slopeDbPerDecade(first, 1000)).toBeCloseTo(-10, 12)
    expect(slopeDbPerDecade(first, 1e6)).toBeCloseTo(-20, 4)
  })

  test('half power at f₀, there −45°, no peak', () => {
    expect(snapsOf(first, 'half-power', 1, 1e6)[0]! / 1000).toBeCloseTo(1, 12)
    expect(snapsOf(first, 'phase', 1, 1e6).map((f) => Math.round(f))).toEqual([1000])
    expect(snapsOf(first, 'peak', 1, 1e6)).toEqual([])
    // It begins at 0 dB and never crosses it.
    expect(snapsOf(first, 'unity', 1, 1e6)).toEqual([])
  })
})

test('of a resonance: its peak f₀·√(1 − 1/(2Q²)), unity at f₀·√(2 − 1/Q²), its turns of 45°', () => {
  const h = second(2)
  expect(snapsOf(h, 'peak', 1, 1e6)[0]! / (1000 * Math.sqrt(1 - 1 / 8))).toBeCloseTo(1, 10)
  expect(snapsOf(h, 'unity', 1, 1e6)[0]! / (1000 * Math.sqrt(2 - 1 / 4))).toBeCloseTo(1, 10)
  expect(snapsOf(h, 'half-power', 1, 1e6)).toHaveLength(2)
  const [a, b, c] = snapsOf(h, 'phase', 1, 1e6)
  expect(b! / 1000).toBeCloseTo(1, 12)
  // Symmetric about f₀: tan 45° = (f/f₀)/(Q·(1 − (f/f₀)²)).
  expect((a! * c!) / 1e6).toBeCloseTo(1, 12)
})

test('from where one stands: the next, round to the first; the nearest in octaves', () => {
  expect([nextOf([10, 20, 30], 10), nextOf([10, 20, 30], 25), nextOf([10, 20, 30], 30), nextOf([], 1)]).toEqual([
    20,
    30,
    10,
    null,
  ])
  expect([nearestOf([10, 1000], 90), nearestOf([10, 1000], 110), nearestOf([], 1)]).toEqual([10, 1000, null])
})
