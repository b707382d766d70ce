import { describe, expect, test } from 'vitest'
import type { Verdict } from './Requirement.js'
import { limitUsed, verdictWords } from './words.js'

const verdict = (more: Partial<Verdict>): Verdict => ({
  id: 'passband',
  kind: 'passband',
  place: null,
  name: 'Passband ripple',
  unit: 'dB',
  sense: 'at most',
  limit: 0.5,
  achieved: 0.4,
  margin: 0.1,
  at: 1000,
  atUnit: 'Hz',
  decided: 'frequency',
  met: true,
  ...more,
})
/** Words with plain spaces. */
const words = (more: Partial<Verdict>) =>
  Object.fromEntries(Object.entries(verdictWords(verdict(more))).map(([k, v]) => [k, v.replaceAll('\u00a0', ' ')]))

describe('a verdict in words', () => {
  test('says what was asked, achieved and left, and where', () => {
    expect(words({})).toEqual({
      asked: '≤ 0.5000 dB',
      achieved: '0.4000 dB',
      margin: '+0.100 dB',
      place: 'at 1.000 kHz',
    })
    expect(
      words({ sense: 'at least', limit: 2e-6, achieved: 1e-6, margin: -1e-6, unit: 's', met: false }),
    ).toMatchObject({ asked: '≥ 2.000 µs', achieved: '1.000 µs', margin: '\u22121.00 µs' })
  })

  test('what is met by rounding is met to the point', () => {
    expect(words({ achieved: 0.5000006, margin: -6e-7 }).margin).toBe('±0')
    expect(words({ achieved: 0.5000006, margin: -6e-7, met: false }).margin).not.toBe('±0')
  })

  test('says where there is no value, and nothing of a place where there is none', () => {
    expect(words({ achieved: null, margin: null, at: null, atUnit: null, met: false })).toMatchObject({
      achieved: 'none',
      margin: 'no value',
      place: '',
    })
  })

  test('shows rounding as nothing, whatever its sign', () => {
    expect(words({ achieved: 0.5 - 1e-12, margin: 1e-12 }).margin).toBe('±0')
    expect(words({ achieved: 0.5 + 1e-12, margin: 0 }).margin).toBe('±0')
    expect(words({ achieved: -1e-17, margin: 0.5 }).achieved).toBe('0.000 dB')
    expect(words({ achieved: 0.4999, margin: 1e-4 }).margin).toBe('+0.000100 dB')
  })
})

describe('the share of a limit', () => {
  test('is what is used of it, all where it is missed', () => {
    expect(limitUsed(verdict({}))).toBeCloseTo(0.8, 12)
    expect(limitUsed(verdict({ achieved: 0.7, met: false }))).toBe(1)
    expect(limitUsed(verdict({ sense: 'at least', limit: 40, achieved: 50 }))).toBeCloseTo(0.8, 12)
    expect(limitUsed(verdict({ achieved: null, met: false }))).toBe(1)
  })

  test('is all or nothing against a limit of 0 or of the other sign', () => {
    expect(limitUsed(verdict({ limit: 0, achieved: 0 }))).toBe(0)
    expect(limitUsed(verdict({ limit: 0, achieved: 1, met: false }))).toBe(1)
    expect(limitUsed(verdict({ limit: -3, achieved: -5 }))).toBe(0)
    expect(limitUsed(verdict({ limit: 3, achieved: -5 }))).toBe(0)
  })
})
