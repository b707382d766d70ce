import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../../synthesis/realize.js'
import { writeNetlist } from '../../format/netlist/writeNetlist.js'
import { collisions } from '../../testing/collisions.js'
import { partTexts } from './texts.js'
import type { Circuit, Part } from '../circuit.js'
import { circuitEdit, type EditCall } from '../edit/index.js'
import { NetMap } from '../NetMap.js'
import {
  type Box,
  endPoint,
  isDrawn,
  looksJoined,
  overlap,
  type Stretch,
  stretchesOf,
  symbolBox,
  wireBoxes,
  wirePoints,
} from './geometry.js'
import { drawingOf, laidOut } from './index.js'
import { placedPins } from './pins.js'

const made = (family: string, more: object = {}, realization: object = {}): Circuit =>
  realize(
    parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 5,
      passband: { edges: [1000] },
      realization: { family, ...realization },
      ...more,
    }),
  ).circuit

/** What is joined to what, without where it lies. */
const joints = (circuit: Circuit) => writeNetlist(circuit).text
const drawn = (circuit: Circuit, sheet?: { width: number; height: number }) =>
  drawingOf(circuit, partTexts(circuit), sheet)

describe('stretches that look joined', () => {
  const from = (x: number, y: number, u: number, v: number): Stretch => [
    { x, y },
    { x: u, y: v },
  ]
  test.each([
    ['crossing', from(0, 0, 4, 0), from(2, -2, 2, 2), false],
    ['a T', from(0, 0, 4, 0), from(2, 0, 2, 2), true],
    ['a corner on a corner', from(0, 0, 4, 0), from(4, 0, 4, 2), true],
    ['one along the other', from(0, 0, 4, 0), from(3, 0, 9, 0), true],
    ['one after the other', from(0, 0, 4, 0), from(5, 0, 9, 0), false],
    ['beside each other', from(0, 0, 4, 0), from(0, 1, 4, 1), false],
  ])('%s: both ways round', (_, a, b, joined) => {
    expect(looksJoined(a, b)).toBe(joined)
    expect(looksJoined(b, a)).toBe(joined)
    expect(looksJoined([a[1], a[0]], b)).toBe(joined)
  })
})

describe('wires find a way', () => {
  const resistor = (id: string, x: number, y: number, rotation: 0 | 90 = 0): Part => ({
    id,
    kind: 'resistor',
    values: { resistance: 1 },
    at: { x, y, rotation },
  })
  const between = (parts: Part[], ...pairs: [string, string][]): Circuit => ({
    parts,
    junctions: [],
    labels: [],
    wires: pairs.map(([a, b], k) => ({
      id: `W${k}`,
      ends: [
        { part: a.slice(0, -1), pin: a.slice(-1) },
        { part: b.slice(0, -1), pin: b.slice(-1) },
      ],
    })),
  })
  const way = (circuit: Circuit, id = 'W0') =>
    wirePoints(
      circuit,
      circuit.wires.find((w) => w.id === id)!,
    )!

  test('one corner where nothing is in the way', () => {
    const laid = laidOut(between([resistor('R1', 0, 0), resistor('R2', 10, 8, 90)], ['R1b', 'R2a']))
    expect(way(laid)).toEqual([
      { x: 2, y: 0 },
      { x: 10, y: 0 },
      { x: 10, y: 6 },
    ])
  })

  test('a straight wire stays, and so does one that has its way', () => {
    const circuit = between([resistor('R1', 0, 0), resistor('R2', 10, 0)], ['R1b', 'R2a'])
    expect(laidOut(circuit)).toBe(circuit)
  })

  test('round a part, and across a wire rather than along it', () => {
    const laid = laidOut(
      between(
        [
          resistor('R1', 0, 0),
          resistor('R2', 12, 3),
          resistor('R3', 6, 1, 90),
          resistor('R4', 6, -9, 90),
          resistor('R5', 6, 12, 90),
        ],
        ['R1b', 'R2a'],
        ['R4b', 'R3a'],
      ),
    )
    expect(collisions(drawn(laid))).toEqual([])
    const length = stretchesOf(way(laid)).reduce((sum, [a, b]) => sum + Math.abs(a.x - b.x) + Math.abs(a.y - b.y), 0)
    // Below R3, which ends at y = 3: 8 across and 3 down with what it goes farther.
    expect(length).toBeLessThanOrEqual(8 + 3 + 2)
  })

  const others = (circuit: Circuit, id: string) =>
    circuit.parts.flatMap((p) => (p.id === id ? [] : (symbolBox(p) ?? [])))
  const inflated = ({ left, right, top, bottom }: Box): Box => ({
    left: left - 1.5,
    right: right + 1.5,
    top: top - 1.5,
    bottom: bottom + 1.5,
  })

  test('a part that is moved takes its wires with it, and they touch no other net', () => {
    const families = ['lc-ladder', 'sallen-key', 'rlc-section'] as const
    fc.assert(
      fc.property(
        fc.constantFrom(...families),
        fc.nat(30),
        fc.integer({ min: -6, max: 6 }),
        fc.integer({ min: -14, max: 14 }),
        fc.constantFrom(0, 90, 180, 270),
        (family, which, dx, dy, turn) => {
          const circuit = made(family, family === 'rlc-section' ? { order: 2 } : {})
          const part = circuit.parts[which % circuit.parts.length]
          const rotation = ((part.at!.rotation + turn) % 360) as 0
          const at = { x: part.at!.x + dx, y: part.at!.y + dy, rotation }
          const moved = circuitEdit({ edit: 'place-part', args: { part: part.id, at } } as EditCall).apply(circuit)
          expect(joints(moved)).toBe(joints(circuit))
          for (const wire of moved.wires) {
            const points = wirePoints(moved, wire)!
            expect(points[0]).toEqual(endPoint(moved, wire.ends[0]))
            for (const [a, b] of stretchesOf(points)) expect(a.x === b.x || a.y === b.y).toBe(true)
          }
          // Where the part was put onto something nothing can help.
          const own = moved.parts.find((p) => p.id === part.id)!
          const stays = moved.wires.filter((w) => circuit.wires.includes(w))
          const there = [...others(moved, part.id), ...wireBoxes({ ...moved, wires: stays })]
          const pins = placedPins(moved, new NetMap(moved)).filter((p) => p.part === part.id)
          fc.pre(moved.junctions.every(({ at: j }) => pins.every((p) => p.at.x !== j!.x || p.at.y !== j!.y)))
          fc.pre(there.every((box) => overlap(inflated(symbolBox(own)!), box) === 0))
          const wrong = collisions(drawn(moved)).filter((c) => !c.includes('label of') && !c.includes('name of a net'))
          expect(wrong).toEqual([])
        },
      ),
      { numRuns: 150 },
    )
  })
})

describe('what is new gets a place', () => {
  const cases: [string, Circuit, EditCall][] = ['lc-ladder', 'sallen-key', 'image-sections'].flatMap((family) => {
    const circuit = made(family)
    const inner = new NetMap(circuit).nets.filter((n) => n !== '0')
    const value = { resistance: 1e3 }
    return [
      [
        `${family}: between two nets`,
        circuit,
        { edit: 'bridge-nets', args: { kind: 'resistor', nets: [inner[1], inner[2]], values: value } },
      ],
      [
        `${family}: to ground`,
        circuit,
        { edit: 'bridge-nets', args: { kind: 'resistor', nets: ['out', '0'], values: value } },
      ],
      [
        `${family}: into a pin's way`,
        circuit,
        {
          edit: 'put-in-series',
          args: {
            kind: 'resistor',
            part: 'C1',
            values: value,
          },
        },
      ],
      [`${family}: ground on a net`, circuit, { edit: 'ground-net', args: { net: inner[1] } }],
    ] as unknown as [string, Circuit, EditCall][]
  })
  test.each(cases)('%s', (_, circuit, call) => {
    const after = circuitEdit(call).apply(circuit)
    expect(after.parts.length + after.labels.length).toBeGreaterThan(circuit.parts.length + circuit.labels.length)
    expect(isDrawn(after)).toBe(true)
    expect(after.junctions.every((j) => j.at)).toBe(true)
    expect(collisions(drawn(after)).filter((c) => !c.includes('label of') && !c.includes('name of a net'))).toEqual([])
    // What stood stays where it stood.
    for (const part of circuit.parts) expect(after.parts.find((p) => p.id === part.id)!.at).toEqual(part.at)
  })

  test('a circuit without any place stays without', () => {
    const bare = { ...made('lc-ladder') }
    bare.parts = bare.parts.map(({ at: _gone, ...p }) => p)
    expect(laidOut(bare)).toBe(bare)
  })
})

describe('a circuit that does not hang together is drawn as it stands', () => {
  const whole = made('sallen-key', { order: 8 })
  test.each<[string, Partial<Circuit>]>([
    [
      'a wire to a junction that is not there',
      { wires: [...whole.wires, { id: 'W99', ends: [{ junction: 'J99' }, { part: 'R1', pin: 'a' }] }] },
    ],
    [
      'a name at a part that is not there',
      { labels: [...whole.labels, { id: 'N9', name: 'x', end: { part: 'R77', pin: 'a' } }] },
    ],
  ])('%s', (_, more) => {
    const broken = { ...whole, ...more }
    const drawing = drawingOf(broken, () => null, { width: 30, height: 30 })
    expect([drawing.circuit, drawing.rows]).toEqual([broken, 1])
    const moved = circuitEdit({ edit: 'set-aside', args: { parts: ['R1'], as: 'open' } }).apply(broken)
    expect(moved.parts.find((p) => p.id === 'R1')!.aside).toBe('open')
  })
})

describe('long drawings are folded', () => {
  const SHEET = { width: 90, height: 60 }
  const chain = made('sallen-key', { order: 10 }, { load: 1000 })

  test('into rows that can be read, the same circuit, with the names of its nets where they were cut', () => {
    const one = drawn(chain)
    const folded = drawn(chain, SHEET)
    expect(one.rows).toBe(1)
    expect(folded.rows).toBeGreaterThan(1)
    expect(collisions(folded)).toEqual([])
    expect(joints(folded.circuit)).toBe(joints(chain))
    const nets = new NetMap(chain).nets
    for (const { net } of folded.tags) expect(nets).toContain(net)
    // Each cut once on either side, and never through a section: the driven net of an amplifier goes on.
    expect(folded.tags).toHaveLength(2 * (folded.rows - 1))
    const driven = chain.parts.filter((p) => p.kind === 'opamp').map((u) => new NetMap(chain).netOf(u.id, 'out'))
    for (const { net } of folded.tags) expect(driven).toContain(net)
    const right = (d: typeof folded) => Math.max(...d.circuit.parts.map((p) => p.at!.x))
    expect(right(folded)).toBeLessThan(0.7 * right(one))
  })

  test('the pieces of a cut wire reach from one end to the other', () => {
    const folded = drawn(chain, SHEET)
    for (const [id, pieces] of folded.pieces) {
      const wire = folded.circuit.wires.find((w) => w.id === id)!
      expect(pieces[0][0]).toEqual(endPoint(folded.circuit, wire.ends[0]))
      expect(pieces.at(-1)!.at(-1)).toEqual(endPoint(folded.circuit, wire.ends[1]))
      for (const piece of pieces) for (const [a, b] of stretchesOf(piece)) expect(a.x === b.x || a.y === b.y).toBe(true)
    }
    expect(folded.pieces.size).toBeGreaterThan(0)
  })

  test('a balanced chain through both of its lines', () => {
    const lattice = made('lattice', { response: 'allpass', order: 8 }, {})
    const folded = drawn(lattice, { width: 60, height: 70 })
    expect(folded.rows).toBeGreaterThan(1)
    expect(folded.tags).toHaveLength(4 * (folded.rows - 1))
    expect(collisions(folded)).toEqual([])
  })

  test('what can be read, and what cannot be cut, stays in one row', () => {
    expect(drawn(made('lc-ladder', { order: 3 }), SHEET).rows).toBe(1)
    expect(
      drawn(made('constant-resistance', { response: 'highpass', order: 1 }), { width: 8, height: 8 }).rows,
    ).toBeLessThanOrEqual(2)
    const empty: Circuit = { parts: [], wires: [], junctions: [], labels: [] }
    expect(drawn(empty, SHEET).rows).toBe(1)
  })
})

describe('another value', () => {
  const before = made('lc-ladder')
  const withResistance = (circuit: Circuit, resistance: number): Circuit => ({
    ...circuit,
    parts: circuit.parts.map((p) => (p.id === 'RS' ? { ...p, values: { ...p.values, resistance } } : p)),
  })
  const textOf = (part: Part) => (part.id === 'RS' ? `${part.values.resistance} Ω` : partTexts(before)(part))

  test('of the same room leaves all that lies, and is itself on the drawing', () => {
    const old = drawingOf(withResistance(before, 47), textOf)
    const circuit = withResistance(before, 68)
    const now = drawingOf(circuit, textOf)
    expect(now.labels).toBe(old.labels)
    expect(now.circuit.wires).toBe(old.circuit.wires)
    expect(now.circuit.parts.filter((p, k) => p !== old.circuit.parts[k]).map((p) => p.id)).toEqual(['RS'])
    // The same as a drawing that nothing is known of.
    const fresh = drawingOf(structuredClone(circuit), textOf)
    expect(now.circuit).toEqual(fresh.circuit)
    expect(now.labels).toEqual(fresh.labels)
    expect(now.names).toEqual(fresh.names)
  })

  test('that takes other room, a part moved and another sheet are drawn anew', () => {
    const old = drawingOf(withResistance(before, 47), textOf)
    const long = withResistance(before, 47.123456789)
    expect(drawingOf(long, textOf).labels).not.toBe(old.labels)
    const away = { parts: ['RS'], labels: [], notes: [], by: { x: 0, y: -6 } }
    const moved = circuitEdit({ edit: 'move-things', args: away }).apply(before)
    const at = (drawing: ReturnType<typeof drawingOf>) => drawing.circuit.parts.find((p) => p.id === 'RS')!.at!.y
    expect(at(drawingOf(moved, textOf))).toBe(at(drawingOf(before, textOf)) - 6)
    const chain = made('sallen-key', { order: 10 }, { load: 1000 })
    const rows = [undefined, { width: 90, height: 60 }, undefined].map((sheet) => drawn(chain, sheet).rows)
    expect(rows[1]).toBeGreaterThan(1)
    expect([rows[0], rows[2]]).toEqual([1, 1])
  })
})
