import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { formulate } from '../../analysis/mna.js'
import { operatingPoint } from '../../analysis/operatingPoint.js'
import { interpolate, uniformTimes } from '../../analysis/interpolate.js'
import { transient } from '../../analysis/transient.js'
import { approximate } from '../../approximation/approximate.js'
import type { Circuit } from '../../circuit/circuit.js'
import { complex } from '../../numeric/complex.js'
import { evaluate, magnitudeDb } from '../../numeric/transferFunction.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../realize.js'
import { SECTION_KINDS } from './families.js'
import { planSection, sectionSensitivities } from './SectionKind.js'
import { greatestLevels, ordered, PAIRINGS } from './pairing.js'

const LOWPASS = { response: 'lowpass', approximation: 'chebyshev', order: 4, passband: { edges: [1000], ripple: 1 } }
const ELLIPTIC = {
  response: 'lowpass',
  approximation: 'elliptic',
  order: 7,
  passband: { edges: [1000], ripple: 0.5 },
  stopband: { attenuation: 60 },
}
const made = (realization: object, asked: object = LOWPASS) => realize(parseSpec({ ...asked, realization }))

function levels(circuit: Circuit, output = 'out') {
  const grid = Float64Array.from([50, 400, 1000, 2500])
  const { re, im } = new AcAnalysis(formulate(circuit), { output }).sweep(grid)
  return [...grid].map((_, k) => Math.hypot(re[k], im[k]))
}
const expectSame = (a: readonly number[], b: readonly number[]) =>
  a.forEach((x, k) => expect(Math.abs(x - b[k])).toBeLessThan(1e-9))

describe('what an active realization may say', () => {
  test('a single supply changes what is at rest, not what passes', () => {
    const [split, single] = [
      made({ family: 'multiple-feedback' }),
      made({ family: 'multiple-feedback', supply: 'single' }),
    ]
    expectSame(levels(split.circuit), levels(single.circuit))
    const mna = formulate(single.circuit)
    const { x } = operatingPoint(mna)
    for (const name of ['v(mid)', 'v(out)']) expect(x[mna.unknowns.indexOf(name)]).toBeCloseTo(2.5, 9)
    // Nothing is left at ground but the supply itself and its divider.
    expect(single.circuit.parts.filter((p) => p.kind === 'ground')).toHaveLength(3)
  })

  test('capacitors as given, or so that resistances lie around a level', () => {
    const values = (c: Circuit, kind: string, field: string) =>
      c.parts.filter((p) => p.kind === kind).map((p) => p.values[field])
    const given = made({ family: 'two-integrator-loop', capacitor: 4.7e-9 }).circuit
    expect(new Set(values(given, 'capacitor', 'capacitance'))).toEqual(new Set([4.7e-9]))
    const level = made({ family: 'two-integrator-loop', level: 47e3 }).circuit
    const middle = values(level, 'resistor', 'resistance').sort((a, b) => a - b)
    const median = middle[Math.floor(middle.length / 2)]
    expect(median / 47e3).toBeGreaterThan(0.4)
    expect(median / 47e3).toBeLessThan(2.5)
  })

  test.each([
    [
      'audio',
      {
        gain: 1e5,
        gainBandwidth: 1e7,
        slewRate: 1e7,
        outputHigh: 13,
        outputLow: -13,
        noiseVoltage: 5e-9,
        outputResistance: 50,
      },
    ],
    [
      { gain: 2e4, bandwidth: 3e6 },
      { gain: 2e4, gainBandwidth: 3e6 },
    ],
  ])('every amplifier has the model that is asked for: %j', (amplifier, values) => {
    const { circuit } = made({ family: 'fliege', amplifier })
    expect(circuit.models).toEqual({ amplifier: { kind: 'opamp', values } })
    expect(circuit.parts.filter((p) => p.kind === 'opamp').every((p) => p.model === 'amplifier')).toBe(true)
  })

  test.each([
    [{ capacitor: 1e-8, level: 1e4 }, 'realization.level', /said twice/],
    [{ predistort: true }, 'realization.predistort', /"predistort" is not a field/],
    [{ amplifier: 'quantum' }, 'realization.amplifier', /"ideal", "general"/],
    [{ pairing: 'luck' }, 'realization.pairing', /"dynamic-range", "noise"/],
    [{ gains: [1, 2, 3] }, 'realization.gains', /3 gains are given for 2 sections/],
    [{ gains: [6, 6] }, 'realization.gains', /more than the response has/],
    [{ buffer: 'yes' }, 'realization.buffer', /true or false/],
  ])('%j is refused where it stands', (more, path, message) => {
    expect(() => made({ family: 'multiple-feedback', ...more })).toThrow(
      expect.objectContaining({ place: { path }, message: expect.stringMatching(message) as string }),
    )
  })

  test('typed gains stand in their sections and make the whole', () => {
    // Of a Chebyshev response of even order DC lies the ripple below its top.
    const typed = made({ family: 'multiple-feedback', gains: [8, -9] })
    expectSame(levels(typed.circuit), levels(made({ family: 'multiple-feedback' }).circuit))
    const [first, second] = typed.sections!
    expect(20 * Math.log10(first.wanted.n[0] / first.wanted.w0 ** 2)).toBeCloseTo(8, 6)
    expect(20 * Math.log10(second.wanted.n[0] / second.wanted.w0 ** 2)).toBeCloseTo(-9, 6)
    expect(() => made({ family: 'sallen-key', gains: [1, -2] })).toThrow(/has a gain of its own/)
  })

  test('sections that can be set bring every output to the same greatest level', () => {
    const { sections } = made({ family: 'two-integrator-loop' }, ELLIPTIC)
    const ideal = approximate(parseSpec(ELLIPTIC))
    const factors = ordered(ideal.transfer, ideal.passbands, 'dynamic-range', () => 0)
    const level = greatestLevels(factors, ideal.transfer, ideal.passbands)
    let gain = 0
    sections!.forEach(({ wanted }, k) => {
      gain += Math.log(Math.abs(wanted.gain))
      expect(gain + level[k]).toBeCloseTo(Math.log(ideal.transfer.gain) + level.at(-1)!, 6)
    })
  })
})

describe('pairing and order', () => {
  test('no other order has a flatter worst output', () => {
    const ideal = approximate(parseSpec(ELLIPTIC))
    const found = ordered(ideal.transfer, ideal.passbands, 'dynamic-range', () => 0)
    const grid = [...Array.from({ length: 2000 }, (_, k) => 60 * 10 ** (k / 800)), 1000]
    const worst = (factors: typeof found) => {
      let most = 0
      for (let k = 1; k < factors.length; k++) {
        const h = {
          poles: factors.slice(0, k).flatMap((f) => f.poles),
          zeros: factors.slice(0, k).flatMap((f) => f.zeros),
          gain: 1,
        }
        const db = (f: number) => magnitudeDb(h, 2 * Math.PI * f)
        most = Math.max(most, Math.max(...grid.map(db)) - Math.min(...grid.filter((f) => f <= 1000).map(db)))
      }
      return most
    }
    const own = worst(found)
    const orders = permutations(found)
    expect(orders).toHaveLength(24)
    // The search looks at fewer frequencies.
    for (const other of orders) expect(own).toBeLessThan(worst(other) + 0.1)
  })

  test.each(PAIRINGS.map((p) => p.id))('%s keeps the response', (pairing) => {
    const ideal = approximate(parseSpec(ELLIPTIC)).transfer
    const { circuit } = made({ family: 'bainter', pairing }, ELLIPTIC)
    expectSame(
      levels(circuit),
      [50, 400, 1000, 2500].map((f) => {
        const { re, im } = evaluate(ideal, complex(0, 2 * Math.PI * f))
        return Math.hypot(re, im)
      }),
    )
  })
})

const permutations = <T>(items: readonly T[]): T[][] =>
  items.length < 2
    ? [[...items]]
    : items.flatMap((x, k) => permutations(items.toSpliced(k, 1)).map((rest) => [x, ...rest]))

describe('integrator', () => {
  const asked = { response: 'integrator', shape: { from: 300, to: 20_000, unity: 1000, error: 1 } }
  const limit = (id: string, realization: object = {}) =>
    made({ family: 'active-integrator', ...realization }, asked).limits!.find((l) => l.id === id)!.value

  test('what it promises of a square wave is what the circuit does over time', () => {
    const { circuit } = made({ family: 'active-integrator' }, asked)
    const period = 1 / 300
    const parts = circuit.parts.map((p) =>
      p.kind === 'voltage-source'
        ? {
            ...p,
            waveform: {
              kind: 'pulse' as const,
              low: -1,
              high: 1,
              delay: 0,
              rise: 0,
              fall: 0,
              width: period / 2,
              period,
            },
          }
        : p,
    )
    // It forgets what it began with in some of its time constants of 30 ms.
    const run = transient(formulate({ ...circuit, parts }), {
      stop: 150 * period,
      outputs: ['out'],
      start: 'zero',
      reltol: 1e-7,
    })
    const times = uniformTimes(150 * period, 15_001).filter((t) => t > 148 * period)
    const settled = interpolate(run, 0, times)
    const peak = (Math.max(...settled) - Math.min(...settled)) / 2
    expect(peak / limit('square-from-most')).toBeCloseTo(1, 5)
  })

  // A/(4·f·τ) and 36.48 dB: facts of the trade (common practice, no source).
  test('facts of the trade', () => {
    expect(limit('square-from-most')).toBeCloseTo((2000 * Math.PI) / (4 * 300), 2)
    expect(20 * Math.log10(limit('sine-from-most') / limit('sine-to-most'))).toBeCloseTo(36.48, 2)
    expect(limit('phase-from')).toBeCloseTo(1, 9)
    expect(limit('unity-gain')).toBeCloseTo(1000, 9)
  })

  test('a real amplifier’s phase is counted in: about atan(f/f_T) more at the upper end', () => {
    const off = limit('phase-to', { amplifier: { gain: 1e9, bandwidth: 1e6 } }) - limit('phase-to')
    expect(off).toBeCloseTo((-Math.atan(20e3 / 1e6) * 180) / Math.PI, 2)
  })
})

test('both outputs of a differential chain are half of the difference each, in opposite phase', () => {
  const { circuit } = made({ family: 'differential-multiple-feedback', load: 2000, source: 100 })
  const [difference, upper, lower] = ['out', 'outp', 'outn'].map((net) => levels(circuit, net))
  difference.forEach((d, k) => {
    expect(upper[k] / d).toBeCloseTo(0.5, 9)
    expect(lower[k] / d).toBeCloseTo(0.5, 9)
  })
})

describe('tone control', () => {
  const asked = { response: 'peaking', shape: { center: 1000, boost: 12, q: 1 } }
  const at = (position: number) => levels(made({ family: 'tone-control', position }, asked).circuit)[2]

  test('boost at one end, the same cut at the other, flat in the middle', () => {
    expect(20 * Math.log10(at(1))).toBeCloseTo(12, 6)
    expect(20 * Math.log10(at(0))).toBeCloseTo(-12, 5)
    expect(20 * Math.log10(at(0.5))).toBeCloseTo(0, 9)
  })
})

/* Sensitivities as the books print them (from memory), for equal parts. */
describe('published sensitivities', () => {
  const sensitivities = (id: string, q: number) => {
    const kind = SECTION_KINDS.find((k) => k.id === id)!
    const wanted = { order: 2 as const, w0: 1e4, q, n: [1e8, 0, 0] as const, gain: 1e8 }
    return sectionSensitivities(kind, planSection(kind, wanted, 1e-8).solve({})!, wanted)
  }

  // L. C. Thomas, "The biquad", IEEE Trans. CT-18, 1971: Q moves with its resistor alone, ω₀ with the root of each.
  test('two-integrator loop', () => {
    const s = sectionSensitivitiesOf('two-integrator-loop-lowpass')
    expect(s.R1.q).toBeCloseTo(1, 12)
    for (const part of ['R2', 'R3', 'C1', 'C2']) expect(s[part].omega).toBeCloseTo(-0.5, 12)
    expect(s.R1.omega).toBe(0)
    for (const part of ['R2', 'R3', 'C2']) expect(s[part].q).toBeCloseTo(-0.5, 12)
    expect(s.C1.q).toBeCloseTo(0.5, 12)
  })
  const sectionSensitivitiesOf = (id: string) => sensitivities(id, 5)

  // R. P. Sallen, E. L. Key 1955: of the unity-gain low-pass with equal resistors Q moves with the capacitors alone.
  test('unity-gain low-pass', () => {
    const s = sensitivities('sallen-key-lowpass', 2)
    expect([s.C1.q, s.C2.q, s.R1.q, s.R2.q].map((x) => Math.round(1e9 * x) / 1e9 + 0)).toEqual([0.5, -0.5, 0, 0])
    for (const part of ['R1', 'R2', 'C1', 'C2']) expect(s[part].omega).toBeCloseTo(-0.5, 12)
  })

  // The equal-parts form pays for its equal parts: S of Q to the resistor that makes the gain is (K − 1)·Q = 2Q − 1.
  test('equal-parts low-pass: Q moves (K − 1)·Q times as much as the ratio that makes the gain', () => {
    for (const q of [1, 5, 10]) {
      const s = sensitivities('sallen-key-equal-lowpass', q)
      expect(s.R4.q).toBeCloseTo(2 * q - 1, 9)
      expect(s.R3.q).toBeCloseTo(1 - 2 * q, 9)
    }
  })
})
