import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { withApproximation } from '../approximation/edits.js'
import { approximations } from '../approximation/index.js'
import { withRealizationValue, withTopology } from '../synthesis/edits.js'
import { topologies } from '../synthesis/index.js'
import { overrunEdges, withPassbandEdge, withResponse, withRipple, withShapeValue, withStopband } from './edits.js'
import { type ApproximatedSpecInput, type FilterSpecInput, isShaped, specIssues } from './filterSpec.js'
import { RESPONSES } from './responses.js'
import { shapes } from './shapes/index.js'

const spec: ApproximatedSpecInput = {
  response: 'lowpass',
  approximation: 'chebyshev',
  order: 5,
  passband: { edges: [1000], ripple: 0.5 },
  stopband: { edges: [2000], attenuation: 40 },
  gain: 3,
  requirements: [{ kind: 'overshoot', limit: 10 }],
  evenOrder: 'c',
  realization: { family: 'lc-ladder', source: 75, load: 50 },
}
const RESPONSE_IDS = [...RESPONSES, ...shapes].map((r) => r.id)

type Edit = (spec: FilterSpecInput) => FilterSpecInput
const banded =
  (edit: (spec: ApproximatedSpecInput) => FilterSpecInput): Edit =>
  (s) =>
    isShaped(s) ? s : edit(s as ApproximatedSpecInput)
const number = fc.oneof(fc.double({ min: -10, max: 1e7, noNaN: true }), fc.constantFrom(0, 1e-9, 1e13))
const index = fc.constantFrom(0, 1)
const anyEdit: fc.Arbitrary<Edit> = fc.oneof(
  fc.constantFrom(...RESPONSE_IDS).map(
    (id): Edit =>
      (s) =>
        withResponse(s, id),
  ),
  fc.constantFrom(...approximations).map((a) => banded((s) => withApproximation(s, a.id))),
  fc.constantFrom(...topologies).map(
    (t): Edit =>
      (s) =>
        withTopology(s, t.id),
  ),
  fc.tuple(number, index).map(([f, k]) => banded((s) => (k < s.passband.edges.length ? withPassbandEdge(s, f, k) : s))),
  fc.option(number).map((r) => banded((s) => withRipple(s, r))),
  fc
    .tuple(fc.option(number), index)
    .map(([edge, k]) => banded((s) => (k < s.passband.edges.length ? withStopband(s, { edge, index: k }) : s))),
  fc.option(number).map((attenuation) => banded((s) => withStopband(s, { attenuation }))),
  fc.tuple(fc.constantFrom('frequency', 'gain', 'q', 'width', 'order', 'colour'), fc.option(number)).map(
    ([id, v]): Edit =>
      (s) =>
        withShapeValue(s, id, v),
  ),
  fc.tuple(fc.constantFrom('source', 'load', 'first'), fc.option(number)).map(
    ([id, v]): Edit =>
      (s) =>
        withRealizationValue(s, id, v),
  ),
)

describe('edits of a specification', () => {
  test('whatever is done to one, it can be used or says which field is wrong; what was required stays', () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { minLength: 1, maxLength: 8 }), (edits) => {
        const next = edits.reduce<FilterSpecInput>((s, edit) => edit(s), spec)
        for (const issue of specIssues(next)) {
          expect(issue.path, JSON.stringify(next)).not.toBe('')
          expect(issue.fix).not.toBe('')
        }
        expect(next.requirements).toEqual(spec.requirements)
      }),
      { numRuns: 500 },
    )
  })

  test.each(RESPONSE_IDS)('every other response follows from one that can be used: %s', (id) => {
    const next = withResponse(spec, id)
    expect(next.response).toBe(id)
    expect(specIssues(next)).toEqual([])
    expect([next.gain, next.requirements]).toEqual([3, spec.requirements])
    // And back again from there.
    expect(specIssues(withResponse(next, 'bandpass'))).toEqual([])
  })

  test.each(approximations.map((a) => a.id))('every other approximation has what it needs: %s', (id) => {
    for (const s of [
      spec,
      { ...spec, passband: { edges: [1000] }, approximation: 'butterworth', stopband: undefined, evenOrder: undefined },
    ]) {
      const next = withApproximation(s, id)
      expect(specIssues(next)).toEqual([])
      expect(next.approximation).toBe(id)
    }
  })

  test('another way to make the circuit keeps what both have', () => {
    expect(withTopology(spec, 'sallen-key').realization).toMatchObject({ family: 'sallen-key' })
    expect(withTopology(spec, 'coupled-resonators').realization).toMatchObject({ source: 75, load: 50 })
    const open = { ...spec, realization: { family: 'sallen-key', load: 'open' } }
    expect(withTopology(open, 'lc-ladder').realization!.load).toBe('open')
    expect(withTopology(open, 'coupled-resonators').realization!.load).toBe(600)
    const active = { ...spec, realization: { family: 'sallen-key', source: 0 } }
    expect(withTopology(active, 'lc-ladder').realization!.source).toBeGreaterThan(0)
    expect(withTopology(spec, 'none')).toBe(spec)
    expect(withRealizationValue(spec, 'source', null).realization).toEqual({ family: 'lc-ladder', load: 50 })
    expect(withRealizationValue({ ...spec, realization: undefined }, 'source', 5).realization).toBeUndefined()
  })

  test('a first stop-band edge of two brings the other, as far on its own side', () => {
    const bandpass = withResponse(spec, 'bandpass') as ApproximatedSpecInput
    const { edges } = withStopband(bandpass, { edge: 3000, index: 1 }).stopband!
    // Geometric symmetry around the centre: the product of the edges is that of the passband's.
    expect(edges![0]! * 3000).toBeCloseTo(1000 * 1500, 6)
    expect(withStopband(spec, { attenuation: null }).stopband).toBeUndefined()
    expect(withStopband(spec, { edge: null }).stopband).toEqual({ attenuation: 40 })
  })

  test('a passband typed over its stop band tells where that would be as far out', () => {
    expect(overrunEdges(spec, withPassbandEdge(spec, 3000)).get(0)).toBe(6000)
    expect(overrunEdges(spec, spec).size).toBe(0)
    expect(overrunEdges(spec, withResponse(spec, 'highpass')).size).toBe(0)
  })
})
