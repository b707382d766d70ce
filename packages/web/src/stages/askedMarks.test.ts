import { REQUIREMENT_KINDS, type AskedRequirement } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { askedMarks } from './askedMarks'

const ground = { gain: -6, bounds: { min: -80, max: 0 }, phase: false }
const asked = (more: object) => more as AskedRequirement

describe('marks of what is asked', () => {
  test('attenuation is a part of the mask, below the level of the passband', () => {
    expect(askedMarks([asked({ kind: 'attenuation', from: 3000, to: 5000, limit: 40 })], ground)).toEqual([
      { kind: 'area', from: [3000, -46], to: [5000, Infinity], edge: 'dashed' },
    ])
  })

  test('a gain at a frequency is the stretch that it may lie in; a phase stands on the phase alone', () => {
    const gain = asked({ kind: 'gain-at', at: 1000, target: -3, limit: 0.5 })
    expect(askedMarks([gain], ground)).toMatchObject([{ from: [1000, -9.5], to: [1000, -8.5] }])
    expect(askedMarks([gain], { ...ground, phase: true })).toEqual([])
    const phase = asked({ kind: 'phase-at', at: 1000, target: -90, limit: 2 })
    expect(askedMarks([phase], { ...ground, phase: true })).toMatchObject([{ from: [1000, -92], to: [1000, -88] }])
  })

  test('what is decided elsewhere leaves no mark', () => {
    for (const { kind, decided } of REQUIREMENT_KINDS)
      if (decided !== 'frequency') expect(askedMarks([asked({ kind, limit: 1 })], ground), kind).toEqual([])
  })

  test('brackets lie one above the other at the lower edge, each with its limit', () => {
    const variation = asked({ kind: 'delay-variation', from: 100, to: 900, limit: 1e-5 })
    const marks = askedMarks([variation, variation], ground)
    expect(marks).toHaveLength(2)
    const [low = NaN, high = NaN] = marks.map((m) => (m.kind === 'line' ? m.from[1] : NaN))
    expect(low).toBeGreaterThan(ground.bounds.min)
    expect(high).toBeGreaterThan(low)
    for (const mark of marks) expect('text' in mark && mark.text).toMatch(/≤ 10\.00\u00a0µs$/)
  })
})
