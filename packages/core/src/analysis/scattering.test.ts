import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { writeTouchstone } from '../format/touchstone/writeTouchstone.js'
import { abs, add, type Complex, complex, conjugate, multiply } from '../numeric/complex.js'
import { formulate } from './mna.js'
import { scattering } from './scattering.js'
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
