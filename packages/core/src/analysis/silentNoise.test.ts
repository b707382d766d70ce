import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { BOLTZMANN, NOMINAL_TEMPERATURE } from '../circuit/devices/constants.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { formulate } from './mna.js'
import { NoiseAnalysis } from './noise.js'

const RANGE = [1, 1e9] as const

/** Noise between 1 Hz and 1 GHz, V², and how often a density was asked for. */
function noiseOf(lines: readonly string[], output = 'out'): { power: number; asked: number } {
  const noise = new NoiseAnalysis(formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit), {
    output,
    range: RANGE,
  })
  let asked = 0
  const at = noise.at.bind(noise)
  noise.at = (f) => {
    asked++
    return at(f)
  }
  return { power: noise.power(...RANGE, [1e3, 1e5]), asked }
}

const size = fc.double({ min: -2, max: 2, noNaN: true }).map((x) => 10 ** x)

/** Parts that hang on a net and lead nowhere: whatever they do, no current flows. */
const hanging = fc
  .array(fc.tuple(fc.constantFrom('R', 'C', 'L'), size), { minLength: 1, maxLength: 5 })
  .map((parts) => (net: string) => {
    const units = { R: 1e3, C: 1e-9, L: 1e-3 }
    return parts.map(([kind, x], k) => {
      const value = x * units[kind as keyof typeof units]
      return `${kind}h${k} ${k === 0 ? net : `h${k - 1}`} h${k} ${value}`
    })
  })

/** Far more than any smooth density takes. */
const MOST_ASKED = 20_000

describe('noise that cannot reach the output', () => {
  test('adds nothing, and is not sought for ever', () => {
    // Thermal noise behind an RC, from 1 Hz to 1 GHz: kT/C·(2/π)·(atan(f₂/f₀) − atan(f₁/f₀)). Source: H. Nyquist, Phys. Rev. 32, 1928.
    fc.assert(
      fc.property(size, size, hanging, (r, c, hang) => {
        const [R, C] = [1e3 * r, 1e-9 * c]
        const corner = 1 / (2 * Math.PI * R * C)
        const part = (2 / Math.PI) * (Math.atan(RANGE[1] / corner) - Math.atan(RANGE[0] / corner))
        const rc = ['V1 in 0 AC 1', `R1 in out ${R}`, `C1 out 0 ${C}`]
        const { power, asked } = noiseOf([...rc, ...hang('out')])
        expect(power / (((BOLTZMANN * NOMINAL_TEMPERATURE) / C) * part)).toBeCloseTo(1, 6)
        expect(asked).toBeLessThan(MOST_ASKED)
      }),
      { numRuns: 40 },
    )
  })

  test('where nothing else is there, is none', () => {
    fc.assert(
      fc.property(size, hanging, (c, hang) => {
        const lines = ['V1 in 0 AC 1', 'R1 in 0 1k', `C1 out 0 ${1e-6 * c}`, ...hang('out')]
        const { power, asked } = noiseOf(lines)
        // Against kT/C of some 1e-15 V².
        expect(power).toBeLessThan(1e-35)
        expect(asked).toBeLessThan(MOST_ASKED)
      }),
      { numRuns: 40 },
    )
  })

  test('between the arms of a balanced bridge the source’s resistor is silent to what is known of it', () => {
    fc.assert(
      fc.property(size, size, size, (a, b, c) => {
        const arms = [`R1 s x ${1e3 * a}`, `R2 x 0 ${1e3 * b}`, `R3 s y ${1e3 * a * c}`, `R4 y 0 ${1e3 * b * c}`]
        const shares = new NoiseAnalysis(
          formulate(readNetlist(['t', 'V1 in 0 AC 1', 'RS in s 1k', ...arms, ''].join('\n')).circuit),
          { output: 'v(x,y)', range: RANGE },
        ).shares(1e3)
        const of = (name: string) => shares.find((s) => s.name === name)!.density
        expect(of('RS')).toBeLessThan(1e-20 * of('R1'))
      }),
    )
  })
})
