import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Circuit, Part } from '../circuit.js'
import { Boxes } from './Boxes.js'
import { type Box, movedBox, overlap, symbolBox, wireBoxes } from './geometry.js'
import { labelBox, netBoxes, placeLabels, textBox, valueText } from './labels.js'
import { textWidth } from './lettering.js'

const part = (id: string, kind: string, x: number, y: number, rotation: 0 | 90 = 0, values = {}): Part => ({
  id,
  kind,
  values,
  at: { x, y, rotation },
})
const sheet = (parts: Part[], more: Partial<Circuit> = {}): Circuit => ({
  parts,
  wires: [],
  junctions: [],
  labels: [],
  ...more,
})
const value = (v: number) => ({ resistance: { value: v, from: 'own' as const } })
const placesOf = (circuit: Circuit, text: string | null = '1.000 kΩ') => placeLabels(circuit, () => text)

describe('what is said of a value', () => {
  const r = part('R1', 'resistor', 0, 0)
  test('is a number with its unit, a word, a formula that cannot be worked out, or nothing', () => {
    expect(valueText(r, value(4700))).toBe('4.700\u00a0kΩ')
    expect(valueText({ ...r, formulas: { resistance: 'tau/c' } }, null)).toBe('tau/c')
    expect(valueText(r, null)).toBe('?')
    expect(valueText(part('GND1', 'ground', 0, 0), {})).toBeNull()
    const gain = (v: number) => valueText(part('E1', 'vcvs', 0, 0), { gain: { value: v, from: 'own' } })
    expect([gain(1e8), gain(-2.5), gain(1e5)]).toEqual(['ideal', '-2.5', '100.0\u00a0k'])
  })
})

describe('outlines', () => {
  test('turn with their part, and ground hangs below its pin', () => {
    expect(symbolBox(part('R1', 'resistor', 10, 5))).toEqual({ left: 8, right: 12, top: 4.3, bottom: 5.7 })
    expect(symbolBox(part('R1', 'resistor', 10, 5, 90))).toEqual({ left: 9.3, right: 10.7, top: 3, bottom: 7 })
    expect(symbolBox(part('GND1', 'ground', 0, 0))).toMatchObject({ top: 0, bottom: 1.1 })
    expect(symbolBox({ id: 'R1', kind: 'resistor', values: {} })).toBeNull()
  })

  test('share what they cover both, and nothing where they touch', () => {
    const box = (left: number, top: number) => ({ left, top, right: left + 2, bottom: top + 2 })
    expect(overlap(box(0, 0), box(1, 1))).toBe(1)
    expect(overlap(box(0, 0), box(2, 0))).toBe(0)
    expect(overlap(box(0, 0), box(5, 5))).toBe(0)
  })

  test('a label is as wide as its text, beside its symbol on the side that was asked', () => {
    const r = part('R1', 'resistor', 0, 0)
    const above = labelBox(r, '10 kΩ', { side: 'above', lines: 1 })!
    expect(above.bottom).toBeLessThan(symbolBox(r)!.top)
    expect(above.left).toBeCloseTo(-above.right, 12)
    const two = labelBox(r, '10 kΩ', { side: 'below', lines: 2 })!
    expect(two.right - two.left).toBeLessThan(above.right - above.left)
    expect(two.bottom - two.top).toBeCloseTo(2 * (above.bottom - above.top), 12)
    expect(labelBox(r, '10 kΩ', { side: 'left', lines: 1 })!.right).toBeLessThan(symbolBox(r)!.left)
  })

  test('wires cover their stretches, bends and all; a wire to nowhere covers nothing', () => {
    const wire = { id: 'W1', ends: [{ part: 'R1', pin: 'b' }, { junction: 'J1' }] as const, bends: [{ x: 5, y: 0 }] }
    const wired = sheet([part('R1', 'resistor', 0, 0)], {
      wires: [{ ...wire, ends: [...wire.ends] }],
      junctions: [{ id: 'J1', at: { x: 5, y: 3 } }],
    })
    const boxes = wireBoxes(wired)
    expect(boxes).toHaveLength(2)
    expect(boxes[0].left).toBeLessThan(2)
    expect(boxes[1].bottom).toBeGreaterThan(3)
    expect(wireBoxes({ ...wired, junctions: [{ id: 'J1' }] })).toEqual([])
  })

  test('a net without a place has no frame; a longer name has a wider one', () => {
    const named = (name: string, at?: { x: number; y: number }) =>
      netBoxes(sheet([], { labels: [{ id: 'N1', name, end: { junction: 'J1' }, ...(at && { at }) }] }))
    expect(named('out')).toEqual([])
    const width = ([box]: ReturnType<typeof named>) => box.right - box.left
    expect(width(named('feedback', { x: 0, y: 0 }))).toBeGreaterThan(width(named('out', { x: 0, y: 0 })))
  })
})

describe('a label', () => {
  test('stands where a reader expects it: above what lies, right of what stands, below an amplifier', () => {
    const places = placesOf(
      sheet([part('R1', 'resistor', 0, 0), part('R2', 'resistor', 20, 0, 90), part('U1', 'opamp', 40, 0)]),
    )
    expect(places.get('R1')).toEqual({ side: 'above', lines: 1 })
    expect(places.get('R2')).toEqual({ side: 'right', lines: 2 })
    expect(places.get('U1')!.side).toBe('below')
  })

  test('gives way to a symbol, a wire, a name and another label', () => {
    const r = part('R1', 'resistor', 0, 0)
    expect(placesOf(sheet([r, part('R2', 'resistor', 0, -2)])).get('R1')!.side).toBe('below')
    const across = sheet([r], {
      wires: [{ id: 'W1', ends: [{ junction: 'J1' }, { junction: 'J2' }] }],
      junctions: [
        { id: 'J1', at: { x: -4, y: -1.5 } },
        { id: 'J2', at: { x: 4, y: -1.5 } },
      ],
    })
    expect(placesOf(across).get('R1')!.side).toBe('below')
    const beside = sheet([r], { labels: [{ id: 'N1', name: 'out', end: { junction: 'J' }, at: { x: 0, y: -0.8 } }] })
    expect(placesOf(beside).get('R1')!.side).toBe('below')
    // Side by side on one line they would run into each other.
    const near = placesOf(sheet([r, part('R2', 'resistor', 5, 0)]), 'a long word indeed')
    expect(near.get('R1')!.side).not.toBe(near.get('R2')!.side)
  })

  test('stays where it is when something far away changes', () => {
    const near = [part('R1', 'resistor', 0, 0), part('R2', 'resistor', 0, -2), part('C1', 'capacitor', 5, 3, 90)]
    const before = placesOf(sheet(near))
    const after = placesOf(sheet([...near, part('R3', 'resistor', 60, 0), part('R4', 'resistor', 60, -2)]))
    for (const { id } of near) expect(after.get(id)).toEqual(before.get(id))
  })

  test('is not given to ground, nor to a part without a place', () => {
    const places = placesOf(sheet([part('GND1', 'ground', 0, 0), { id: 'R1', kind: 'resistor', values: {} }]))
    expect(places.size).toBe(0)
  })
})

describe('a source that says much', () => {
  const source = part('V1', 'voltage-source', 0, 0, 90)
  const text = '2.5 V, AC 1 V, step 1 V'

  test('says it in one line beside it, and phrase by phrase where there is no room for that', () => {
    expect(placesOf(sheet([source]), text).get('V1')).toEqual({ side: 'right', lines: 2 })
    const between = [part('R1', 'resistor', 8, 0, 90), part('R2', 'resistor', -8, 0, 90)]
    const textOf = (p: Part) => (p.id === 'V1' ? text : null)
    const place = placeLabels(sheet([source, ...between]), textOf).get('V1')!
    expect(place).toEqual({ side: 'right', lines: 'all' })
    const box = labelBox(source, text, place)!
    for (const { id, ...at } of between) expect(overlap(box, symbolBox({ id, ...at })!)).toBe(0)
    // Its name and three phrases, one below the other.
    expect(box.bottom - box.top).toBeCloseTo(4 * 1.27)
  })

  test('digits are of one width, a space that does not break is a space, and what is unknown is wide', () => {
    expect(textWidth('18.43\u00a0kΩ')).toBe(textWidth('70.96 kΩ'))
    expect(textWidth('漢')).toBeGreaterThanOrEqual(textWidth('W'))
    const room = (line: string) => {
      const { left, right } = textBox({ lines: [line], at: { x: 0, y: 0 } })
      return right - left
    }
    expect(room('1.234 V')).toBe(room('-7.89 V'))
    expect(room('5 V')).toBeLessThan(room('1.234 V'))
  })
})

// The nearest free place by trying every one: a second road.
test('the nearest free place is free, and none is nearer', () => {
  const at = fc.integer({ min: -16, max: 16 }).map((n) => n / 2)
  const size = fc.integer({ min: 1, max: 8 }).map((n) => n / 2)
  const box = fc
    .tuple(at, at, size, size)
    .map(([left, top, w, h]): Box => ({ left, top, right: left + w, bottom: top + h }))
  fc.assert(
    fc.property(box, fc.array(box, { maxLength: 30 }), (wanted, lying) => {
      const found = new Boxes(lying).nearestFree(wanted)
      const isFree = (b: Box) => lying.every((other) => overlap(b, other) === 0)
      expect(isFree(found)).toBe(true)
      const far = Math.abs(found.left - wanted.left) + Math.abs(found.top - wanted.top)
      for (let x = -far; x <= far; x += 0.5)
        for (let y = -far; y <= far; y += 0.5)
          if (Math.abs(x) + Math.abs(y) < far) expect(isFree(movedBox(wanted, { x, y }))).toBe(false)
    }),
    { numRuns: 60 },
  )
})
