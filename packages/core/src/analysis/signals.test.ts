import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { proposedStop } from '../measure/propose.js'
import { stepMeasures } from '../measure/stepMeasures.js'
import { StepResponse } from '../measure/stepResponse.js'
import { abs, add, complex, divide, scale, subtract } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'
import { uniform } from '../numeric/random.js'
import { adaptiveSweep } from './adaptiveGrid.js'
import { AcAnalysis, SignalAnalysis } from './signalAnalysis.js'
import { formulate } from './mna.js'
import { operatingPoint } from './operatingPoint.js'
import { operatingReport } from './operatingReport.js'
import { maybeTransfer, polesAndZeros } from './poles.js'
import { sensitivity } from './sensitivity.js'
import { exactTransient } from './exactTransient.js'
import { interpolate, uniformTimes } from './interpolate.js'
import { logarithmicGrid } from './sweeps.js'
import { transient } from './transient.js'
import { ValueSweep } from './valueSweep.js'

const read = (...lines: string[]) => readNetlist(['test', ...lines, ''].join('\n')).circuit

describe('impedances of nets, every source at zero', () => {
  const lines = [
    'V1 in 0 AC 1',
    'V2 ref 0 AC 3',
    'R1 in a 1k',
    'R2 a ref 3k',
    'C1 a 0 1u',
    'R3 a b 500',
    'I1 b 0 AC 2',
    'L1 b 0 1m',
  ]
  const mna = formulate(read(...lines))
  const f = Float64Array.of(10, 1e3, 1e5)
  const of = (output: string) => new AcAnalysis(mna, { output }).sweep(f)

  test('of a net: what hangs on it, both voltage sources a short, the current source an opening', () => {
    const z = of('z(a)')
    f.forEach((hz, k) => {
      const w = 2 * Math.PI * hz
      const series = complex(500, w * 1e-3)
      const y = add(complex(1 / 1000 + 1 / 3000, w * 1e-6), divide(complex(1), series))
      const expected = divide(complex(1), y)
      expect(abs(subtract(complex(z.re[k], z.im[k]), expected)) / abs(expected)).toBeLessThan(1e-12)
    })
  })

  test('between two nets is by a current into one and out of the other', () => {
    const [ab, ba] = [of('z(a,b)'), of('z(b,a)')]
    // Z_ab = Z_aa + Z_bb − 2·Z_ab in a reciprocal network: by three measurements against ground.
    const loaded = (r: number) =>
      new AcAnalysis(formulate(read(...lines, `RX a b ${r}`)), { output: 'z(a,b)' }).sweep(f)
    const with1k = loaded(1000)
    f.forEach((_, k) => {
      const z = complex(ab.re[k], ab.im[k])
      expect(ba.re[k]).toBeCloseTo(z.re, 9)
      // Beside 1 kΩ it is Z·1k/(Z + 1k).
      const beside = divide(scale(z, 1000), add(z, complex(1000)))
      expect(abs(subtract(complex(with1k.re[k], with1k.im[k]), beside)) / abs(beside)).toBeLessThan(1e-12)
    })
  })

  test('of a net that a voltage source holds is nothing; of the source, what the net hangs on', () => {
    expect(of('z(in)').re[1]).toBeCloseTo(0, 12)
    expect(of('z(V1)').re[1]).toBeGreaterThan(1000)
    expect(of('z(I1)').re[2]).toBeCloseTo(of('z(b)').re[2], 9)
  })

  test('its poles and zeros are those of the network', () => {
    const { transfer } = polesAndZeros(mna, { output: 'z(a)' })
    const [z] = [of('z(a)')]
    f.forEach((hz, k) => {
      const h = evaluate(transfer, complex(0, 2 * Math.PI * hz))
      expect(abs(subtract(h, complex(z.re[k], z.im[k]))) / abs(h)).toBeLessThan(1e-10)
    })
    expect(new AcAnalysis(mna, { output: 'z(a)/z(a,b)' }).point(1).value.re).toBeGreaterThan(0)
  })

  test.each([
    ['z(nowhere)', 'neither a source nor a net'],
    ['v(nowhere)', 'no net "nowhere"'],
    ['v(a)+i(R1)', 'V and A do not add'],
    ['v(a)+1', 'V and a number do not add'],
    ['p(R1)+v(a)', 'W and V do not add'],
  ])('%s is refused', (output, message) => {
    expect(() => of(output)).toThrow(message)
  })
})

describe('several signals of one run', () => {
  const text = [
    'V1 in 0 AC 1',
    'I1 0 c AC 1m',
    'R1 in a 1k',
    'L1 a b 10m',
    'C1 b 0 1u',
    'R2 b c 2k',
    'C2 c 0 100n',
    'E1 out 0 c 0 3',
    'R3 out 0 1k',
  ]
  const mna = formulate(read(...text))
  const outputs = [
    'out',
    'v(a,b)',
    'i(C1)',
    'z(V1)',
    'z(c)',
    'p(R2)',
    'out/i(V1)',
    '2*v(a)-v(b)/2',
    'v(out)*v(a)',
    'z(V1)+z(c)',
  ]
  const rows = (points: number) => {
    const grid = logarithmicGrid(10, 1e5, points)
    return { grid, all: new SignalAnalysis(mna, outputs).sweep(grid) }
  }

  test.each([
    ['replayed', 4],
    ['compiled', 400],
  ])('are what each is by itself, delay and all, %s', (_, density) => {
    const { grid, all } = rows(density)
    outputs.forEach((output, j) => {
      const one = new AcAnalysis(mna, { output }).sweep(grid)
      grid.forEach((__, k) => {
        const size = Math.hypot(one.re[k], one.im[k])
        expect(Math.hypot(all[j].re[k] - one.re[k], all[j].im[k] - one.im[k])).toBeLessThanOrEqual(1e-11 * size)
        expect(all[j].delay[k]).toBeCloseTo(one.delay[k], 12)
      })
    })
  })

  test('slopes are those of the values, by differences', () => {
    const analysis = new SignalAnalysis(mna, outputs)
    const [w, h] = [2 * Math.PI * 700, 1e-2]
    const [before, at, after] = [w - h, w, w + h].map((omega) => analysis.points(omega))
    outputs.forEach((output, k) => {
      const slope = scale(subtract(after[k].value, before[k].value), 1 / (2 * h))
      expect(abs(subtract(at[k].slope, slope)), output).toBeLessThan(1e-5 * abs(slope) + 1e-16)
    })
  })

  test('have units by dimension', () => {
    const units = new SignalAnalysis(mna, [
      'out',
      'i(R1)',
      'z(c)',
      'p(R1)',
      'out/in',
      '1/z(c)',
      'v(out)*v(out)',
      'i(R1)/out/out',
    ]).units
    expect(units).toEqual(['V', 'A', 'Ω', 'W', '', 'S', 'V²', 'A/V²'])
  })

  test.each(['out/i(V1)', 'out/in', 'z(c)/z(V1)', '2*v(a)-v(b)/2', 'v(out)*v(a)', '3/z(V1)'])(
    'the roots of %s say what the sweep says',
    (output) => {
      const { transfer } = polesAndZeros(mna, { output })
      const grid = logarithmicGrid(10, 1e5, 3)
      const { re, im } = new AcAnalysis(mna, { output }).sweep(grid)
      grid.forEach((hz, k) => {
        const h = evaluate(transfer, complex(0, 2 * Math.PI * hz))
        expect(abs(subtract(h, complex(re[k], im[k]))) / abs(h)).toBeLessThan(1e-8)
      })
    },
  )

  test('a power has no roots of its own, and none are made up', () => {
    expect(() => polesAndZeros(mna, { output: 'p(R1)' })).toThrow('no poles and zeros')
    expect(maybeTransfer(mna, { output: 'p(R1)' })).toBeNull()
  })

  test.each(['out/i(V1)', 'p(R2)', 'z(c)', 'v(out)*v(a)', '1/z(V1)', 'v(a)-v(b)'])(
    'the sensitivity of %s is that of the equations with another value',
    (output) => {
      const f = 900
      const of = (r2: number) => {
        const lines = text.map((line) => (line.startsWith('R2') ? `R2 b c ${r2}` : line))
        return new AcAnalysis(formulate(read(...lines)), { output }).point(2 * Math.PI * f).value
      }
      const { components } = sensitivity(mna, [f], { output })
      const h = 1e-4
      const [low, middle, high] = [of(2000 * (1 - h)), of(2000), of(2000 * (1 + h))]
      const slope = divide(scale(subtract(high, low), 1 / (2 * h)), middle)
      expect(components.R2.magnitude[0]).toBeCloseTo(slope.re, 6)
      expect(components.R2.phase[0]).toBeCloseTo(slope.im, 6)
    },
  )

  // A sine of 2 V peak has √2 V effective: 2 W in 1 Ω would be 2²/1, its mean is half of that.
  test.each([
    [undefined, 4],
    ['effective', 4],
    ['peak', 2],
    ['peak-to-peak', 0.5],
  ] as const)('the power of a magnitude that is said to be %s', (acAs, watts) => {
    const circuit = read('V1 out 0 AC 2', 'R1 out 0 1')
    const said = { ...circuit, parts: circuit.parts.map((p) => (p.id === 'V1' && acAs ? { ...p, acAs } : p)) }
    const volts = 2
    const power = abs(new AcAnalysis(formulate(said), { output: 'p(R1)' }).at(complex(0, 1)))
    expect(power * volts ** 2).toBeCloseTo(watts, 12)
    // Over time and at rest a power is what it is.
    const dc = formulate(read('V1 out 0 DC 2', 'R1 out 0 1'))
    expect(operatingReport(dc, operatingPoint(dc)).powers.R1).toBeCloseTo(4, 12)
  })

  test.each(['out', 'out/i(V1)', 'p(R2)', 'z(c)', '1/z(V1)'])('%s follows values one after the other', (output) => {
    const grid = logarithmicGrid(10, 1e5, 40)
    const sweep = new ValueSweep(mna, { output }, grid)
    for (const r2 of [1000, 2500, 7000]) {
      const other = formulate(read(...text.map((line) => (line.startsWith('R2') ? `R2 b c ${r2}` : line))))
      const { re, im } = sweep.run(other)
      const fresh = new AcAnalysis(other, { output }).sweep(grid)
      grid.forEach((_, k) => {
        const size = Math.hypot(fresh.re[k], fresh.im[k])
        expect(Math.hypot(re[k] - fresh.re[k], im[k] - fresh.im[k])).toBeLessThanOrEqual(1e-9 * size)
      })
    }
    expect(sweep.plain).toBe(0)
  })

  test('one that has no limit at a singular frequency takes none from the others', () => {
    // At the resonance the tank's impedance is without bound; the voltage before it has a limit.
    const tank = formulate(read('V1 in 0 AC 1', 'R1 in a 1k', 'L1 b 0 1m', 'C1 b 0 1n', 'G1 0 b a 0 1m', 'C2 a 0 1n'))
    const w0 = 1e6
    const [a, b] = new SignalAnalysis(tank, ['a', 'z(b)']).points(w0)
    expect(abs(subtract(a.value, divide(complex(1), complex(1, 1))))).toBeLessThan(1e-9)
    expect(Number.isFinite(b.value.re)).toBe(false)
  })
})

describe('signals over time', () => {
  test('are joined after their parts were interpolated, by modes and by steps alike', () => {
    const circuit = read('V1 in 0 SIN(0 1 1k)', 'R1 in out 1k', 'C1 out 0 100n', 'R2 out 0 4k')
    const mna = formulate(circuit)
    const outputs = ['p(R2)', 'v(in)-v(out)', 'v(out)*2', 'i(R1)*i(R1)', 'v(in,out)/i(R1)']
    const [stop, points] = [3e-3, 301]
    const exact = exactTransient(mna, { stop, points, outputs })!
    const run = transient(mna, { stop, outputs, reltol: 1e-7 })
    const out = exactTransient(mna, { stop, points, outputs: ['out'] })![0]
    const time = uniformTimes(stop, points)
    const [p, drop, twice, squared, resistance] = outputs.map((_, k) => interpolate(run, k, time))
    out.forEach((v, k) => {
      expect(exact[0][k]).toBeCloseTo((v * v) / 4e3, 12)
      expect(p[k]).toBeCloseTo((v * v) / 4e3, 9)
      expect(drop[k]).toBeCloseTo(Math.sin(2000 * Math.PI * time[k]) - v, 6)
      expect(twice[k]).toBeCloseTo(2 * v, 6)
      expect(squared[k]).toBeCloseTo(exact[3][k], 9)
      if (Math.abs(drop[k]) > 1e-3) expect(resistance[k]).toBeCloseTo(1000, 3)
    })
    expect(() => transient(mna, { stop, outputs: ['z(out)'] })).toThrow('no course in time')
  })

  test('need no source that drives them', () => {
    const mna = formulate(read('C1 out 0 1u', 'R1 out 0 1k', '.ic v(out)=1'))
    const run = transient(mna, { stop: 1e-3, outputs: ['v(out)*i(R1)', 'p(R1)'], reltol: 1e-6 })
    expect(run.outputs[0].at(-1)).toBeCloseTo(Math.exp(-2) * 1e-3, 8)
    expect(run.outputs[1].at(-1)).toBeCloseTo(Math.exp(-2) * 1e-3, 8)
  })
})

describe('quotients and powers over frequency', () => {
  const mna = formulate(read('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n', 'R2 out 0 4k'))

  test('the power of a resistance is |v|²/R, that of a capacitance reactive and minus |v|²·ωC', () => {
    const f = Float64Array.of(200, 2e3, 2e4)
    const out = new AcAnalysis(mna, { output: 'out' }).sweep(f)
    const r = new AcAnalysis(mna, { output: 'p(R2)' }).sweep(f)
    const c = new AcAnalysis(mna, { output: 'p(C1)' }).sweep(f)
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
    const z = new AcAnalysis(mna, { output: 'out/i(R1)' }).sweep(f)
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
    const point = new AcAnalysis(mna, { output: 'out/i(R1)' }).point(2 * Math.PI * 300)
    expect(point.value.re).toBeCloseTo(z.re[0], 9)
  })

  test('an adaptive grid takes them as any other', () => {
    const sweep = adaptiveSweep(new AcAnalysis(mna, { output: 'p(R1)' }), 10, 1e6, [complex(-1.25e4)])
    expect(sweep.frequency.length).toBeGreaterThan(50)
    expect(sweep.re.every((p) => p > 0)).toBe(true)
  })

  test('the power of a part with four pins is refused', () => {
    const other = formulate(read('V1 in 0 AC 1', 'E1 out 0 in 0 2', 'R1 out 0 1k'))
    expect(() => new AcAnalysis(other, { output: 'p(E1)' })).toThrow('4 pins')
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
