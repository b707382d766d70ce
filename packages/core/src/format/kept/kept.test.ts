import { describe, expect, test } from 'vitest'
import { VoskelError } from '../../errors/VoskelError.js'
import type { KeptCurves } from './KeptCurves.js'
import { keptFacts, packKept, unpackKept } from './packKept.js'

const run: KeptCurves = {
  kind: 'run',
  name: 'before E24',
  note: 'δ — as drawn',
  from: 'Click band-pass',
  measures: { 'ac.cutoffs[0]': 107_210 },
  parts: { C1: '10 nF' },
  curves: [
    {
      signal: 'v(out)',
      over: 'frequency',
      unit: 'V',
      numbers: {
        x: Float64Array.of(1, 10, 100),
        db: Float64Array.of(-0, -3.5, NaN),
        phase: Float64Array.of(0, -45, 1e-300),
      },
    },
    {
      signal: 'i(R1)',
      over: 'time',
      unit: 'A',
      isPower: false,
      numbers: { x: Float64Array.of(0), value: Float64Array.of(Infinity) },
    },
  ],
}

const errorOf = (bytes: Uint8Array): string => {
  try {
    unpackKept(bytes)
  } catch (error) {
    if (error instanceof VoskelError) return error.message
    throw error
  }
  return 'no error'
}

describe('packed curves', () => {
  test('come back to the last bit, at whatever place in memory they lie', () => {
    const bytes = packKept(run)
    expect(unpackKept(bytes)).toEqual(run)
    const shifted = new Uint8Array(bytes.length + 3)
    shifted.set(bytes, 3)
    expect(unpackKept(shifted.subarray(3))).toEqual(run)
    expect(keptFacts(bytes).facts.curves[0]).toMatchObject({ columns: ['x', 'db', 'phase'], length: 3 })
    // The doubles begin at a multiple of eight.
    expect(keptFacts(bytes).begin % 8).toBe(0)
  })

  test('that are cut short, or are something else, are refused whole', () => {
    const bytes = packKept(run)
    expect(errorOf(bytes.subarray(0, bytes.length - 8))).toContain('11 numbers are said to follow, and 10 do')
    expect(errorOf(new Uint8Array(100))).toContain('no line of facts')
    expect(errorOf(new TextEncoder().encode('hello\n'))).toContain('no JSON')
    const text = (facts: unknown) => new TextEncoder().encode(`${JSON.stringify(facts)}\n`)
    expect(errorOf(text({ kind: 'run', name: '', curves: [] }))).toContain('It needs a name')
    const curve = { signal: 'v(out)', over: 'time', unit: 'V', columns: ['value', 'x'], length: 1 }
    expect(errorOf(text({ kind: 'run', name: 'a', curves: [curve] }))).toContain('begins with its x')
    const large = { ...curve, columns: ['x', 'value'], length: 12_000_000 }
    expect(errorOf(text({ kind: 'run', name: 'a', curves: [large] }))).toContain('at most')
  })
})
