import {
  type ApproximatedSpec,
  type Design,
  designOfCircuit,
  realize,
  withCircuitEdit,
  witnessed,
  parseSpec,
} from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { ladder } from '../testing/standIns'
import { mergedDesigns, sameDesign } from './merge'
import { settled } from './settle'

const base = ladder()
const renamed = { ...base, name: 'Two' }
const wider = { ...base, specification: { ...base.specification!, passband: { edges: [2000] } } as ApproximatedSpec }
const typed = (part: string, value: number, of = base) =>
  withCircuitEdit(of, { edit: 'set-value', args: { part, field: 'capacitance', value } })

describe('what two windows changed', () => {
  test('is put together where they did not touch the same thing', () => {
    expect(mergedDesigns(base, renamed, wider)).toEqual({ ...wider, name: 'Two' })
    expect(mergedDesigns(base, typed('C1', 1), typed('C3', 2))).toEqual(typed('C3', 2, typed('C1', 1)))
    const noted = { ...base, notes: 'new' }
    expect(mergedDesigns(noted, base, { ...noted, name: 'Two' })).toEqual(renamed)
  })

  const specified = (change: object): Design => ({
    ...base,
    specification: { ...base.specification!, ...change } as ApproximatedSpec,
  })

  test('different fields of one specification are put together', () => {
    const { passband } = base.specification as ApproximatedSpec
    const [rippled, moved] = [
      specified({ passband: { ...passband, ripple: 0.25 } }),
      specified({ passband: { ...passband, edges: [1234] } }),
    ]
    expect(mergedDesigns(base, rippled, moved)).toEqual(specified({ passband: { edges: [1234], ripple: 0.25 } }))
    expect(mergedDesigns(base, moved, rippled)).toEqual(specified({ passband: { edges: [1234], ripple: 0.25 } }))
    expect(mergedDesigns(base, specified({ gain: 3 }), specified({ order: 5 }))).toEqual(
      specified({ gain: 3, order: 5 }),
    )
  })

  test('what was chosen for another kind, and what cannot be together, is asked about', () => {
    const { passband } = base.specification as ApproximatedSpec
    expect(mergedDesigns(base, specified({ approximation: 'bessel' }), specified({ order: 5 }))).toBeNull()
    expect(mergedDesigns(base, specified({ gain: 3 }), specified({ gain: 4 }))).toBeNull()
    // A ripple of 3 dB beside a stop band of 2 dB is no filter, though neither is wrong alone.
    const stopped = specified({ stopband: { attenuation: 2 } })
    expect(mergedDesigns(base, stopped, specified({ passband: { ...passband, ripple: 3 } }))).toBeNull()
  })

  test('is a matter for their authors where they did', () => {
    expect(mergedDesigns(base, renamed, { ...base, name: 'Three' })).toBeNull()
    expect(mergedDesigns(base, typed('C1', 1), typed('C1', 2))).toBeNull()
  })

  test('alike is no conflict', () => {
    expect(mergedDesigns(base, typed('C1', 1), { ...typed('C1', 1), name: 'Two' })).toEqual(typed('C1', 1, renamed))
  })

  test('a circuit that one of them drew stays whole', () => {
    const { circuit } = designOfCircuit(
      realize(parseSpec({ ...base.specification, realization: { family: 'lc-ladder', source: 50, load: 50 } })).circuit,
    )
    expect(mergedDesigns(base, renamed, { ...base, circuit })).toEqual({ ...renamed, circuit })
    expect(mergedDesigns(base, typed('C1', 1), { ...base, circuit })).toBeNull()
  })
})

test('neither the order of keys nor what was computed makes another design', () => {
  const reordered = Object.fromEntries(Object.entries(base).reverse()) as typeof base
  const { circuit } = realize(
    parseSpec({ ...base.specification, realization: { family: 'lc-ladder', source: 50, load: 50 } }),
  )
  expect(sameDesign(base, witnessed(reordered, circuit))).toBe(true)
  expect(sameDesign(base, renamed)).toBe(false)
})

describe('an edited design and the server’s', () => {
  const edited = { document: renamed, revision: 1, base, sent: [] as Design[] }
  test.each([
    ['arrived already', edited, { document: renamed, revision: 2 }, 'same'],
    ['nobody else has saved', edited, { document: base, revision: 1 }, 'send'],
    [
      'an earlier one of this window arrived',
      { ...edited, sent: [wider, { ...base, name: 'T' }] },
      { document: { ...base, name: 'T' }, revision: 2 },
      'send',
    ],
    ['another thing was changed', edited, { document: wider, revision: 2 }, 'send'],
    ['the same thing was changed', edited, { document: { ...base, name: 'T' }, revision: 2 }, 'differs'],
    ['what was edited is not known', { ...edited, base: null }, { document: wider, revision: 2 }, 'differs'],
  ])('%s', (_, mine, theirs, kind) => {
    expect(settled(mine, theirs).kind).toBe(kind)
  })
})
