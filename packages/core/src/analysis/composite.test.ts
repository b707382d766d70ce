import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { proposedStop } from '../measure/propose.js'
import { stepMeasures } from '../measure/stepMeasures.js'
import { StepResponse } from '../measure/stepResponse.js'
import { complex } from '../numeric/complex.js'
import { uniform } from '../numeric/random.js'
import { adaptiveSweep } from './adaptiveGrid.js'
import { acResponse } from './composite.js'
import { formulate } from './mna.js'
import { operatingPoint } from './operatingPoint.js'
import { operatingReport } from './operatingReport.js'
import { polesAndZeros } from './poles.js'

const read = (...lines: string[]) => readNetlist(['test', ...lines, ''].join('\n')).circuit

describe('quotients and powers over frequency', () => {
  const mna = formulate(read('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n', 'R2 out 0 4k'))

  test('the power of a resistance is |v|²/R, that of a capacitance reactive and minus |v|²·ωC', () => {
    const f = Float64Array.of(200, 2e3, 2e4)
    const out = acResponse(mna, { output: 'out' }).sweep(f)
    const r = acResponse(mna, { output: 'p(R2)' }).sweep(f)
    const c = acResponse(mna, { output: 'p(C1)' }).sweep(f)
    f.forEach((_, k) => {
      const v2 = out.re[k] ** 2 + out.im[k] ** 2
      expect(r.re[k] / (v2 / 4e3)).toBeCloseTo(1, 12)
      expect(r.im[k]).toBeCloseTo(0, 15)
      expect(c.im[k] / (-v2 * 2 * Math.PI * f[k] * 1e-7)).toBeCloseTo(1, 12)
      expect(c.re[k]).toBeCloseTo(0, 15)
    })
  })

  test('a transfer impedance: the output over the source’s current, its delay the difference of both', () => {
    const f = Float64Array.of(300, 3e3)
    const z = acResponse(mna, { output: 'out/i(R1)' }).sweep(f)
    f.forEach((hz, k) => {
      // R2 beside C1
      const w = 2 * Math.PI * hz
      const [g, b] = [1 / 4e3, w * 1e-7]
      const size = g * g + b * b
      expect(z.re[k] / (g / size)).toBeCloseTo(1, 11)
      expect(z.im[k] / (-b / size)).toBeCloseTo(1, 11)
      // φ = −arctan ωRC: delay RC/(1 + (ωRC)²)
      expect(z.delay[k] / (4e-4 / (1 + (w * 4e-4) ** 2))).toBeCloseTo(1, 10)
    })
    const point = acResponse(mna, { output: 'out/i(R1)' }).point(2 * Math.PI * 300)
    expect(point.value.re).toBeCloseTo(z.re[0], 9)
  })

  test('an adaptive grid takes them as any other', () => {
    const sweep = adaptiveSweep(acResponse(mna, { output: 'p(R1)' }), 10, 1e6, [complex(-1.25e4)])
    expect(sweep.frequency.length).toBeGreaterThan(50)
    expect(sweep.re.every((p) => p > 0)).toBe(true)
  })

  test('the power of a part with four pins is refused', () => {
    const other = formulate(read('V1 in 0 AC 1', 'E1 out 0 in 0 2', 'R1 out 0 1k'))
    expect(() => acResponse(other, { output: 'p(E1)' })).toThrow('4 pins')
  })
})

describe('power at the operating point', () => {
  // B. D. H. Tellegen, Philips Research Reports 7, 1952, 259–269: the powers of a circuit sum to zero.
  test('of random circuits with transistors, controlled sources and real amplifiers it sums to zero', () => {
    for (let k = 0; k < 30; k++) {
      let place = 0
      const r = (size: number) => size * 10 ** (uniform(k, place++) - 0.5)
      const circuit = read(
        `V1 in 0 ${r(3)}`,
        `I1 0 in ${r(1e-3)}`,
        `R1 in b ${r(1e4)}`,
        `Q1 c b e q`,
        `RC vcc c ${r(2e3)}`,
        'VCC vcc 0 12',
        `RE e 0 ${r(1e3)}`,
        `D1 e x d`,
        `R2 x 0 ${r(1e3)}`,
        `M1 y c 0 0 m W=20u L=2u`,
        `RD vcc y ${r(1e4)}`,
        `G1 0 z y 0 ${r(1e-4)}`,
        `R3 z 0 ${r(1e3)}`,
        `F1 z 0 V1 ${r(0.1)}`,
        `E1 w 0 z y ${r(2)}`,
        `R4 w 0 ${r(1e3)}`,
        `H1 u 0 VCC ${r(100)}`,
        `R5 u w ${r(1e3)}`,
        '.model q NPN (BF=150 RB=80 RE=1 VAF=60)',
        '.model d D (RS=3)',
        '.model m NMOS (VTO=0.8 KP=80u RD=10)',
      )
      const mna = formulate(circuit)
      const { powers, devices } = operatingReport(mna, operatingPoint(mna))
      const all = Object.values(powers)
      const size = all.reduce((sum, p) => sum + Math.abs(p), 0)
      expect(Math.abs(all.reduce((sum, p) => sum + p, 0))).toBeLessThan(1e-9 * size)
      expect(Object.keys(devices).sort()).toEqual(['D1', 'M1', 'Q1'])
      for (const name of ['R1', 'RC', 'Q1', 'D1', 'M1']) expect(powers[name]).toBeGreaterThan(0)
    }
  })
})

describe('impulse response', () => {
  test('is the derivative of the step response, and its integral', () => {
    const { transfer } = polesAndZeros(formulate(read('V1 in 0 AC 1', 'L1 in out 1m', 'R1 out 0 50', 'C1 out 0 1u')))
    const response = new StepResponse(transfer)
    const [stop, n] = [2e-3, 4001]
    const [step, impulse] = [response.sampled(stop, n), response.impulse(stop, n)]
    const h = stop / (n - 1)
    // Simpson's rule over the whole: y(stop) − y(0).
    const weights = (k: number) => (k === 0 || k === n - 1 ? 1 : k % 2 === 1 ? 4 : 2)
    const integral = impulse.reduce((sum, v, k) => sum + (weights(k) * v * h) / 3, 0)
    expect(integral).toBeCloseTo(step[n - 1] - step[0], 9)
  })

  test('of equal poles it is tⁿ⁻¹·e⁻ᵗ/(n−1)!', () => {
    const transfer = { poles: [1, 2, 3].map(() => complex(-1)), zeros: [], gain: 1 }
    const impulse = new StepResponse(transfer).impulse(10, 101)
    impulse.forEach((v, k) => expect(v).toBeCloseTo(((k / 10) ** 2 / 2) * Math.exp(-k / 10), 12))
  })
})

describe('how long a transient should run', () => {
  test('until the slowest source and the slowest mode have shown themselves', () => {
    const settle = proposedStop(formulate(read('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 1u')), 'out')!
    const { transfer } = polesAndZeros(formulate(read('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 1u')))
    expect(settle).toBeGreaterThan(stepMeasures(transfer).settlingTime!)
    expect(settle).toBeLessThan(20e-3)
    const sine = proposedStop(formulate(read('V1 in 0 SIN(0 1 50)', 'R1 in out 1k', 'C1 out 0 1u')), 'out')!
    expect(sine).toBeGreaterThanOrEqual(5 / 50)
    expect(proposedStop(formulate(read('V1 in 0 1', 'R1 in out 1k', 'R2 out 0 1k')), 'out')).toBeNull()
  })
})
