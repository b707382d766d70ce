import { expect, test } from 'vitest'
import { acMeasures } from '../measure/acMeasures.js'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { firstSpecification, whatItIs } from './firstSpecification.js'
import { verify } from './verify.js'

const drawn = (cards: string) => readNetlist(`drawn\nV1 in 0 AC 1\n${cards}\n.end\n`).circuit
const firstOf = (cards: string) => firstSpecification(acMeasures(polesAndZeros(formulate(drawn(cards))).transfer))

test('a low-pass, a high-pass and a resonator get the specification that they meet today', () => {
  // 1/(2π·R·C) = 338.63 Hz; 1/(2π·√(L·C)) = 15.915 kHz with R/(2π·L) = 1.5915 kHz (first- and second-order sections: any textbook).
  const cases = {
    'R1 in out 4.7k\nC1 out 0 100n': { response: 'lowpass', order: 1, gain: 0, passband: { edges: [338] } },
    'C1 in out 100n\nR1 out 0 4.7k': { response: 'highpass', order: 1, gain: 0, passband: { edges: [339] } },
    'L1 in a 10m\nC1 a out 10n\nR1 out 0 100': {
      response: 'bandpass',
      order: 1,
      gain: 0,
      passband: { edges: [15200, 16700] },
    },
    'R1 in out 1k\nR2 out 0 1k\nC1 out 0 1u': {
      response: 'lowpass',
      order: 1,
      gain: -6.02,
      passband: { edges: [318] },
    },
  }
  for (const [cards, wanted] of Object.entries(cases)) {
    const first = firstOf(cards)!
    expect(first).toMatchObject(wanted)
    const verdicts = verify(parseSpec(first), drawn(cards))
    expect(verdicts.length).toBeGreaterThan(0)
    expect(verdicts.filter((v) => !v.met)).toEqual([])
  }
})

test('what has no cutoff gets none', () => {
  expect(firstOf('R1 in out 1k\nR2 out 0 1k')).toBeNull()
})

test('what is a filter of a family is proposed as that, and meets it; else by its cutoffs', () => {
  const circuitOf = (more: object) =>
    realize(
      parseSpec({
        response: 'lowpass',
        approximation: 'chebyshev',
        order: 5,
        passband: { edges: [20e3], ripple: 0.5 },
        realization: { family: 'lc-ladder' },
        ...more,
      }),
    ).circuit
  const of = (circuit: ReturnType<typeof circuitOf>) => whatItIs(circuit, polesAndZeros(formulate(circuit)).transfer)
  const cases: [object, object][] = [
    [{}, { approximation: 'chebyshev', order: 5, gain: -6.02, passband: { edges: [20e3], ripple: 0.5 } }],
    [
      {
        response: 'bandpass',
        passband: { edges: [9e3, 14e3], ripple: 0.5 },
        approximation: 'elliptic',
        order: 3,
        stopband: { attenuation: 50 },
      },
      { response: 'bandpass', approximation: 'elliptic', order: 3, stopband: { attenuation: 50 } },
    ],
    [
      { approximation: 'bessel', passband: { edges: [20e3] }, response: 'highpass' },
      { approximation: 'bessel', response: 'highpass', order: 5, passband: { edges: [20e3] } },
    ],
  ]
  for (const [asked, wanted] of cases) {
    const circuit = circuitOf(asked)
    const { proposed } = of(circuit)
    expect(proposed).toMatchObject(wanted)
    expect(verify(parseSpec(proposed!), circuit).every((v) => v.met)).toBe(true)
  }
  // With a coil twice as large it is no family's; what it passes can be promised all the same.
  const circuit = circuitOf({})
  const spoilt = {
    ...circuit,
    parts: circuit.parts.map((p) => (p.id === 'L2' ? { ...p, values: { inductance: 2 * p.values.inductance! } } : p)),
  }
  const { recognised, proposed } = of(spoilt)
  expect(recognised).toMatchObject({ response: 'lowpass', order: 5, approximation: null })
  expect(proposed).toMatchObject({ response: 'lowpass', approximation: 'butterworth' })
})
