import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { readRequirements } from '../format/design/readRequirements.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { acMeasures } from '../measure/acMeasures.js'
import { stepMeasures } from '../measure/stepMeasures.js'
import { MEASURES } from '../specification/requirements/measures.js'
import type { ValueReading } from '../specification/requirements/value.js'
import { evidenceOf } from './evidence.js'
import { ledger } from './ledger.js'
import { verify } from './verify.js'

const circuitOf = (...lines: string[]) => readNetlist(['t', ...lines, ''].join('\n')).circuit

/** What is read of a circuit, and where. */
function read(lines: readonly string[], of: object, study = {}) {
  // A phase is told on the turn that lies nearest to its limit.
  const min = 'as' in of && of.as === 'deg' ? -90 : -1e30
  const requirements = readRequirements([{ kind: 'value', id: 'x', of, min }])
  const [verdict] = verify(null, circuitOf(...lines), requirements, study)
  return verdict
}

/** First order: every number has a closed form. R = 1 kΩ, C = 100 nF, τ = 100 µs. */
const RC = ['V1 in 0 AC 1 PULSE(0 1 0 0 0)', 'R1 in out 1k', 'C1 out 0 100n']
const TAU = 1e-4
const CORNER = 1 / (2 * Math.PI * TAU)

describe('what can be promised is read by its closed form', () => {
  /*
   * Thermal noise behind an RC: kT/C in all, between two frequencies (2/π)·arctan(f/f₀) of it. Source: H. Nyquist, Phys. Rev. 32,
   * 1928, 110–113.
   */
  const [from, to] = [100, 1e5]
  const part = (2 / Math.PI) * (Math.atan(to / CORNER) - Math.atan(from / CORNER))
  const rustle = Math.sqrt(((1.380649e-23 * 300.15) / 100e-9) * part)
  const cases: [string, readonly string[], ValueReading, number, string, number?][] = [
    ['noise in a band', RC, { noise: 'out', from, to }, rustle, 'V'],
    ['a signal over it', RC, { noise: 'v(out)', from, to, level: 0.5 }, 20 * Math.log10(0.5 / rustle), 'dB'],
    ['a measure', RC, { measure: 'ac.cutoffs[0]' }, CORNER, 'Hz'],
    ['of another output', RC, { measure: 'ac.cutoffs[0]', output: 'i(C1)' }, CORNER, 'Hz'],
    ['of the step', RC, { measure: 'step.riseTime' }, TAU * Math.log(9), 's'],
    ['dB at a frequency', RC, { signal: 'out', frequency: CORNER, as: 'db' }, -10 * Math.log10(2), 'dB'],
    ['its size', RC, { signal: 'v(out)', frequency: CORNER, as: 'abs' }, Math.SQRT1_2, ''],
    ['its phase', RC, { signal: 'out', frequency: CORNER, as: 'deg' }, -45, '°'],
    ['its real part', RC, { signal: 'out', frequency: CORNER, as: 're' }, 0.5, ''],
    ['its imaginary part', RC, { signal: 'out', frequency: CORNER, as: 'im' }, -0.5, ''],
    ['an impedance', RC, { signal: 'z(V1)', frequency: CORNER, as: 'abs' }, 1000 * Math.SQRT2, 'Ω'],
    // Effective values: 1 V over √2 kΩ through 1 kΩ, ½ mW; a power has 10 dB a decade.
    ['a power', RC, { signal: 'p(R1)', frequency: CORNER, as: 'abs' }, 5e-4, 'W'],
    ['a power in dB', RC, { signal: 'p(R1)', frequency: CORNER, as: 'db' }, 10 * Math.log10(5e-4), 'dB'],
    ['a time', RC, { signal: 'out', from: 0, to: TAU, take: 'greatest' }, 1 - Math.exp(-1), 'V', TAU],
    ['a mean', RC, { signal: 'out', from: 0, to: TAU, take: 'mean' }, Math.exp(-1), 'V'],
    [
      'an effective value',
      RC,
      { signal: 'i(R1)', from: 0, to: 5 * TAU, take: 'rms' },
      1e-3 * Math.sqrt((1 - Math.exp(-10)) / 10),
      'A',
    ],
    [
      'its whole span',
      RC,
      { signal: 'out', from: TAU, to: 2 * TAU, take: 'peak-to-peak' },
      Math.exp(-1) - Math.exp(-2),
      'V',
      2 * TAU,
    ],
    [
      'over frequency',
      RC,
      { signal: 'out', from: 1, to: CORNER, over: 'frequency', as: 'db', take: 'least' },
      -10 * Math.log10(2),
      'dB',
      CORNER,
    ],
  ]
  test.each(cases)('%s', (_, lines, of, value, unit, at) => {
    const found = read(lines, of)
    // A run over time keeps six digits, an integral of noise seven, everything else nine.
    const digits = 'noise' in of ? 1e-7 : 'take' in of && of.over === undefined ? 3e-6 : 1e-9
    expect(Math.abs(found.achieved! / value - 1)).toBeLessThan(digits)
    expect(found.unit).toBe(unit)
    if (at !== undefined) expect(found.at! / at).toBeCloseTo(1, 5)
  })

  test('across a jump: a saw tooth from 0 to 1 V in 1 ms, back at once, to 0.5 V in 2 ms', () => {
    const saw = ['V1 in 0 AC 1 PWL(0 0 1m 1 1m 0 3m 0.5)', 'R1 in out 1k', 'R2 out 0 1k']
    const over = (signal: string, take: string, to = 3e-3) => read(saw, { signal, from: 0, to, take }).achieved!
    expect(over('in', 'mean')).toBeCloseTo((0.5e-3 + 0.5e-3) / 3e-3, 9)
    // ∫ of a ramp's square: a third of its height squared, times its length.
    expect(over('out', 'rms')).toBeCloseTo(0.5 * Math.sqrt((1e-3 / 3 + (0.25 * 2e-3) / 3) / 3e-3), 9)
    expect(over('in', 'greatest', 2e-3)).toBeCloseTo(1, 9)
    expect(over('in', 'peak-to-peak', 1.5e-3)).toBeCloseTo(1, 9)
  })

  test('at rest: what devices do as well', () => {
    const stage = ['VCC c 0 5', 'V1 in 0 0.6 AC 1', 'R1 c out 1k', 'Q1 out in 0 q', '.model q NPN(IS=1e-14 BF=100)']
    const current = 1e-14 * Math.expm1(0.6 / (8.617333262e-5 * 300.15))
    const close = (of: object, value: number) => expect(read(stage, of).achieved! / value).toBeCloseTo(1, 4)
    close({ signal: 'i(Q1)', operatingPoint: true }, current)
    close({ signal: 'out', operatingPoint: true }, 5 - 1000 * current)
    close({ signal: 'c-out', operatingPoint: true }, 1000 * current)
    close({ signal: 'p(R1)', operatingPoint: true }, 1000 * current ** 2)
  })

  test('a resonance is solved, however sharp: 1/(2π·√(LC)), √(L/C)/R', () => {
    const sharp = ['V1 in 0 AC 1', 'R1 in a 1', 'L1 a out 10m', 'C1 out 0 10n']
    const found = read(sharp, { signal: 'out', from: 1e3, to: 1e6, over: 'frequency', as: 'abs', take: 'greatest' })
    const q = 1000
    expect(found.at! / (15915.494309 * Math.sqrt(1 - 1 / (2 * q * q)))).toBeCloseTo(1, 7)
    expect(found.achieved! / (q / Math.sqrt(1 - 1 / (4 * q * q)))).toBeCloseTo(1, 8)
  })
})

test('the nearer limit counts, and the margin is the distance to it', () => {
  const at = (min?: number, max?: number) => {
    const limits = { ...(min !== undefined && { min }), ...(max !== undefined && { max }) }
    const list = readRequirements([{ kind: 'value', id: 'corner', of: { measure: 'ac.cutoffs[0]' }, ...limits }])
    const [{ id, sense, limit, margin, met }] = verify(null, circuitOf(...RC), list)
    return [id, sense, limit, Math.round(margin!), met]
  }
  expect(at(1500, 2000)).toEqual(['corner', 'at least', 1500, 92, true])
  expect(at(1000, 1600)).toEqual(['corner', 'at most', 1600, 8, true])
  expect(at(1600)).toEqual(['corner', 'at least', 1600, -8, false])
  expect(at(undefined, 1500)).toEqual(['corner', 'at most', 1500, -92, false])
})

test('what does not exist is not met, and other kinds stand beside it', () => {
  const list = readRequirements([
    { kind: 'value', id: 'second cutoff', of: { measure: 'ac.cutoffs[1]' }, min: 1 },
    { kind: 'rise-time', limit: 1e-3 },
  ])
  const found = verify(null, circuitOf(...RC), list)
  expect(found.map((v) => [v.id, v.achieved === null, v.met])).toEqual([
    ['second cutoff', true, false],
    ['rise-time', false, true],
  ])
})

test('what cannot be read is an error, or a line that is not met beside the others', () => {
  const circuit = circuitOf(...RC)
  const requirements = readRequirements([
    { kind: 'value', id: 'gone', of: { signal: 'nowhere', operatingPoint: true }, min: 1 },
    { kind: 'value', id: 'corner', of: { measure: 'ac.cutoffs[0]' }, min: 1000 },
  ])
  const { transfer } = polesAndZeros(formulate(circuit))
  const judged = ledger(evidenceOf({ promised: null, requirements, transfer, circuit, lenient: true }))
  expect(judged.map((v) => [v.id, v.met, v.failure !== undefined])).toEqual([
    ['gone', false, true],
    ['corner', true, false],
  ])
  expect(judged[0].failure).toContain('nowhere')
  expect(() => ledger(evidenceOf({ promised: null, requirements, transfer, circuit }))).toThrow(/nowhere/)
})

test('every measure has its name, and no other', () => {
  const transfer = { poles: [{ re: -1, im: 0 }], zeros: [], gain: 1 }
  const paths = (of: object, at: string): string[] =>
    Object.entries(of).flatMap(([key, value]) =>
      Array.isArray(value)
        ? [`${at}${key}[n]`]
        : typeof value === 'object' && value !== null
          ? paths(value as object, `${at}${key}.`)
          : [`${at}${key}`],
    )
  const there = [...paths(acMeasures(transfer), 'ac.'), ...paths(stepMeasures(transfer), 'step.')]
  expect(MEASURES.map((m) => m.path).sort()).toEqual(there.sort())
})

describe('what is wrong is said where it stands', () => {
  const of = { measure: 'ac.peakDb' }
  test.each([
    [{ kind: 'value', id: 'x', of }, /"min", "max" or both/, '0.min'],
    [{ kind: 'value', id: 'x', of, min: 2, max: 1 }, /below the least/, '0.max'],
    [{ kind: 'value', of, min: 1 }, /needs a name/, '0.id'],
    [{ kind: 'value', id: 'x', min: 1 }, /missing: "of"/, '0.of'],
    [{ kind: 'value', id: 'x', of: { measure: 'ac.peek' }, min: 1 }, /no such measure.*ac\.peakDb/s, '0.of.measure'],
    [
      { kind: 'value', id: 'x', of: { signal: 'out', frequency: -1, as: 'db' }, min: 1 },
      /above 0 Hz/,
      '0.of.frequency',
    ],
    [{ kind: 'value', id: 'x', of: { signal: 'out', frequency: 1, as: 'dB' }, min: 1 }, /"as" is one of db/, '0.of'],
    [
      { kind: 'value', id: 'x', of: { signal: 'out', from: 2, to: 1, take: 'least' }, min: 1 },
      /must end above/,
      '0.of.to',
    ],
    [
      { kind: 'value', id: 'x', of: { signal: 'out', from: 0, to: 1, take: 'most' }, min: 1 },
      /"take" is one of/,
      '0.of',
    ],
    [
      { kind: 'value', id: 'x', of: { signal: 'out', from: 1, to: 2, take: 'mean', over: 'frequency' }, min: 1 },
      /"as" says/,
      '0.of.as',
    ],
    [{ kind: 'gain', limit: 1 }, /Requirements are of kind .*value/, '0.kind'],
    [{ kind: 'overshoot', limit: -1 }, /must not be negative/, '0.limit'],
  ])('%j', (wrong, message, path) => {
    expect(() => readRequirements([wrong])).toThrow(message)
    expect(() => readRequirements([wrong])).toThrow(expect.objectContaining({ place: { path } }))
  })

  test('no list, two of one name, a net that is not there, an impedance at rest', () => {
    expect(() => readRequirements({})).toThrow(/list of requirements/)
    const two = [0, 1].map(() => ({ kind: 'value', id: 'x', of, min: 1 }))
    expect(() => readRequirements(two)).toThrow(/Two requirements are named "x"/)
    expect(() => read(RC, { signal: 'nowhere', operatingPoint: true })).toThrow(/nowhere/)
    expect(() => read(RC, { signal: 'z(V1)', operatingPoint: true })).toThrow(/is an impedance/)
  })
})

test('a phase is judged on the turn nearest to the middle of its limits, and shown there', () => {
  // −45° at the corner, and what is the same after whole turns.
  const of = { signal: 'out', frequency: CORNER, as: 'deg' }
  const judged = (limits: object) =>
    verify(null, circuitOf(...RC), readRequirements([{ kind: 'value', id: 'x', of, ...limits }]))[0]!
  for (const [limits, achieved, met] of [
    [{ max: -40 }, -45, true],
    [{ max: -50 }, -45, false],
    [{ max: 320 }, 315, true],
    [{ min: 310, max: 320 }, 315, true],
    [{ min: -1130, max: -1120 }, -1125, true],
    [{ min: 135 + 1e-3 }, 315, true],
    [{ min: 135 - 1e-3 }, -45, false],
  ] as const) {
    expect(judged(limits).achieved, JSON.stringify(limits)).toBeCloseTo(achieved, 9)
    expect(judged(limits).met, JSON.stringify(limits)).toBe(met)
  }
})

test('a promise that asks for no output needs no net of that name', () => {
  const lines = ['V1 a 0 5 AC 1', 'R1 a b 1k', 'R2 b 0 1k']
  const of = { signal: 'v(b)', operatingPoint: true }
  const promised = (more: readonly object[]) =>
    verify(null, circuitOf(...lines), readRequirements([{ kind: 'value', id: 'rest', of, max: 3 }, ...more]))
  expect(promised([]).map((v) => v.achieved)).toEqual([expect.closeTo(2.5, 12)])
  // One that does says so.
  expect(() => promised([{ kind: 'cutoff', limit: 1e3, target: 1e3 }])).toThrow(/no net "out"/)
})
