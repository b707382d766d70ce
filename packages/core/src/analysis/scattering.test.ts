import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { writeTouchstone } from '../format/touchstone/writeTouchstone.js'
import { abs, add, type Complex, complex, conjugate, divide, multiply, scale, subtract } from '../numeric/complex.js'
import { formulate } from './mna.js'
import { polesAndZeros } from './poles.js'
import { scattering } from './scattering.js'
import { sensitivity } from './sensitivity.js'
import { AcAnalysis } from './signalAnalysis.js'
import { bindSignals } from './signals.js'
import { logarithmicGrid } from './sweeps.js'

const read = (...lines: string[]) => formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)
const grid = logarithmicGrid(1e4, 1e8, 5)
const close = (a: Complex, b: Complex, digits = 12) => {
  expect(a.re).toBeCloseTo(b.re, digits)
  expect(a.im).toBeCloseTo(b.im, digits)
}

describe('a lossless ladder between 50 Ω and 75 Ω', () => {
  const ladder = read('V1 in 0 AC 1', 'RS in a 50', 'C1 a 0 1n', 'L2 a b 4u', 'C3 b 0 1.2n', 'RL b 0 75')
  const { references, points } = scattering(ladder, ['RS', 'RL'], grid)

  test('gives back what it takes: the matrix is unitary, and reciprocal', () => {
    expect(references).toEqual([50, 75])
    for (const { s11, s21, s12, s22 } of points) {
      expect(abs(s11) ** 2 + abs(s21) ** 2).toBeCloseTo(1, 12)
      expect(abs(s22) ** 2 + abs(s12) ** 2).toBeCloseTo(1, 12)
      close(s21, s12)
      close(add(multiply(s11, conjugate(s12)), multiply(s21, conjugate(s22))), complex(0))
    }
  })

  test('turned round, the ports change places', () => {
    const turned = read('V1 in 0 AC 1', 'RS in a 75', 'C1 a 0 1.2n', 'L2 a b 4u', 'C3 b 0 1n', 'RL b 0 50')
    scattering(turned, ['RS', 'RL'], grid).points.forEach((other, k) => {
      close(other.s11, points[k]!.s22)
      close(other.s22, points[k]!.s11)
      close(other.s21, points[k]!.s12)
    })
  })
})

test('by hand: a series impedance, a resistive attenuator, nothing at all, an amplifier that goes one way', () => {
  const f = Float64Array.of(1e6)
  const of = (...lines: string[]) =>
    scattering(read('V1 in 0 AC 1', 'RS in a 50', ...lines), ['RS', 'RL'], f).points[0]!
  // Z in series: S11 = Z/(Z + 2R), S21 = 2R/(Z + 2R).
  const series = of('R1 a b 100', 'RL b 0 50')
  close(series.s11, complex(0.5))
  close(series.s21, complex(0.5))
  const wire = of('R1 a b 0.000001', 'RL b 0 50')
  close(wire.s21, complex(1), 7)
  close(wire.s22, complex(0), 7)
  // 3.01 dB matched: each way 1/√2, nothing comes back. Series arms R·(√2−1)/(√2+1), shunt arm 2·R·√2/(2−1).
  const [arm, shunt] = [(50 * (Math.SQRT2 - 1)) / (Math.SQRT2 + 1), 100 * Math.SQRT2]
  const pad = of(`R1 a m ${arm}`, `R2 m b ${arm}`, `R3 m 0 ${shunt}`, 'RL 0 b 50')
  close(pad.s11, complex(0))
  close(pad.s22, complex(0))
  close(pad.s21, complex(Math.SQRT1_2))
  close(pad.s12, complex(Math.SQRT1_2))
  // Open at its input, 50 Ω at its output, gain 4: S11 = 1, S21 = 4, S12 = S22 = 0.
  const amplifier = of('E1 c 0 a 0 4', 'RO c b 50', 'RL b 0 50')
  close(amplifier.s11, complex(1))
  close(amplifier.s21, complex(4))
  close(amplifier.s12, complex(0))
  close(amplifier.s22, complex(0))
})

test.each([
  [['RL', 'RS'], 'RL is not in series with V1'],
  [['C1', 'RL'], 'C1 is no resistor'],
  [['RS', 'RS'], 'Both ports name one resistor'],
  [['RS', 'RX'], 'There is no part "RX"'],
])('%j is refused: %s', (ports, problem) => {
  const rc = read('V1 in 0 AC 1', 'RS in a 50', 'C1 a 0 1n', 'R2 a out 1', 'RL out 0 50')
  expect(() => scattering(rc, ports as [string, string], grid)).toThrow(problem)
})

describe('as a Touchstone text', () => {
  const f = Float64Array.of(1e6, 2e6)
  const text = (load: number) => {
    const mna = read('V1 in 0 AC 1', 'RS in a 50', 'R1 a b 100', `RL b 0 ${load}`)
    return writeTouchstone(f, scattering(mna, ['RS', 'RL'], f), 'a resistor')
  }

  test('one reference: version 1.1, S21 before S12', () => {
    const lines = text(50).trimEnd().split('\n')
    expect(lines.slice(0, 2)).toEqual(['! a resistor', '# HZ S RI R 50'])
    expect(lines).toHaveLength(4)
    const numbers = lines[2]!.split(' ').map(Number)
    expect(numbers).toHaveLength(9)
    expect(numbers[0]).toBe(1e6)
    for (const k of [1, 3, 5, 7]) expect(numbers[k]).toBeCloseTo(0.5, 12)
  })

  test('two references: version 2.0 with its keywords in their order', () => {
    const lines = text(75).trimEnd().split('\n')
    expect(lines.slice(1, 8)).toEqual([
      '[Version] 2.0',
      '# HZ S RI R 50',
      '[Number of Ports] 2',
      '[Two-Port Data Order] 21_12',
      '[Number of Frequencies] 2',
      '[Reference] 50 75',
      '[Network Data]',
    ])
    expect(lines.at(-1)).toBe('[End]')
    // 100 Ω in series between 50 and 75 Ω: S11 = (175 − 50)/(175 + 50), S21 = 2·√(50·75)/225.
    const [, s11, , s21] = lines[8]!.split(' ').map(Number)
    expect(s11).toBeCloseTo(125 / 225, 12)
    expect(s21).toBeCloseTo((2 * Math.sqrt(50 * 75)) / 225, 12)
  })
})

describe('as signals', () => {
  const f = logarithmicGrid(1e5, 1e7, 4)
  const at = (mna: ReturnType<typeof read>, signal: string) => new AcAnalysis(mna, { output: signal }).sweep(f)

  test('a source that drives with its minus gives the same two-port', () => {
    const rest = ['C1 a 0 1n', 'L2 a b 4u', 'R3 b 0 90', 'C4 b out 2n', 'RL out 0 75']
    const [plain, turned] = [read('V1 in 0 AC 1', 'RS in a 50', ...rest), read('V1 0 in AC 1', 'RS in a 50', ...rest)]
    for (const op of ['s11', 's21', 's12', 's22']) {
      const [one, other] = [at(plain, `${op}(RS,RL)`), at(turned, `${op}(RS,RL)`)]
      one.re.forEach((re, k) => close(complex(re, one.im[k]), complex(other.re[k], other.im[k])))
    }
  })

  test('of one port alone: the reflection is (Z − R)/(Z + R) of the impedance behind the resistor', () => {
    const mna = read('V1 in 0 AC 1', 'RS in a 50', 'L1 a b 2u', 'C1 b 0 1n', 'R1 b 0 30')
    const [s11, z] = [at(mna, 's11(RS)'), at(mna, 'z(V1)-50ohm')]
    s11.re.forEach((re, k) => {
      const impedance = complex(z.re[k], z.im[k])
      close(complex(re, s11.im[k]), divide(subtract(impedance, complex(50)), add(impedance, complex(50))))
    })
  })

  test('the direct sum of squares of a lossless two-port is 1 as one signal; its poles are those of the output', () => {
    const mna = read('V1 in 0 AC 1', 'RS in a 50', 'C1 a 0 1n', 'L2 a out 4u', 'C3 out 0 1.2n', 'RL out 0 75')
    const whole = at(mna, 'abs(s11(RS,RL))^2+abs(s21(RS,RL))^2')
    whole.re.forEach((v) => expect(v).toBeCloseTo(1, 12))
    const [s21, out] = [polesAndZeros(mna, { output: 's21(RS,RL)' }), polesAndZeros(mna)]
    expect(s21.transfer.poles).toEqual(out.transfer.poles)
    expect(s21.transfer.gain / out.transfer.gain).toBeCloseTo(2 * Math.sqrt(50 / 75), 9)
  })

  // Both resistors are part of what the waves are referred to: slopes against circuits with other values.
  test.each(['s11(RS,RL)', 's21(RS,RL)', 's12(RS,RL)', 's22(RS,RL)', 'db(s21(RS,RL))'])('slopes of %s', (output) => {
    const lines = (values: Record<string, number>) => [
      'V1 in 0 AC 1',
      `RS in a ${values.RS}`,
      `C1 a 0 ${values.C1}`,
      'L2 a b 4u',
      'R3 b out 20',
      `RL out 0 ${values.RL}`,
    ]
    const own = { RS: 50, C1: 1e-9, RL: 75 }
    const frequency = 3e6
    const { components } = sensitivity(read(...lines(own)), [frequency], { output })
    for (const name of ['RS', 'C1', 'RL'] as const) {
      const of = (factor: number) => {
        const mna = read(...lines({ ...own, [name]: own[name] * factor }))
        return new AcAnalysis(mna, { output }).point(2 * Math.PI * frequency).value
      }
      const h = 1e-4
      const [up, down, here] = [of(1 + h), of(1 - h), of(1)]
      const slope = divide(scale(subtract(up, down), 1 / (2 * h)), here)
      // The difference misses h² of the slope.
      expect(components[name].magnitude[0]).toBeCloseTo(slope.re, 6)
      expect(components[name].phase[0]).toBeCloseTo(slope.im, 6)
    }
  })

  test('have no course in time, and name two resistors', () => {
    const mna = read('V1 in 0 AC 1', 'RS in a 50', 'RL a 0 50')
    expect(() => bindSignals(mna, ['s21(RS,RL)'], null)).toThrow('no course in time')
    expect(() => at(mna, 's21(RS)')).toThrow('takes two names')
    const real = formulate({
      ...mna.circuit,
      elements: mna.circuit.elements.map((e) =>
        e.name === 'RS' ? { ...e, values: { ...e.values, parallelCapacitance: 1e-12 } } : e,
      ),
    })
    expect(() => at(real, 's21(RS,RL)')).toThrow('of its own')
  })
})

describe('wherever the source and its resistor stand in their loop, the two-port is the same', () => {
  const rest = ['R1 p b 100', 'C1 b 0 1n', 'R2 b 0 200', 'RL b 0 50']
  const usual = scattering(read('V1 a 0 AC 1', 'RS a p 75', ...rest), ['RS', 'RL'], grid).points
  test.each([
    ['the resistor turned', 'V1 a 0 AC 1', 'RS p a 75'],
    ['the source turned', 'V1 0 a AC 1', 'RS a p 75'],
    ['in the way back', 'V1 p x AC 1', 'RS x 0 75'],
    ['in the way back, the resistor turned', 'V1 p x AC 1', 'RS 0 x 75'],
    ['in the way back, the source turned', 'V1 x p AC 1', 'RS x 0 75'],
  ])('%s', (_, source, resistor) => {
    // What the source says of itself turns round with it; between the ports nothing does.
    scattering(read(source, resistor, ...rest), ['RS', 'RL'], grid).points.forEach((found, k) => {
      for (const entry of ['s11', 's21', 's12', 's22'] as const) close(found[entry], usual[k]![entry])
    })
  })
})
