import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { acMeasures } from '../measure/acMeasures.js'
import { complex } from '../numeric/complex.js'
import { uniform } from '../numeric/random.js'
import { groupDelay, magnitudeDb, phase, type TransferFunction, withConjugates } from '../numeric/transferFunction.js'
import { type FilterSpecInput, parseSpec } from '../specification/filterSpec.js'
import { approximate } from '../approximation/approximate.js'
import { realize } from '../synthesis/realize.js'
import { evidenceOf } from './evidence.js'
import { ledger } from './ledger.js'
import { verify } from './verify.js'

/*
 * Verdicts over frequency are solved: what a grid of a few hundred points between the ends would miss is found.
 */

const netlist = (...lines: string[]) => readNetlist(['t', ...lines, ''].join('\n')).circuit
const only = (spec: FilterSpecInput, circuit: ReturnType<typeof netlist>, id: string) =>
  verify(parseSpec(spec), circuit).find((v) => v.id === id)!

const free = { response: 'free', shape: { poles: [[-1, 0]] } } as unknown as FilterSpecInput
const asking = (...requirements: object[]) => ({ ...free, requirements }) as FilterSpecInput

describe('masks', () => {
  const masked = (levels: (number | null)[][]) =>
    ({ response: 'masked', shape: { order: 1, levels } }) as FilterSpecInput

  test('both sides of a step count', () => {
    // A first order with its corner at 1 kHz loses 0.97 dB at 500 Hz and 7 dB at 2 kHz.
    const rc = netlist('V1 in 0 AC 1', 'R1 in out 1k', `C1 out 0 ${1 / (2 * Math.PI * 1e6)}`)
    const mask = masked([
      [100, -8, null],
      [2000, -8, null],
      [2000, null, -20],
      [2500, null, -3],
    ])
    const limits = only(mask, rc, 'limits')
    expect(limits.met).toBe(false)
    expect(limits.at).toBeCloseTo(2000, 6)
    // −6.99 dB where −20 dB are asked on the step's far side.
    expect(limits.achieved).toBeCloseTo(-20 + 10 * Math.log10(5), 6)
  })

  test('a notch between two looks is found', () => {
    const circuit = netlist('V1 in 0 AC 1', 'R1 in out 50', 'L1 out x 0.22378', 'R2 x y 0.07', 'C1 y 0 3.5805e-8')
    const limits = only(
      masked([
        [10, -1, 1],
        [100_000, -1, 1],
      ]),
      circuit,
      'limits',
    )
    const f0 = 1 / (2 * Math.PI * Math.sqrt(0.22378 * 3.5805e-8))
    expect(limits.met).toBe(false)
    expect(limits.at! / f0).toBeCloseTo(1, 6)
    // At resonance 0.07 Ω lie under 50 Ω.
    // The zero's damping is 1e-5 of its frequency, of whose twelve digits seven are left for it.
    expect(limits.achieved).toBeCloseTo(20 * Math.log10(0.07 / 50.07) + 1, 5)
  })
})

describe('impedance', () => {
  test('a lossless ladder without a load has no bound', () => {
    const spec: FilterSpecInput = {
      response: 'lowpass',
      approximation: 'butterworth',
      order: 4,
      passband: { edges: [5e6] },
      requirements: [{ kind: 'impedance-most', limit: 10_000, from: 1e5, to: 1e8 }],
      realization: { family: 'lc-ladder', source: 50, load: 'open' },
    }
    const most = verify(parseSpec(spec), realize(parseSpec(spec)).circuit).find((v) => v.id === 'impedance-most')!
    expect(most.achieved).toBe(Infinity)
    expect(most.met).toBe(false)
  })

  test('a sharp resonance is met at its summit and at its foot', () => {
    // 1 Ω + L in series with C, C2 across: least 1 Ω at series resonance.
    const circuit = netlist('V1 in 0 AC 1', 'R1 in a 1', 'L1 a b 1m', 'C1 b out 1n', 'R2 out 0 1u', 'C2 in 0 1n')
    const [from, to] = [1e4, 1e6]
    const asked = asking(
      { kind: 'impedance-least', limit: 1, from, to },
      { kind: 'impedance-most', limit: 1, from, to },
    )
    const verdicts = verify(parseSpec(asked), circuit)
    const least = verdicts.find((v) => v.id === 'impedance-least')!
    const most = verdicts.find((v) => v.id === 'impedance-most')!
    const ac = new AcAnalysis(formulate(circuit), { output: 'z(V1)' })
    const size = (f: number) => Math.hypot(...Object.values(ac.point(2 * Math.PI * f).value))
    expect(least.at).toBeCloseTo(1 / (2 * Math.PI * 1e-6), 0)
    expect(least.achieved).toBeCloseTo(size(least.at!), 9)
    expect(most.achieved! / size(most.at!)).toBeCloseTo(1, 9)
    // Nothing in the neighbourhood lies beyond either, and nothing on a grid.
    for (let k = 0; k <= 4000; k++) {
      const f = from * (to / from) ** (k / 4000)
      expect(size(f)).toBeGreaterThanOrEqual(least.achieved! * (1 - 1e-9))
      expect(size(f)).toBeLessThanOrEqual(most.achieved! * (1 + 1e-9))
    }
    for (const k of [1 - 1e-6, 1 + 1e-6]) {
      expect(size(least.at! * k)).toBeGreaterThan(least.achieved!)
      expect(size(most.at! * k)).toBeLessThan(most.achieved!)
    }
  })
})

describe('delay and phase', () => {
  test('a resonance of Q 500 far below the upper end shows its whole delay and its whole turn', () => {
    const circuit = netlist(
      'V1 in 0 AC 1',
      'R1 in out 1',
      'L1 out 0 3.183098861837907e-7',
      'C1 out 0 79.57747154594767m',
    )
    // A parallel resonance at 1/(2π√(LC)): v(out)/v(in) turns from +90° to −90°, its delay is 2Q/ω₀ at the summit.
    const [l, c] = [3.183098861837907e-7, 79.57747154594767e-3]
    const omega0 = 1 / Math.sqrt(l * c)
    const q = Math.sqrt(c / l)
    const f0 = omega0 / (2 * Math.PI)
    const asked = asking(
      { kind: 'delay-variation', limit: 1, from: f0 / 100, to: 100 * f0 },
      { kind: 'phase-linearity', limit: 1, from: f0 / 100, to: 100 * f0 },
    )
    const verdicts = verify(parseSpec(asked), circuit)
    const delay = verdicts.find((v) => v.id === 'delay-variation')!
    expect(delay.at! / f0).toBeCloseTo(1, 5)
    expect(delay.achieved! / ((2 * q) / omega0)).toBeCloseTo(1, 3)
    const straight = verdicts.find((v) => v.id === 'phase-linearity')!
    // Almost a step of 180° near the low end of a long band: the best line leaves half of it, less its own slope.
    expect(straight.achieved).toBeGreaterThan(85)
    expect(straight.achieved).toBeLessThan(90)
  })

  test('random responses: no grid however fine finds more', () => {
    let drawn = 0
    const next = () => uniform(17, drawn++)
    for (let trial = 0; trial < 12; trial++) {
      const pairs = Array.from({ length: 3 }, () => {
        const omega = 2 * Math.PI * 10 ** (2 + 2 * next())
        return complex(-omega * 10 ** (-0.3 - 2.5 * next()), omega)
      })
      const poles = withConjugates(pairs)
      const spec = parseSpec({
        response: 'free',
        shape: { poles: poles.map((p) => [p.re, p.im]) },
        requirements: [
          { kind: 'delay-variation', limit: 1, from: 80, to: 12_000 },
          { kind: 'phase-linearity', limit: 1, from: 80, to: 12_000 },
        ],
      } as unknown as FilterSpecInput)
      const { transfer } = approximate(spec)
      const [delay, straight] = verdictsOf(spec, transfer)
      const grid = Array.from({ length: 60_001 }, (_, k) => 80 * 150 ** (k / 60_000))
      const delays = grid.map((f) => groupDelay(transfer, 2 * Math.PI * f))
      const span = delays.reduce((a, b) => Math.max(a, b)) - delays.reduce((a, b) => Math.min(a, b))
      expect(delay!.achieved! / span).toBeGreaterThanOrEqual(1 - 1e-12)
      expect(delay!.achieved! / span).toBeLessThan(1 + 1e-3)
      // Least strip by linear programming's dual: three points that alternate bound it from below for any line.
      const degrees = (f: number) => (phase(transfer, 2 * Math.PI * f) * 180) / Math.PI
      let below = 0
      const sparse = grid.filter((_, k) => k % 300 === 0)
      for (let i = 0; i < sparse.length; i++)
        for (let k = i + 2; k < sparse.length; k += 7)
          for (let j = i + 1; j < k; j += 3) {
            const [a, b, c] = [sparse[i]!, sparse[j]!, sparse[k]!]
            const share = (b - a) / (c - a)
            below = Math.max(below, Math.abs(degrees(b) - (1 - share) * degrees(a) - share * degrees(c)) / 2)
          }
      expect(straight!.achieved!).toBeGreaterThanOrEqual(below * (1 - 1e-9))
      expect(straight!.achieved! / below).toBeLessThan(1.05)
    }
  })
})

function verdictsOf(spec: ReturnType<typeof parseSpec>, transfer: TransferFunction) {
  const found = ledger(evidenceOf({ promised: { spec, ideal: approximate(spec) }, transfer }))
  return ['delay-variation', 'phase-linearity'].map((id) => found.find((v) => v.id === id))
}

describe('each side of a band-stop has its own attenuation', () => {
  test('the order that is chosen keeps the ledger, one less does not', () => {
    const spec = parseSpec({
      response: 'bandstop',
      approximation: 'chebyshev',
      passband: { edges: [391, 1062], ripple: 2 },
      stopband: { edges: [570, 785], attenuation: [65, 50] },
      realization: { family: 'lc-ladder', source: 50, load: 50 },
    } as FilterSpecInput)
    const { order, transfer } = approximate(spec)
    const met = (n: number) => {
      const fixed = parseSpec({ ...spec, order: n } as FilterSpecInput)
      const { transfer: h } = approximate(fixed)
      const top = Math.max(magnitudeDb(h, 0), magnitudeDb(h, 2 * Math.PI * 391))
      return top - magnitudeDb(h, 2 * Math.PI * 570) >= 65 && top - magnitudeDb(h, 2 * Math.PI * 785) >= 50
    }
    expect(met(order)).toBe(true)
    expect(met(order - 1)).toBe(false)
    const own = verify(spec, realize(spec).circuit)
    expect(own.map((v) => v.met)).toEqual([true, true, true])
    const at = (id: string) => own.find((v) => v.id === id)!
    expect(at('stopband').at).toBeCloseTo(570, 6)
    expect(at('stopband 2').at).toBeCloseTo(785, 6)
    expect(transfer.poles).toHaveLength(2 * order)
  })
})

describe('pinned stop-band edges of a band', () => {
  test.each([
    ['bandpass', [1000, 2000], [700, 3300]],
    ['bandstop', [700, 3300], [1000, 2000]],
  ] as const)('%s: both are met exactly, the passband is kept', (response, passband, stopband) => {
    for (const approximation of ['inverse-chebyshev', 'elliptic', 'butterworth', 'chebyshev'] as const) {
      const spec = parseSpec({
        response,
        approximation,
        passband: { edges: [...passband], ripple: 0.5 },
        stopband: { edges: [...stopband], attenuation: 42 },
        pin: 'stopband',
      } as FilterSpecInput)
      const { transfer } = approximate(spec)
      for (const f of stopband) expect(magnitudeDb(transfer, 2 * Math.PI * f)).toBeCloseTo(-42, 8)
      for (const f of passband) expect(magnitudeDb(transfer, 2 * Math.PI * f)).toBeGreaterThan(-0.5 - 1e-9)
    }
  })
})

describe('crossings of a loop gain', () => {
  const high = (q: number): TransferFunction => ({
    poles: withConjugates([complex(-1000 / (2 * q), 1000 * Math.sqrt(1 - 1 / (4 * q * q)))]),
    zeros: [complex(0), complex(0)],
    gain: 1,
  })

  test('a high-pass that tends to 1 crosses 1 below its peak alone', () => {
    // |H| = 1 where ω⁴ = (ω₀² − ω²)² + (ω₀ω/Q)², so that ω² = ω₀²/(2 − 1/Q²).
    const { gainCrossing } = acMeasures(high(2))
    expect(gainCrossing! / (1000 / Math.sqrt(2 - 1 / 4) / (2 * Math.PI))).toBeCloseTo(1, 12)
  })

  test('a phase that dips below −180° between two points is found; a zero on the axis is no crossing', () => {
    const w = (f: number) => 2 * Math.PI * f
    const trap = {
      poles: [complex(-w(25), w(10_000)), complex(-w(25), -w(10_000))],
      zeros: [complex(0, w(10_000)), complex(0, -w(10_000))],
    }
    const loop: TransferFunction = {
      poles: [complex(-w(5000)), complex(-w(5000)), ...trap.poles],
      zeros: trap.zeros,
      gain: 10 * w(5000) ** 2,
    }
    const { phaseCrossing, gainMarginDb } = acMeasures(loop)
    expect(phaseCrossing).toBeGreaterThan(9000)
    expect(phaseCrossing).toBeLessThan(10_000)
    expect((phase(loop, w(phaseCrossing!)) * 180) / Math.PI).toBeCloseTo(-180, 8)
    expect(gainMarginDb).toBeCloseTo(-magnitudeDb(loop, w(phaseCrossing!)), 9)
    // Zeros alone lift the phase, by jumps.
    expect(acMeasures({ ...loop, poles: loop.poles.slice(0, 2), zeros: [] }).phaseCrossing).toBeNull()
  })
})
