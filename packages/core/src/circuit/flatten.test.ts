import { describe, expect, test } from 'vitest'
import type { Circuit, Part } from './circuit.js'
import { emptyCircuit } from './circuit.js'
import { setValue } from './edit/setValue.js'
import { effectiveValues, scopeOf } from './effectiveValues.js'
import { flatten, resolveNets } from './flatten.js'
import { endPoint, isDrawn, placed } from './drawing/geometry.js'

const withValue = (circuit: Circuit, part: string, field: string, value: number) =>
  setValue.apply(circuit, { part, field, value })
const resistor = (id: string, at?: Part['at']): Part => ({
  id,
  kind: 'resistor',
  values: { resistance: 1e3 },
  ...(at && { at }),
})
const pin = (part: string, name: string) => ({ part, pin: name })

/** R1 and R2 in series from a label to ground, joined by a wire over a junction. */
const series: Circuit = {
  parts: [resistor('R1'), resistor('R2'), { id: 'GND1', kind: 'ground', values: {} }],
  junctions: [{ id: 'J1' }],
  wires: [
    { id: 'W1', ends: [pin('R1', 'b'), { junction: 'J1' }] },
    { id: 'W2', ends: [{ junction: 'J1' }, pin('R2', 'a')] },
    { id: 'W3', ends: [pin('R2', 'b'), pin('GND1', 'g')] },
  ],
  labels: [{ id: 'N1', name: 'in', end: pin('R1', 'a') }],
}

describe('nets', () => {
  test('wires join, labels name, ground is net 0, the rest is numbered', () => {
    expect(Object.fromEntries(resolveNets(series))).toEqual({
      'R1\u0000a': 'in',
      'R1\u0000b': 'n1',
      'R2\u0000a': 'n1',
      'R2\u0000b': '0',
      'GND1\u0000g': '0',
    })
  })

  test('equal labels are one net; the label 0 is ground', () => {
    const apart: Circuit = {
      ...emptyCircuit(),
      parts: [resistor('R1'), resistor('R2')],
      labels: [
        { id: '1', name: 'x', end: pin('R1', 'a') },
        { id: '2', name: 'x', end: pin('R2', 'a') },
        { id: '3', name: '0', end: pin('R1', 'b') },
        { id: '4', name: '0', end: pin('R2', 'b') },
      ],
    }
    expect(flatten(apart).nodes).toEqual(['x'])
  })

  test('a net with two names takes the first of the alphabet', () => {
    const two = { ...series, labels: [...series.labels, { id: 'N2', name: 'entry', end: pin('R1', 'a') }] }
    expect(resolveNets(two).get('R1\u0000a')).toBe('entry')
  })

  test('numbering passes by what a label has taken', () => {
    const taken = { ...series, labels: [{ id: 'N1', name: 'n1', end: pin('R1', 'a') }] }
    expect(resolveNets(taken).get('R1\u0000b')).toBe('n2')
  })
})

describe('what cannot be flattened is refused by name', () => {
  const refused = (circuit: Circuit) => () => flatten(circuit)
  test.each<[string, Circuit, RegExp]>([
    ['no ground', { ...series, parts: series.parts.slice(0, 2), wires: series.wires.slice(0, 2) }, /no ground/],
    [
      'a wire to nowhere',
      { ...series, wires: [{ id: 'W9', ends: [pin('R7', 'a'), pin('R1', 'a')] }] },
      /Wire W9 ends at "R7.a"/,
    ],
    ['a pin that is none', { ...series, wires: [{ id: 'W9', ends: [pin('R1', 'c'), pin('R1', 'a')] }] }, /"R1.c"/],
    [
      'a junction that is none',
      { ...series, wires: [{ id: 'W9', ends: [{ junction: 'J7' }, pin('R1', 'a')] }] },
      /junction "J7"/,
    ],
    ['one name twice', { ...series, parts: [...series.parts, resistor('r1')] }, /Two parts are named "r1"/],
    ['no resistance', withValue(series, 'R1', 'resistance', 0), /resistance of R1 is 0/],
    ['no number', withValue(series, 'R1', 'resistance', Number.NaN), /not a finite number/],
    [
      'a value that is none',
      { ...series, parts: [{ ...series.parts[0], values: { colour: 1 } }, ...series.parts.slice(1)] },
      /R1 has no value "colour"/,
    ],
    [
      'a kind that is none',
      { ...series, parts: [{ ...resistor('R1'), kind: 'memristor' }] },
      /"memristor" is not offered/,
    ],
    [
      'a model that is none',
      { ...series, parts: [...series.parts, { id: 'D1', kind: 'diode', values: {}, model: 'dx' }] },
      /model "dx" of D1 is not defined/,
    ],
    ['a net that is none', { ...series, initial: { nowhere: 1 } }, /net "nowhere"/],
    [
      'three pins shorted',
      { ...series, parts: [...series.parts, { id: 'P1', kind: 'potentiometer', values: {}, aside: 'short' }] },
      /cannot be shorted/,
    ],
  ])('%s', (_, circuit, message) => expect(refused(circuit)).toThrow(message))

  test('a negative value is allowed with a warning', () => {
    expect(flatten(withValue(series, 'R1', 'resistance', -5)).warnings).toEqual([
      expect.stringMatching(/R1 is negative/),
    ])
  })
})

test('a value typed over a formula rules from then on; where nothing was computed, nothing is called so', () => {
  const drawn = { ...series, parts: series.parts.map((p) => ({ ...p, formulas: { resistance: '2*k' } })) }
  const [typed] = withValue({ ...drawn, parameters: { k: 5 } }, 'R1', 'resistance', 1100).parts
  expect(typed).not.toHaveProperty('formulas')
  expect(typed).not.toHaveProperty('exact')
  expect(effectiveValues(typed!, scopeOf(series)).resistance).toEqual({ value: 1100, from: 'own' })
})

describe('geometry', () => {
  test('pins turn clockwise with their part, after being mirrored', () => {
    const at = (rotation: 0 | 90 | 180 | 270, mirrored = false) =>
      placed(resistor('R1', { x: 10, y: 5, rotation, mirrored }), [2, 1])
    expect([at(0), at(90), at(180), at(270)]).toEqual([
      { x: 12, y: 6 },
      { x: 9, y: 7 },
      { x: 8, y: 4 },
      { x: 11, y: 3 },
    ])
    expect(at(0, true)).toEqual({ x: 8, y: 6 })
  })

  test('an end without a place has none; a circuit is drawn when every part is', () => {
    expect(endPoint(series, pin('R1', 'a'))).toBeNull()
    expect(isDrawn(series)).toBe(false)
    const drawn = { ...series, parts: series.parts.map((p) => ({ ...p, at: { x: 0, y: 0, rotation: 0 as const } })) }
    expect(isDrawn(drawn)).toBe(true)
    expect(endPoint(drawn, pin('R1', 'b'))).toEqual({ x: 2, y: 0 })
  })
})
