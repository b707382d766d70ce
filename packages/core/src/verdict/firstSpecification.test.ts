import { expect, test } from 'vitest'
import { acMeasures } from '../measure/acMeasures.js'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { parseSpec } from '../specification/filterSpec.js'
import { firstSpecification } from './firstSpecification.js'
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
