import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { SignalCurve } from './signalCurve.js'

const read = (...lines: string[]) => formulate(readNetlist(['test', ...lines, ''].join('\n')).circuit)

// 10 nH and 3 pF behind 50 Ω and 50 Ω: f₀ = 1/(2π√(LC)), half power where |X| is the resistance (common practice, no source).
const resonator = read('V1 in 0 AC 1', 'RS in a 50', 'L1 a b 10n', 'C1 b c 3p', 'R1 c 0 50')
const [L, C, R] = [10e-9, 3e-12, 100]
const f0 = 1 / (2 * Math.PI * Math.sqrt(L * C))
const half = [-1, 1].map((sign) => (Math.sqrt(R * R + (4 * L) / C) + sign * R) / (4 * Math.PI * L))
const range = { from: 1e7, to: 1e11 }

describe('the series resonator', () => {
  test('its current peaks at f₀ with 10 mA, in phase, and has −3 dB where the reactance is the resistance', () => {
    const i = new SignalCurve(resonator, 'i(R1)', range)
    expect(i.unit).toBe('A')
    const [peak, ...others] = i.snaps('peak', 'value')
    expect(others).toEqual([])
    expect(peak! / f0).toBeCloseTo(1, 12)
    expect(f0 / 1e6).toBeCloseTo(918.9, 1)
    expect(i.at(peak!).value).toBeCloseTo(0.01, 14)
    expect(i.at(peak!).phase).toBeCloseTo(0, 8)
    i.snaps('half-power').forEach((f, k) => expect(f / half[k]!).toBeCloseTo(1, 11))
    // Where it is ∓45°.
    expect(i.snaps('phase').map((f) => Math.round(i.at(f).phase / 45) + 0)).toEqual([1, 0, -1])
  })

  test('the branch’s impedance is least there, its resistance; the power in it 5 mW', () => {
    const z = new SignalCurve(resonator, 'v(a)/i(R1)', range)
    const [dip] = z.snaps('dip', 'value')
    expect(dip! / f0).toBeCloseTo(1, 9)
    expect(z.at(dip!).value).toBeCloseTo(50, 9)
    const p = new SignalCurve(resonator, 'p(R1)', range)
    const [at] = p.snaps('peak', 'value')
    expect(at! / f0).toBeCloseTo(1, 12)
    expect(p.at(at!).value).toBeCloseTo(5e-3, 15)
    p.snaps('half-power').forEach((f, k) => expect(f / half[k]!).toBeCloseTo(1, 11))
  })

  test('where a quantity has a value, from both sides', () => {
    const i = new SignalCurve(resonator, 'i(R1)', range)
    const places = i.where('value', 5e-3)
    expect(places).toHaveLength(2)
    for (const f of places) expect(i.at(f).value / 5e-3).toBeCloseTo(1, 12)
    expect(i.where('value', 0.02)).toEqual([])
  })
})

describe('a derived curve', () => {
  const lowpass = read('V1 in 0 AC 1', 'R1 in out 180', 'C1 out 0 2.2u')

  // R = 180 Ω, C = 2.2 µF: cutoff 401.9 Hz; at 500 Hz gain 0.627, 51.2° late, that is 284.5 µs (common practice, no source).
  test('is asked and searched as any other', () => {
    const db = new SignalCurve(lowpass, 'db(v(out)/v(in))', { from: 1, to: 1e5 })
    const [f] = db.where('re', -10 * Math.log10(2))
    expect(f).toBeCloseTo(1 / (2 * Math.PI * 180 * 2.2e-6), 9)
    expect(db.at(f!).value).toBeCloseTo(-10 * Math.log10(2), 12)
    const gain = new SignalCurve(lowpass, 'v(out)/v(in)', { from: 1, to: 1e5 })
    const at = gain.at(500)
    expect(at.value).toBeCloseTo(0.627, 3)
    expect(at.phase).toBeCloseTo(-51.2, 1)
    expect(at['phase-delay'] * 1e6).toBeCloseTo(284.5, 0)
    // d(dB)/d(lg f) = −20·x²/(1 + x²)
    const x2 = (500 / f!) ** 2
    expect(at.slope).toBeCloseTo((-20 * x2) / (1 + x2), 9)
  })

  test('−3 dB is counted from the highest there is, though it lies below the range', () => {
    // Power in the load of a low-pass: half of that at DC where |H|² is a half.
    const power = new SignalCurve(lowpass, 'abs(v(out))^2/1Ω', { from: 100, to: 1e5 })
    const f0 = 1 / (2 * Math.PI * 180 * 2.2e-6)
    for (const curve of [power, new SignalCurve(lowpass, 'v(out)', { from: 100, to: 1e5 })]) {
      expect(curve.snaps('half-power')[0]! / f0).toBeCloseTo(1, 6)
    }
  })

  test('the delay’s highest place is found without its derivative', () => {
    // A resonant low-pass: the group delay peaks near its resonance.
    const q = read('V1 in 0 AC 1', 'R1 in a 10', 'L1 a out 1m', 'C1 out 0 1u')
    const curve = new SignalCurve(q, 'v(out)', { from: 100, to: 1e5 })
    const [at] = curve.snaps('peak', 'delay')
    const near = [0.9999, 1.0001].map((k) => curve.at(at! * k).delay)
    expect(curve.at(at!).delay).toBeGreaterThan(Math.max(...near))
  })
})
