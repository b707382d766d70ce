import { describe, expect, test } from 'vitest'
import { flatten } from '../circuit/flatten.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { acMeasures } from '../measure/acMeasures.js'
import { uniform } from '../numeric/random.js'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { AcAnalysis } from './signalAnalysis.js'
import { measureSensitivities } from './measureSensitivity.js'
import { formulate } from './mna.js'
import { polesAndZeros } from './poles.js'
import { poleSensitivities } from './poleSensitivity.js'
import { sensitiveParameters, sensitivity } from './sensitivity.js'

const read = (...lines: string[]) => readNetlist(['test', ...lines, ''].join('\n')).circuit

describe('sensitivity where the equations are singular', () => {
  // Between its lines a lattice of first order leaves the common mode undamped: at its own frequency the equations do not
  // tell how high both lines lie. What passes does not change with any reactance there: each arm is the dual of the other.
  test('a lattice at its own frequency, whatever was asked of the same equations before', () => {
    const spec = parseSpec({
      response: 'allpass',
      approximation: 'butterworth',
      order: 1,
      passband: { edges: [1000] },
      realization: { family: 'lattice' },
    })
    const lattice = realize(spec).circuit
    const mna = formulate(lattice)
    new AcAnalysis(mna).sweep(Float64Array.from([10, 1000, 5000]))
    polesAndZeros(mna)
    const { components } = sensitivity(mna, [1000])
    const near = (name: string, wanted: number) => expect(components[name].magnitude[0]).toBeCloseTo(wanted, 8)
    near('RS', -0.5)
    near('RL', 0.5)
    for (const name of ['L1', 'L2', 'C1', 'C2']) near(name, 0)
  })
})

describe('sensitivity of poles', () => {
  // Unity-gain two-resistor, two-capacitor section: ω₀ = 1/√(R1R2C1C2), Q = √(R1R2C1C2)/(C2(R1 + R2)).
  // R. P. Sallen, E. L. Key, IRE Trans. CT-2, 1955, 74–85; the slopes by hand from there.
  const section = (r1: number, r2: number, c1: number, c2: number) =>
    read('V1 in 0 AC 1', `R1 in a ${r1}`, `R2 a b ${r2}`, `C1 a out ${c1}`, `C2 b 0 ${c2}`, 'E1 out 0 b out 1e12')

  test('of a section with one amplifier', () => {
    const mna = formulate(section(4e3, 9e3, 20e-9, 1e-9))
    const { transfer } = polesAndZeros(mna)
    const found = poleSensitivities(mna, transfer.poles)[0]!
    expect(found.w0).toBeCloseTo(1 / Math.sqrt(4e3 * 9e3 * 20e-9 * 1e-9), 3)
    for (const name of ['R1', 'R2', 'C1', 'C2']) expect(found.components[name].w0).toBeCloseTo(-0.5, 9)
    expect(found.components.C1.q).toBeCloseTo(0.5, 8)
    expect(found.components.C2.q).toBeCloseTo(-0.5, 8)
    // ½ − R1/(R1 + R2)
    expect(found.components.R1.q).toBeCloseTo(0.5 - 4 / 13, 8)
    expect(found.components.R2.q).toBeCloseTo(0.5 - 9 / 13, 8)
  })

  test('of random ladders: scaling every L and C moves each pole by minus one and leaves Q (frequency scaling)', () => {
    let place = 0
    for (let k = 0; k < 20; k++) {
      const value = (size: number) => size * 10 ** (uniform(7, place++) - 0.5)
      const mna = formulate(
        read(
          'V1 in 0 AC 1',
          `R1 in a ${value(50)}`,
          `C1 a 0 ${value(1e-9)}`,
          `L1 a b ${value(2e-6)}`,
          `C2 b 0 ${value(1e-9)}`,
          `L2 b out ${value(2e-6)}`,
          `C3 out 0 ${value(1e-9)}`,
          `R2 out 0 ${value(50)}`,
        ),
      )
      for (const pole of poleSensitivities(mna, polesAndZeros(mna).transfer.poles)) {
        const reactive = ['C1', 'L1', 'C2', 'L2', 'C3'].map((n) => pole!.components[n])
        expect(reactive.reduce((sum, c) => sum + c.w0, 0)).toBeCloseTo(-1, 8)
        expect(reactive.reduce((sum, c) => sum + c.q, 0)).toBeCloseTo(0, 7)
      }
    }
  })

  test('a double pole has none', () => {
    const mna = formulate(read('V1 in 0 AC 1', 'R1 in a 1k', 'C1 a 0 1u', 'E1 b 0 a 0 1', 'R2 b out 1k', 'C2 out 0 1u'))
    expect(poleSensitivities(mna, polesAndZeros(mna).transfer.poles)).toEqual([null, null])
  })
})

describe('sensitivity to parameters', () => {
  test('a parameter moves all that follow it: the sum of their own sensitivities, by the chain rule', () => {
    const circuit = read(
      '.param r=2k half={r/2}',
      'V1 in 0 AC 1',
      'R1 in a {r}',
      'C1 a 0 50n',
      'R2 a out {half}',
      'R3 out 0 {r*r/1k}',
    )
    const mna = formulate(circuit)
    const f = [700, 3e3]
    const own = sensitivity(mna, f).components
    const { r } = sensitivity(mna, f, {}, sensitiveParameters(circuit, mna)).components
    f.forEach((_, k) => {
      for (const which of ['magnitude', 'phase'] as const) {
        const sum = own.R1[which][k] + own.R2[which][k] + 2 * own.R3[which][k]
        expect(r[which][k]).toBeCloseTo(sum, 10)
      }
    })
  })

  test('inside a subcircuit, too', () => {
    const circuit = read(
      '.param c=1n',
      'V1 in 0 AC 1',
      'R1 in out 1k',
      'X1 out cell',
      '.subckt cell a',
      'C1 a 0 {c}',
      '.ends',
    )
    const mna = formulate(circuit)
    const { c } = sensitivity(mna, [1e5], {}, sensitiveParameters(circuit, mna)).components
    expect(c.magnitude[0]).toBeCloseTo(sensitivity(mna, [1e5]).components['X1.C1'].magnitude[0], 12)
  })

  test('one that moves an operating point is refused by name', () => {
    const circuit = read('.param k=2', 'V1 in 0 AC 1', 'R1 in out 1k', 'D1 out 0 d {k}', '.model d d')
    expect(() => sensitiveParameters(circuit, formulate(circuit))).toThrow('"k" changes D1')
  })
})

test('real parts: the derivative goes through what their parasitics owe to the value', () => {
  // An inductor of given Q at f₀ has R = 2πf₀L/Q: Z = L·(2πf₀/Q + s) follows L as a whole.
  const circuit = read('V1 in 0 AC 1', 'L1 in out 1m', 'R1 out 0 1k')
  circuit.parts[1].values = { ...circuit.parts[1].values, quality: 20, qualityFrequency: 1e5 }
  const mna = formulate(circuit)
  const { re, im } = new AcAnalysis(mna).sweep(Float64Array.of(1e5))
  // H = R/(R + Z): d ln H/d ln L = −Z/(R + Z) = H − 1.
  const { magnitude, phase } = sensitivity(mna, [1e5]).components.L1
  expect(magnitude[0]).toBeCloseTo(re[0] - 1, 10)
  expect(phase[0]).toBeCloseTo(im[0], 10)
})

test('measures: the cutoff of an RC section goes with 1/(RC), its peak with nothing', () => {
  const flat = flatten(read('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n'))
  const found = measureSensitivities(flat, (circuit) => {
    const { peakDb, cutoffs } = acMeasures(polesAndZeros(formulate(circuit)).transfer)
    return { peakDb, cutoff: cutoffs[0] ?? null, none: null }
  })
  const cutoff = 1 / (2 * Math.PI * 1e-4)
  for (const name of ['R1', 'C1']) {
    expect(found[name].cutoff.value! / cutoff).toBeCloseTo(-1, 6)
    expect(found[name].peakDb.value).toBeCloseTo(0, 6)
    expect(found[name].none).toEqual({ value: null, reason: 'not there' })
  }
})
