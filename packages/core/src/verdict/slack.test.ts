import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readRequirements } from '../format/design/readRequirements.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { REQUIREMENT_KINDS } from '../specification/requirements/index.js'
import { verdict } from './Requirement.js'
import { verify } from './verify.js'
import { marginText } from './words.js'

const verdictsOf = (lines: readonly string[], requirements: readonly object[]) =>
  verify(null, readNetlist(['t', ...lines, ''].join('\n')).circuit, readRequirements(requirements))

/** A part by which a limit is just kept or just missed, far above what a solution is known to. */
const JUST = 1e-7

const decades = fc.double({ min: -10, max: 10, noNaN: true }).map((x) => 10 ** x)

describe('what is just met and just missed, in units of twenty decades', () => {
  const units = [...new Set([...REQUIREMENT_KINDS.map((k) => k.unit), 'V', 'A', 'W', 'Ω', 'Hz', 's', 'dB', '°', ''])]

  test.each(units)('in %s a verdict agrees with its margin, and both with what was achieved', (unit) => {
    fc.assert(
      fc.property(decades, fc.constantFrom('at most', 'at least'), fc.constantFrom(1, -1), (limit, sense, sign) => {
        const line = { kind: 'value', place: null, name: 'x', unit, sense, limit, decided: 'circuit' } as const
        // A level or an angle is known to a part of a neper or a radian.
        const size = Math.max(limit, unit === 'dB' ? 8.7 : unit === '°' ? 57.3 : 0)
        const away = sign * JUST * size
        const judged = verdict(line, sense === 'at most' ? limit - away : limit + away, null, 'Hz')
        expect(judged.met).toBe(sign > 0)
        expect(Math.sign(judged.margin!)).toBe(sign)
        expect(marginText(judged) === '±0').toBe(judged.met && judged.margin! <= 1e-6 * limit)
        // What is missed by rounding alone is met to the point.
        const rounded = verdict(line, sense === 'at most' ? limit * (1 + 1e-12) : limit * (1 - 1e-12), null, 'Hz')
        expect([rounded.met, rounded.margin]).toEqual([true, 0])
      }),
    )
  })

  test('a rise time is ln 9 of the time constant, however small (first order: common practice, no source)', () => {
    fc.assert(
      fc.property(decades, decades, fc.constantFrom(1, -1), (r, c, sign) => {
        const lines = ['V1 in 0 AC 1 PULSE(0 1)', `R1 in out ${r}`, `C1 out 0 ${c}`]
        const limit = Math.log(9) * r * c * (1 + sign * JUST)
        const [found] = verdictsOf(lines, [{ kind: 'rise-time', limit }])
        expect([found!.met, Math.sign(found!.margin!)]).toEqual([sign > 0, sign])
      }),
    )
  })

  test('a current at rest is the voltage over the resistance, however small (Ohm’s law)', () => {
    fc.assert(
      fc.property(decades, decades, fc.constantFrom(1, -1), (v, r, sign) => {
        const of = { signal: 'i(R1)', operatingPoint: true }
        const promise = { kind: 'value', id: 'x', of, max: (v / r) * (1 + sign * JUST) }
        const [found] = verdictsOf([`V1 in 0 ${v}`, `R1 in 0 ${r}`], [promise])
        expect([found!.met, Math.sign(found!.margin!)]).toEqual([sign > 0, sign])
      }),
    )
  })
})

test('against a limit of 0 the quantity that is left has the size of what it was made of', () => {
  // A balanced bridge: what is between its arms is rounding of volts; out of balance it is not.
  const bridge = (r4: number) => ['V1 in 0 7', 'R1 in a 3k', 'R2 a 0 1k', 'R3 in b 9k', `R4 b 0 ${r4}`]
  const promise = (limits: object) => [
    { kind: 'value', id: 'x', of: { signal: 'v(a,b)', operatingPoint: true }, ...limits },
  ]
  for (const limits of [{ min: 0 }, { max: 0 }]) {
    expect(verdictsOf(bridge(3e3), promise(limits))[0]!.met).toBe(true)
  }
  expect(verdictsOf(bridge(3e3 * (1 + 1e-6)), promise({ min: 0 }))[0]!.met).toBe(false)
  expect(verdictsOf(bridge(3e3 * (1 - 1e-6)), promise({ max: 0 }))[0]!.met).toBe(false)
})

test('a value without bound keeps no limit from above', () => {
  const line = {
    kind: 'value',
    place: null,
    name: 'x',
    unit: 'Ω',
    sense: 'at most',
    limit: 1,
    decided: 'circuit',
  } as const
  expect(verdict(line, Infinity, null, 'Hz').met).toBe(false)
  expect(verdict({ ...line, sense: 'at least' }, Infinity, null, 'Hz').met).toBe(true)
})
