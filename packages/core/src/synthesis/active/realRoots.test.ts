import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { formulate } from '../../analysis/mna.js'
import { growing, oscillationFindings } from '../../analysis/oscillation.js'
import { polesAndZeros } from '../../analysis/poles.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { abs, complex, subtract } from '../../numeric/complex.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { verify } from '../../verdict/verify.js'
import { topologies } from '../index.js'
import { realize } from '../realize.js'

const LOWPASS = { passband: { edges: [1000], ripple: 1 }, stopband: { attenuation: 45 } }
const BANDS = { passband: { edges: [900, 1100], ripple: 1 }, stopband: { attenuation: 45 } }
const RESPONSES = { lowpass: LOWPASS, highpass: LOWPASS, bandpass: BANDS, bandstop: BANDS }
/** Plain ones of 1 MHz; those whose far roots lie in heaps, and beyond what doubles tell apart; the fastest. */
const AMPLIFIERS = [
  { gain: 1e5, bandwidth: 1e6 },
  { gain: 1e5, bandwidth: 1e7, output: 50 },
  { gain: 1e6, bandwidth: 1e9 },
]

function mnaOf(asked: object) {
  try {
    const spec = parseSpec(asked)
    return { spec, circuit: realize(spec).circuit }
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

/** Roots against the equations themselves, at 41 frequencies over eight decades that none of them was found from. */
function worstOff(circuit: Parameters<typeof formulate>[0]): number {
  const mna = formulate(circuit)
  const { transfer } = polesAndZeros(mna)
  const ac = new AcAnalysis(mna)
  const seen = Array.from({ length: 41 }, (_, k) => complex(0, 2 * Math.PI * 0.137 * 10 ** (k / 5)))
    .filter((s) => [...transfer.poles, ...transfer.zeros].every((r) => abs(subtract(r, s)) > 1e-2 * abs(s)))
    .map((s) => ({ s, value: ac.at(s) }))
  const peak = Math.max(...seen.map(({ value }) => abs(value)))
  // 240 dB under the greatest value rounding is left.
  return Math.max(
    ...seen
      .filter(({ value }) => abs(value) > 1e-12 * peak)
      .map(({ s, value }) => abs(subtract(evaluate(transfer, s), value)) / abs(value)),
  )
}

describe('roots of every active circuit with real amplifiers say what its equations say', () => {
  const families = topologies.filter((t) => t.family === 'active').map((t) => t.id)
  test.each(families)('%s', { timeout: 120_000 }, (family) => {
    for (const [response, bands] of Object.entries(RESPONSES))
      for (const approximation of ['chebyshev', 'elliptic'])
        for (const amplifier of AMPLIFIERS) {
          const asked = { response, approximation, order: 3, ...bands, realization: { family, amplifier } }
          const made = mnaOf(asked)
          if (made) expect(worstOff(made.circuit), JSON.stringify(asked)).toBeLessThan(1e-5)
        }
  })
})

test.each([
  ['state-variable', 'bandstop', 'butterworth'],
  ['bainter', 'bandstop', 'chebyshev'],
  ['fdnr-ladder', 'bandpass', 'bessel'],
  ['leapfrog', 'bandpass', 'chebyshev'],
])('those of order 5, some thirty in heaps: %s %s %s', (family, response, approximation) => {
  for (const amplifier of AMPLIFIERS) {
    const asked = {
      response,
      approximation,
      order: 5,
      ...BANDS,
      stopband: undefined,
      realization: { family, amplifier },
    }
    const made = mnaOf(asked)
    if (made) expect(worstOff(made.circuit), JSON.stringify(asked)).toBeLessThan(1e-5)
  }
})

// How many zeros there are is decided by rounding 560 dB down, and without roots nothing is judged: the sweep would have to be.
test.fails.each(['fliege', 'impedance-converter'])('a circuit without sure roots is judged: %s', (family) => {
  const bands = { passband: { edges: [900, 1100], ripple: 1 } }
  const realization = { family, amplifier: AMPLIFIERS[1] }
  const { spec, circuit } = mnaOf({
    response: 'bandpass',
    approximation: 'butterworth',
    order: 5,
    ...bands,
    realization,
  })!
  expect(verify(spec, circuit).length).toBeGreaterThan(0)
})

test('low zeros stay where they are', () => {
  const asked = { response: 'highpass', approximation: 'butterworth', order: 3, passband: { edges: [1000], ripple: 3 } }
  const { circuit } = mnaOf({
    ...asked,
    realization: { family: 'leapfrog', amplifier: { gain: 1e5, bandwidth: 1e6 } },
  })!
  const mna = formulate(circuit)
  const { transfer } = polesAndZeros(mna)
  const s = complex(0, 2 * Math.PI * 7)
  const value = new AcAnalysis(mna).at(s)
  expect(abs(subtract(evaluate(transfer, s), value)) / abs(value)).toBeLessThan(1e-9)
})

describe('a circuit that oscillates', () => {
  const asked = {
    response: 'lowpass',
    approximation: 'elliptic',
    order: 3,
    ...LOWPASS,
    realization: { family: 'fdnr-ladder', amplifier: AMPLIFIERS[1] },
  }
  const { spec, circuit } = mnaOf(asked)!

  test('is found at the net where it does the most', () => {
    const [finding, ...others] = oscillationFindings(formulate(circuit))
    expect(others).toEqual([])
    expect(finding).toMatchObject({ check: 'oscillation', severity: 'fault' })
    expect(finding!.message).toMatch(/oscillates at about [\d.]+\s.?Hz/)
    expect(formulate(circuit).circuit.nodes).toContain(finding!.nets[0])
  })

  test('meets nothing of its specification', () => {
    const verdicts = verify(spec, circuit)
    expect(verdicts.length).toBeGreaterThan(1)
    for (const v of verdicts)
      expect(v).toMatchObject({ met: false, margin: null, failure: expect.stringMatching(/oscillates|runs away/) })
  })

  test('with ideal amplifiers nothing is found, and it meets it', () => {
    const ideal = mnaOf({ ...asked, realization: { family: 'fdnr-ladder' } })!
    expect(oscillationFindings(formulate(ideal.circuit))).toEqual([])
    expect(verify(ideal.spec, ideal.circuit).every((v) => v.met)).toBe(true)
  })

  test('rounding is no growth', () => {
    expect(growing([complex(1e-8, 1e3), complex(-1, 0), complex(0, 5)])).toEqual([])
    expect(growing([complex(1, 1e3), complex(1, -1e3), complex(2, 0)])).toEqual([complex(2, 0), complex(1, 1e3)])
  })
})
