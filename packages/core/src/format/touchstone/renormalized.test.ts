import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { formulate } from '../../analysis/mna.js'
import { scattering } from '../../analysis/scattering.js'
import { logarithmicGrid } from '../../analysis/sweeps.js'
import { type Complex, complex } from '../../numeric/complex.js'
import { readNetlist } from '../netlist/readNetlist.js'
import { networkCurves, referredTo } from './networkCurves.js'
import { readTouchstone } from './readTouchstone.js'
import { renormalized, renormalizedMatrix } from './renormalized.js'
import { writeTouchstone } from './writeTouchstone.js'

const circuit = (rs: number, rl: number) =>
  readNetlist(`t\nV1 in 0 AC 1\nRS in a ${rs}\nL1 a b 2u\nC1 b 0 1n\nR1 b c 10\nC2 c 0 300p\nRL c 0 ${rl}\n`).circuit
const grid = logarithmicGrid(1e5, 1e7, 4)
const textOf = (rs: number, rl: number) =>
  writeTouchstone(grid, scattering(formulate(circuit(rs, rl)), ['RS', 'RL'], grid), 'measured')

const reference = fc.double({ min: Math.log(1), max: Math.log(1e4), noNaN: true }).map(Math.exp)
const close = (a: Complex, b: Complex) => {
  expect(a.re).toBeCloseTo(b.re, 10)
  expect(a.im).toBeCloseTo(b.im, 10)
}

describe('scattering parameters of other references', () => {
  test('are those of the same circuit between other resistors, one port unlike the other', () => {
    fc.assert(
      fc.property(reference, reference, reference, reference, (r1, r2, r3, r4) => {
        const taken = renormalized(readTouchstone(textOf(r1, r2), 2), [r3, r4])
        const wanted = readTouchstone(textOf(r3, r4), 2)
        for (const entry of ['11', '21', '12', '22'])
          grid.forEach((_, k) => {
            const [a, b] = [taken.entries[entry]!, wanted.entries[entry]!]
            close(complex(a.re[k], a.im[k]), complex(b.re[k], b.im[k]))
          })
      }),
      { numRuns: 20 },
    )
  })

  test('with complex references they are power waves: a load that is the conjugate of its reference takes all', () => {
    // Kurokawa 1965: of an impedance Z at a port of reference Zr, s = (Z − Zr*)/(Z + Zr).
    fc.assert(
      fc.property(reference, reference, reference, reference, (r, x, rz, xr) => {
        const [z, zr] = [complex(r, x - 50), complex(rz, 50 - xr)]
        const at50 = [[{ re: 0, im: 0 }]]
        const d = (z.re + 50) ** 2 + z.im ** 2
        at50[0]![0] = { re: ((z.re - 50) * (z.re + 50) + z.im ** 2) / d, im: (100 * z.im) / d }
        const [[s]] = renormalizedMatrix(at50, [complex(50)], [zr])! as [[Complex]]
        const e = (z.re + zr.re) ** 2 + (z.im + zr.im) ** 2
        const [nr, ni] = [z.re - zr.re, z.im + zr.im]
        close(s, {
          re: (nr * (z.re + zr.re) + ni * (z.im + zr.im)) / e,
          im: (ni * (z.re + zr.re) - nr * (z.im + zr.im)) / e,
        })
        close(renormalizedMatrix(at50, [complex(50)], [{ re: z.re, im: -z.im }])![0]![0]!, complex(0))
      }),
    )
  })

  test('a 150 Ω resistor measured at 75 Ω reflects a half at 50 Ω; said in a note', () => {
    const data = readTouchstone('# MHz S RI R 75\n1 0.333333333333333 0\n', 1)
    const own = readNetlist('t\nV1 in 0 AC 1\nRS in a 50\nR1 a 0 150\n').circuit
    const referred = referredTo(data, own, 's11(RS)')
    expect(networkCurves(referred)[0]!.name).toBe('S11')
    expect(referred.entries['11']!.re[0]).toBeCloseTo(0.5, 12)
    expect(referred.notes.join()).toMatch(/^Taken over from 75\.00\sΩ to the circuit’s 50\.00\sΩ\.$/)
  })

  test('what is referred alike, and what is no scattering parameter, stays as it is', () => {
    const data = readTouchstone(textOf(50, 75), 2)
    expect(referredTo(data, circuit(50, 75), 's21(RS,RL)')).toBe(data)
    expect(referredTo(data, circuit(50, 60), 'v(c)')).toBe(data)
    const z = readTouchstone('# MHz Z RI R 75\n1 2 0\n', 1)
    expect(referredTo(z, circuit(50, 50), 's11(RS)')).toBe(z)
  })

  test('what cannot be is refused with both numbers', () => {
    const data = readTouchstone('# MHz S RI R 75\n1 -3 0\n', 1)
    // −37.5 Ω has no reflection at 37.5 Ω.
    expect(() => renormalized(data, [37.5])).toThrow(/75\.00\sΩ.*37\.50\sΩ/)
    expect(() => renormalized(data, [0])).toThrow(/75\.00\sΩ.*0\.000\sΩ/)
    expect(() => referredTo(readTouchstone(textOf(50, 50), 2), circuit(75, 75), 's11(RS)')).toThrow(/2 ports/)
  })
})
