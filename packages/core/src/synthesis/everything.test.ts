import { describe, expect, test } from 'vitest'
import {
  AcAnalysis,
  approximate,
  approximations,
  type FilterSpec,
  formulaSheet,
  formulate,
  magnitudeDb,
  parseSpec,
  realize,
  RESPONSES,
  shapes,
  topologies,
  VoskelError,
} from '../index.js'

/** Realizations whose response is only near to the ideal one, as each says of itself. */
const NEAR = topologies.filter((t) => t.near).map((t) => t.id)

/** The usual values of a realization's fields. */
const realizationOf = (id: string) => {
  const { fields } = topologies.find((t) => t.id === id)!
  const values = fields.flatMap((f) =>
    f.kind === 'quantity' && !f.optional ? [[f.id, f.id === 'source' && f.default === 0 ? 0 : f.default]] : [],
  )
  // Coils that suit 1 kHz.
  return { family: id, ...Object.fromEntries(values), ...(id === 'coupled-resonators' && { inductor: 0.05 }) }
}

/** Realises it and holds it against the ideal response, or returns the reason of the refusal. */
function outcome(spec: FilterSpec): 'made' | string {
  const ideal = approximate(spec)
  let made
  try {
    made = realize(spec, 'exact', ideal)
  } catch (error) {
    expect(error).toBeInstanceOf(VoskelError)
    expect((error as VoskelError).code).toBe('REALIZATION_IMPOSSIBLE')
    expect((error as VoskelError).remedy).not.toBe('')
    return (error as VoskelError).message
  }
  expect(formulaSheet(spec, ideal, made).every((step) => step.lines.length > 0)).toBe(true)
  if (NEAR.includes(spec.realization!.family)) return 'made'
  const grid = Float64Array.from({ length: 25 }, (_, k) => 57 * 10 ** (k / 8))
  const { re, im } = new AcAnalysis(formulate(made.circuit)).sweep(grid)
  const tolerance = 1e-8
  grid.forEach((f, k) => {
    const wanted = 10 ** ((magnitudeDb(ideal.transfer, 2 * Math.PI * f) + made.referenceDb) / 20)
    expect(Math.abs(Math.hypot(re[k], im[k]) - wanted)).toBeLessThan(
      tolerance * Math.max(1, 10 ** (made.referenceDb / 20)),
    )
  })
  return 'made'
}

const ALL = RESPONSES.map((r) => r.id)
const LADDERS = ['lowpass', 'highpass', 'bandpass', 'bandstop']
const NOTCHES = ['lowpass', 'highpass', 'bandpass', 'bandstop']

describe('everything that can be asked is made and is what was asked, or is refused with the reason', () => {
  const combinations = RESPONSES.flatMap((r) => topologies.map((t) => [r.id, t.id] as const))
  test.each(combinations)('%s as %s, every approximation, orders 1 … 6', (response, family) => {
    let made = 0
    const isActive = topologies.find((t) => t.id === family)!.family === 'active'
    for (const { id, shapesStopband } of approximations) {
      if (shapesStopband && response === 'allpass') continue
      for (const order of isActive ? [1, 2, 5, 6] : [1, 2, 3, 4, 5, 6]) {
        const edges = response.startsWith('band') ? [950, 1050] : [1000]
        const spec = parseSpec({
          response,
          approximation: id,
          order,
          passband: { edges, ripple: 1 },
          ...(response !== 'allpass' && { stopband: { attenuation: 45 } }),
          realization: realizationOf(family),
        })
        if (outcome(spec) === 'made') made++
      }
    }
    // Which realizations are for which responses.
    const fits: Record<string, readonly string[]> = {
      'lc-ladder': ['lowpass', 'highpass', 'bandpass', 'bandstop'],
      'coupled-resonators': ['bandpass'],
      // First orders and what has pairs of one frequency.
      'constant-resistance': ['lowpass', 'highpass', 'bandstop'],
      'bridged-t': ['allpass'],
      lattice: ['allpass'],
      diplexer: ['lowpass', 'highpass'],
      'rlc-section': ['lowpass', 'highpass', 'bandpass', 'bandstop'],
      'image-sections': ['lowpass', 'highpass', 'bandpass', 'bandstop'],
      'sallen-key': ['lowpass', 'highpass', 'bandpass'],
      'multiple-feedback': ['lowpass', 'highpass', 'bandpass'],
      deliyannis: ['bandpass'],
      'twin-t': NOTCHES,
      'bridged-t-notch': NOTCHES,
      bainter: NOTCHES,
      boctor: NOTCHES,
      fliege: ALL,
      'impedance-converter': ALL,
      'state-variable': ALL,
      'two-integrator-loop': ALL,
      'akerberg-mossberg': ALL,
      'active-allpass': ['allpass'],
      'gyrator-ladder': LADDERS,
      'fdnr-ladder': LADDERS,
      leapfrog: LADDERS,
      'active-integrator': [],
      'active-differentiator': [],
      'tone-control': [],
      'differential-multiple-feedback': ['lowpass'],
      'active-cascade': ALL,
    }
    expect(made > 0).toBe(fits[family].includes(response))
  })

  test.each(shapes.flatMap((s) => topologies.map((t) => [s.id, t.id] as const)))('%s as %s', (response, family) => {
    const { fields } = shapes.find((s) => s.id === response)!
    const values = Object.fromEntries(fields.flatMap((f) => ('default' in f ? [[f.id, f.default]] : [])))
    const levels = [100, 1000, 10_000].map((f, k) => [f, -10 * k - 0.5, -10 * k + 0.5])
    const typed: Record<string, object> = {
      free: { denominator: [1, 2000, 4e6], numerator: [1, 0, 0] },
      masked: { order: 3, levels },
    }
    const shape = typed[response] ?? values
    const spec = parseSpec({ response, shape, realization: realizationOf(family) })
    const result = outcome(spec)
    if (result !== 'made') expect(result).not.toMatch(/undefined|NaN/)
  })
})
