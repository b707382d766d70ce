import type { AskedRequirement } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { askedMarks } from '../stages/askedMarks'
import { logTicks, tickText } from './ticks'
import { dbBounds, evenTop, lagText, roundTop, rounded } from './values'

test('a lag and a lead are said as such', () => {
  expect(lagText(-51.2)).toBe('lags by 51.20°')
  expect(lagText(90)).toBe('leads by 90.00°')
  expect(lagText(1e-6)).toBe('in phase')
})

test('dragged values are typed-looking', () => {
  expect(rounded(901234)).toBe(901000)
  expect(rounded(0.123456, 2)).toBe(0.12)
})

test('dB bounds fall on round marks, no deeper than the floor', () => {
  expect(dbBounds(0, -55, 200)).toEqual({ min: -60, max: 10 })
  expect(dbBounds(-6.02, -400, 80)).toMatchObject({ min: -90 })
})

test('an upper bound leaves room and falls on a mark', () => {
  expect(roundTop(1.1428)).toBe(1.4)
  expect(roundTop(0.5)).toBeCloseTo(0.6, 12)
})

describe('ticks', () => {
  test('logarithmic ones are round numbers inside the axis', () => {
    const ticks = logTicks(300, 40_000, 12)
    expect(ticks.every((t) => t >= 300 && t <= 40_000)).toBe(true)
    expect(ticks).toContain(1000)
    expect(ticks).toContain(10_000)
  })

  test('their text carries SI prefixes where they make sense', () => {
    expect(tickText(20_000, true)).toBe('20\u00a0k')
    expect(tickText(-40, false)).toBe('−40')
  })
})

test('along degrees only what is asked in degrees or seconds is marked', () => {
  const asked = [
    { kind: 'gain-at', at: 1000, target: 0, limit: 0.1 },
    { kind: 'attenuation', from: 1000, to: 2000, limit: 30 },
    { kind: 'phase-at', at: 1000, target: -90, limit: 1 },
    { kind: 'delay-variation', from: 100, to: 200, limit: 1e-6 },
  ] as AskedRequirement[]
  const place = { gain: 0, bounds: { min: -180, max: 0 } }
  const [phase, delay, ...rest] = askedMarks(asked, { ...place, phase: true })
  expect(phase).toMatchObject({ kind: 'line', from: [1000, -91], to: [1000, -89] })
  expect(delay).toMatchObject({ kind: 'line', text: expect.stringContaining('Delay variation') })
  expect(rest).toEqual([])
  expect(askedMarks(asked, { ...place, phase: false }).map((m) => m.kind)).toEqual(['line', 'area', 'line', 'line'])
})

test('the end of an axis to both sides of 0 is 1, 2 or 5', () => {
  expect([0.03, 0.5, 1, 1.2, 4, 7, 30].map(evenTop)).toEqual([0.05, 0.5, 1, 2, 5, 10, 50])
})
