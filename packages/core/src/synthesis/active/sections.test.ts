import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { formulate } from '../../analysis/mna.js'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { sensitivity } from '../../analysis/sensitivity.js'
import { drawingOf } from '../../circuit/drawing/index.js'
import { partTexts } from '../../circuit/drawing/texts.js'
import { complex, type Complex } from '../../numeric/complex.js'
import { quadraticRoots } from '../../numeric/roots.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { collisions } from '../../testing/collisions.js'
import { documentNets, drawnNets } from '../../testing/drawnNets.js'
import type { Values } from '../Sketch.js'
import { biquadOf } from './biquad.js'
import { type Factor, omegaOf, qOf } from './factors.js'
import { SECTION_KINDS } from './families.js'
import { sectionAlone } from './sectionPage.js'
import {
  magnitudeSensitivity,
  planSection,
  type SectionKind,
  sectionResponse,
  sectionSensitivities,
} from './SectionKind.js'

/** Zeros of each sort that a section may be asked for, beside its poles. */
const ZEROS: Readonly<Record<string, (w: number, q: number, at: number) => Complex[]>> = {
  none: () => [],
  origin: () => [complex(0)],
  twice: () => [complex(0), complex(0)],
  notch: (w) => quadraticRoots(w, 0),
  above: (w, _, at) => quadraticRoots(w * at, 0),
  below: (w, _, at) => quadraticRoots(w / at, 0),
  mirrored: (w, q) => quadraticRoots(w, w / q).map((z) => complex(-z.re, z.im)),
  raised: (w, q, at) => quadraticRoots(w, (w / q) * at),
  lowered: (w, q, at) => quadraticRoots(w, w / q / at),
}
const FIRST: Readonly<Record<string, (w: number, q: number, at: number) => Complex[]>> = {
  none: ZEROS.none,
  origin: ZEROS.origin,
  mirrored: (w) => [complex(w)],
  real: (w, _, at) => [complex(-w * at)],
}

/** Even over its range: `fc.double` is even over what can be represented, most of which lies at nothing. */
const between = (least: number, most: number) =>
  fc.integer({ min: 0, max: 1_000_000 }).map((k) => least + ((most - least) * k) / 1_000_000)

const asked = fc.record({
  w: between(2, 6).map((x) => 2 * Math.PI * 10 ** x),
  q: between(-0.4, 1.3).map((x) => 10 ** x),
  at: between(1.05, 4),
  /** Where its gain lies between the bounds. */
  share: between(0.05, 1),
})

const factorOf = (poles: Complex[], zeros: Complex[]): Factor => ({ poles, zeros })

/** Factors that a kind takes, of random frequency and Q. */
function factorsFor(kind: SectionKind, { w, q, at }: { w: number; q: number; at: number }) {
  const orders = [
    [FIRST, [complex(-w)]],
    [ZEROS, quadraticRoots(w, w / q)],
  ] as const
  return orders.flatMap(([sorts, poles]) =>
    Object.entries(sorts).flatMap(([sort, zeros]) => {
      const factor = factorOf([...poles], zeros(w, q, at))
      return kind.fits(factor) ? [{ sort, factor }] : []
    }),
  )
}

/** The least of the bounds, or a share of what lies between them. */
function gainOf(kind: SectionKind, factor: Factor, share: number): number {
  const { least, most } = kind.gains(biquadOf(factor, 1))
  const unit = biquadOf(factor, 1)
  const level =
    Math.max(Math.abs(unit.n[0]) / unit.w0 ** unit.order, Math.abs(unit.n[unit.order])) || Math.abs(unit.n[1]) / unit.w0
  const usual = 2 / level
  return least === most ? least : Math.max(least, share * Math.min(most, usual))
}

const grid = (w: number) => Float64Array.from([0.05, 0.4, 0.9, 1, 1.13, 2.3, 30], (x) => (x * w) / (2 * Math.PI))

describe.each(SECTION_KINDS.map((k) => [k.id, k] as const))('%s', (_, kind) => {
  test('makes what it is asked for, and its closed form says so', () => {
    const made = new Map<string, number>()
    fc.assert(
      fc.property(asked, (question) => {
        for (const { sort, factor } of factorsFor(kind, question)) {
          const gain = gainOf(kind, factor, question.share)
          const wanted = biquadOf(factor, gain)
          if (kind.refuses?.(wanted)) continue
          const plan = planSection(kind, wanted, 1 / (question.w * 1e4))
          const values = plan.solve({})
          expect(values, `${sort} ${JSON.stringify(wanted)}`).not.toBeNull()
          for (const [id, value] of Object.entries(values!)) expect(value, `${sort} ${id}`).toBeGreaterThan(0)
          made.set(sort, (made.get(sort) ?? 0) + 1)
          const frequencies = grid(question.w)
          const { re, im } = new AcAnalysis(formulate(sectionAlone(kind, values!))).sweep(frequencies)
          const most = Math.max(
            ...frequencies.map((f) => Math.hypot(...parts(evaluate({ ...factor, gain }, complex(0, 2 * Math.PI * f))))),
          )
          frequencies.forEach((f, k) => {
            const s = complex(0, 2 * Math.PI * f)
            const ideal = evaluate({ ...factor, gain }, s)
            const closed = sectionResponse(kind, values!, s)
            const near = 1e-9 * most * Math.max(1, wanted.q)
            expect(Math.hypot(closed.re - kind.sign * ideal.re, closed.im - kind.sign * ideal.im), sort).toBeLessThan(
              near,
            )
            expect(Math.hypot(re[k] - closed.re, im[k] - closed.im), sort).toBeLessThan(near)
          })
        }
      }),
      { numRuns: 60 },
    )
    expect([...made.keys()].sort()).toEqual(MADE[kind.id])
  })

  const scattered = fc.array(between(0.7, 1.4), { minLength: 16, maxLength: 16 })

  test('its closed form is the drawn circuit’s whatever its values, its sensitivities are the adjoint ones', () => {
    let compared = 0
    fc.assert(
      fc.property(asked, scattered, (question, factors) => {
        const both = [Math.min(3, question.q), 2].flatMap((q) => factorsFor(kind, { ...question, q }))
        for (const { sort, factor } of both) {
          const wanted = biquadOf(factor, gainOf(kind, factor, question.share))
          if (kind.refuses?.(wanted)) continue
          const exact = planSection(kind, wanted, 1 / (question.w * 1e4)).solve({})!
          const values = Object.fromEntries(Object.entries(exact).map(([id, v], k) => [id, v * factors[k]]))
          const mna = formulate(sectionAlone(kind, values))
          const frequencies = grid(question.w)
          const { re, im } = new AcAnalysis(mna).sweep(frequencies)
          const { components } = sensitivity(mna, [...frequencies])
          frequencies.forEach((f, k) => {
            const s = complex(0, 2 * Math.PI * f)
            const closed = sectionResponse(kind, values, s)
            const size = Math.hypot(closed.re, closed.im)
            expect(Math.hypot(re[k] - closed.re, im[k] - closed.im), sort).toBeLessThan(1e-8 * Math.max(1, size))
            const adjoint = Object.keys(values).reduce((sum, id) => sum + Math.abs(components[id].magnitude[k]), 0)
            const own = magnitudeSensitivity(kind, values, 2 * Math.PI * f)
            expect(Math.abs(own - adjoint), `${sort} ${f}`).toBeLessThan(1e-6 * Math.max(1, adjoint))
          })
          compared++
        }
      }),
      { numRuns: 20 },
    )
    expect(compared).toBeGreaterThan(0)
  })

  test('sensitivities of ω₀ and Q are what a small change does', () => {
    fc.assert(
      fc.property(asked, (question) => {
        for (const { factor } of factorsFor(kind, { ...question, q: Math.max(0.8, Math.min(5, question.q)) })) {
          const wanted = biquadOf(factor, gainOf(kind, factor, question.share))
          if (kind.refuses?.(wanted) || kind.denominator.length > 3) continue
          const values = planSection(kind, wanted, 1 / (question.w * 1e4)).solve({})!
          const found = sectionSensitivities(kind, values, wanted)
          const moved = (id: string, by: number) => rootsOf(kind, { ...values, [id]: values[id] * (1 + by) })
          for (const id of Object.keys(values)) {
            const [up, down] = [moved(id, 1e-5), moved(id, -1e-5)]
            expect(found[id].omega).toBeCloseTo(Math.log(up.omega / down.omega) / 2e-5, 4)
            expect(found[id].q).toBeCloseTo(Math.log(up.q / down.q) / 2e-5, 3)
          }
        }
      }),
      { numRuns: 10 },
    )
  })

  test('is drawn so that nothing lies on anything, and joins what it says', () => {
    for (const q of [0.8, 8]) {
      for (const { factor } of factorsFor(kind, { w: 6e3, q, at: 1.4 })) {
        const wanted = biquadOf(factor, gainOf(kind, factor, 0.5))
        if (kind.refuses?.(wanted)) continue
        const circuit = sectionAlone(kind, planSection(kind, wanted, 1e-8).solve({})!)
        expect(drawnNets(circuit)).toEqual(documentNets(circuit))
        expect(collisions(drawingOf(circuit, partTexts(circuit)))).toEqual([])
      }
    }
  })
})

const parts = ({ re, im }: Complex) => [re, im] as const

function rootsOf(kind: SectionKind, values: Values) {
  const at = (s: Complex) => sectionResponse({ ...kind, numerator: ['1'], sign: 1 }, values, s)
  // 1/D at three points gives its coefficients.
  const d0 = 1 / at(complex(0)).re
  const w = Math.abs(d0) ** (1 / (kind.denominator.length - 1))
  const inverse = at(complex(0, w))
  const size = inverse.re ** 2 + inverse.im ** 2
  const [re, im] = [inverse.re / size, -inverse.im / size]
  if (kind.denominator.length === 2) return { omega: d0 / (im / w), q: 0.5 }
  const [d1, d2] = [im / w, (d0 - re) / (w * w)]
  return { omega: Math.sqrt(d0 / d2), q: Math.sqrt(d0 * d2) / d1 }
}

/** What each section makes: no zeros, one or two at the origin, a notch at, above or below the poles, mirrored zeros, a bell. */
const ANY = ['above', 'below', 'lowered', 'mirrored', 'none', 'notch', 'origin', 'raised', 'twice']
const DIPS = ['above', 'below', 'lowered', 'notch']
const MADE: Readonly<Record<string, readonly string[]>> = {
  'akerberg-mossberg': ANY,
  'akerberg-mossberg-bandpass': ['origin'],
  'akerberg-mossberg-highpass': ['twice'],
  'akerberg-mossberg-lowpass': ['none'],
  'allpass-first': ['mirrored'],
  'allpass-second': ['mirrored'],
  bainter: DIPS,
  boctor: DIPS,
  'bridged-t-notch': DIPS,
  deliyannis: ['origin'],
  'first-order-highpass': ['origin'],
  'first-order-lowpass': ['none'],
  'first-order-shelf': ['real'],
  'fliege-bandpass': ['origin'],
  'fliege-highpass': ['twice'],
  'fliege-lowpass': ['none'],
  'impedance-converter': ANY,
  'inverter-highpass': ['origin'],
  'inverter-lowpass': ['none'],
  'multiple-feedback-bandpass': ['origin'],
  'multiple-feedback-highpass': ['twice'],
  'multiple-feedback-lowpass': ['none'],
  'sallen-key-bandpass': ['origin'],
  'sallen-key-equal-bandpass': ['origin'],
  'sallen-key-equal-highpass': ['twice'],
  'sallen-key-equal-lowpass': ['none'],
  'sallen-key-highpass': ['twice'],
  'sallen-key-lowpass': ['none'],
  'state-variable': ANY,
  'state-variable-bandpass': ['origin'],
  'state-variable-highpass': ['twice'],
  'state-variable-lowpass': ['none'],
  'twin-t': DIPS,
  'twin-t-amplified': ['above', 'below', 'raised'],
  'two-integrator-loop': ANY,
  'two-integrator-loop-bandpass': ['origin'],
  'two-integrator-loop-four': ['above', 'below', 'lowered', 'mirrored', 'notch', 'twice'],
  'two-integrator-loop-highpass': ['twice'],
  'two-integrator-loop-lowpass': ['none'],
}

test('the list of what is made is whole', () => {
  expect(Object.keys(MADE)).toEqual(SECTION_KINDS.map((k) => k.id).sort())
  expect(omegaOf({ poles: [complex(-3)], zeros: [] })).toBe(3)
  expect(qOf({ poles: quadraticRoots(2, 1), zeros: [] })).toBeCloseTo(2, 12)
})
