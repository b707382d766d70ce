import { expect, test } from 'vitest'
import { polesAndZeros } from '../../analysis/poles.js'
import { formulate } from '../../analysis/mna.js'
import { approximate } from '../../approximation/approximate.js'
import { abs, subtract } from '../../numeric/complex.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../realize.js'

const specOf = (order: number, sections?: readonly string[]) =>
  parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order,
    passband: { edges: [1e3] },
    realization: { family: 'active-cascade', ...(sections && { sections }) },
  })

test('families are named one a pair of poles, with or without one for the section of first order', () => {
  const two = specOf(5, ['sallen-key', 'fliege'])
  const { transfer } = polesAndZeros(formulate(realize(two).circuit))
  const ideal = approximate(two).transfer
  for (const f of [10, 900, 1100, 5e3]) {
    const s = { re: 0, im: 2 * Math.PI * f }
    const [a, b] = [evaluate(transfer, s), evaluate(ideal, s)]
    expect(abs(subtract(a, b)) / abs(b)).toBeLessThan(1e-9)
  }
  const amplifiers = (sections: readonly string[]) =>
    realize(specOf(5, sections)).circuit.parts.filter((p) => p.kind === 'opamp').length
  // A pair by one amplifier or by two; the first-order section has one.
  expect(amplifiers(['fliege', 'fliege'])).toBe(amplifiers(['sallen-key', 'sallen-key']) + 2)
  expect(() => realize(specOf(5, ['sallen-key']))).toThrow('1 families are named for 3 sections')
  expect(() => realize(specOf(4, ['sallen-key']))).toThrow('1 families are named for 2 sections')
})
