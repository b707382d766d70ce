import { describe, expect, test } from 'vitest'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../../synthesis/realize.js'
import type { Circuit } from '../circuit.js'
import { flatten } from '../flatten.js'
import { NetMap } from '../NetMap.js'
import { patched } from '../patch.js'
import { freeId, freePartId } from '../ids.js'
import { circuitEdit, circuitEdits, type EditCall } from './index.js'

const ladder = realize(
  parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order: 3,
    passband: { edges: [1000] },
    realization: { family: 'lc-ladder' },
  }),
).circuit
const { circuit } = readNetlist(['t', 'V1 in 0 1', 'R1 in a 1k', 'R2 a out 2k', 'C1 out 0 1n', ''].join('\n'))
const done = (call: EditCall, on = circuit) => circuitEdit(call).apply(on)
/** What hangs where, by element: names of nets in the order of its pins. */
const joints = (of: typeof circuit) => {
  const { nodes, elements } = flatten(of)
  return Object.fromEntries(elements.map((e) => [e.name, e.nodes.map((n) => (n < 0 ? '0' : nodes[n])).join(' ')]))
}

describe('nets', () => {
  test('say what lies on them, and pins on which they lie', () => {
    const nets = new NetMap(circuit)
    expect(nets.netOf('R1', 'a')).toBe('in')
    expect(nets.pinsOf('a').map((p) => `${p.part}.${p.pin}`)).toEqual(['R1.b', 'R2.a'])
    expect(nets.netsOf('C1')).toEqual(['out', '0'])
    expect([nets.netOf('R9', 'a'), nets.pinsOf('none')]).toEqual([null, []])
    expect(nets.nets.toSorted()).toEqual(['0', 'a', 'in', 'out'])
  })
})

describe('names', () => {
  test('are the next free ones of their kind, in any case', () => {
    expect(freePartId(circuit, 'resistor')).toBe('R3')
    expect(
      freePartId({ ...circuit, parts: [...circuit.parts, { id: 'r3', kind: 'resistor', values: {} }] }, 'resistor'),
    ).toBe('R4')
    expect(freePartId(circuit, 'ground')).toBe('GND1')
    expect(freeId({ ...circuit, wires: [] }, 'wires')).toBe('W1')
    expect(freeId(ladder, 'junctions')).toBe(`J${ladder.junctions.length + 1}`)
  })
})

describe('edits', () => {
  test('each has a name of its own', () => {
    expect(new Set(circuitEdits.map((e) => e.id)).size).toBe(circuitEdits.length)
  })

  test('a part in series, between nets, and taken out again', () => {
    const series = done({ edit: 'put-in-series', args: { part: 'R2', kind: 'inductor', values: { inductance: 1e-3 } } })
    const [one, two] = joints(series).L1.split(' ')
    expect(one).toBe('a')
    expect(joints(series).R2).toBe(`${two} out`)
    const back = done({ edit: 'remove-part', args: { part: 'L1', close: true } }, series)
    expect(joints(back)).toEqual(joints(circuit))
    const bridge = done({
      edit: 'bridge-nets',
      args: { kind: 'capacitor', values: { capacitance: 1e-9 }, nets: ['a', '0'] },
    })
    expect(joints(bridge)).toMatchObject({ ...joints(circuit), C2: 'a 0' })
    expect(joints(done({ edit: 'remove-part', args: { part: 'C2' } }, bridge))).toEqual(joints(circuit))
  })

  test('a part taken out leaves joined what met at its pins, and names where they stood', () => {
    const wire = (id: string, ...ends: [Circuit['wires'][number]['ends'][0], Circuit['wires'][number]['ends'][1]]) => ({
      id,
      ends,
    })
    const [r1, c1, r2] = [
      { part: 'R1', pin: 'b' },
      { part: 'C1', pin: 'a' },
      { part: 'R2', pin: 'a' },
    ]
    const at = { x: 4, y: 2, rotation: 0 as const }
    // R1 and R2 meet at a pin of C1 only, which the net's name hangs on.
    const chain: Circuit = {
      parts: [
        { id: 'R1', kind: 'resistor', values: {} },
        { id: 'C1', kind: 'capacitor', values: {}, at },
        { id: 'R2', kind: 'resistor', values: {} },
        { id: 'GND1', kind: 'ground', values: {} },
      ],
      wires: [wire('W1', r1, c1), wire('W2', c1, r2), wire('W3', { part: 'C1', pin: 'b' }, { part: 'GND1', pin: 'g' })],
      junctions: [],
      labels: [{ id: 'N1', name: 'mid', end: c1 }],
    }
    const left = done({ edit: 'remove-part', args: { part: 'C1' } }, chain)
    const nets = new NetMap(left)
    expect([nets.netOf('R1', 'b'), nets.netOf('R2', 'a')]).toEqual(['mid', 'mid'])
    expect(left.junctions).toEqual([{ id: 'J1', at: { x: 2, y: 2 } }])
    expect(left.wires.map((w) => w.id)).toEqual(['W1', 'W2'])
    const closed = new NetMap(done({ edit: 'remove-part', args: { part: 'C1', close: true } }, chain))
    expect(closed.netOf('R1', 'b')).toBe('0')
  })

  test('any part of a circuit taken out and closed: its two nets are one, the others are as they were', () => {
    /** Nets by the order in which they first come up, ground as 0. */
    const numbered = (rows: number[][]) => {
      const order = [...new Set(rows.flat().filter((n) => n >= 0))]
      return rows.map((row) => row.map((n) => order.indexOf(n) + 1))
    }
    const { elements } = flatten(ladder)
    for (const { name, nodes } of elements) {
      const [kept, joined] = [...nodes].sort((a, b) => a - b)
      const rows = elements.flatMap((e) => (e.name === name ? [] : [e.nodes.map((n) => (n === joined ? kept : n))]))
      const closed = flatten(done({ edit: 'remove-part', args: { part: name, close: true } }, ladder))
      expect(numbered(closed.elements.map((e) => [...e.nodes]))).toEqual(numbered(rows))
    }
  })

  test('pins exchanged twice are as they were; a net becomes ground', () => {
    const swap: EditCall = { edit: 'swap-pins', args: { part: 'R2', pins: ['a', 'b'] } }
    expect(joints(done(swap)).R2).toBe('out a')
    expect(joints(done(swap, done(swap)))).toEqual(joints(circuit))
    expect(joints(done({ edit: 'ground-net', args: { net: 'a' } })).R1).toBe('in 0')
  })

  test('a net without a name is joined by a wire', () => {
    const nets = new NetMap(ladder)
    const inner = nets.netOf('L2', 'a')!
    const next = done(
      { edit: 'bridge-nets', args: { kind: 'resistor', values: { resistance: 1 }, nets: [inner, '0'] } },
      ladder,
    )
    const map = new NetMap(next)
    expect(map.netOf('R1', 'a')).toBe(map.netOf('L2', 'a'))
    expect(map.netOf('R1', 'b')).toBe('0')
    // One to the net, one to a ground symbol of its own.
    expect(next.wires).toHaveLength(ladder.wires.length + 2)
    expect(next.labels).toEqual(ladder.labels)
  })

  const SAYING: EditCall[] = [
    { edit: 'set-value', args: { part: 'C1', field: 'capacitance', value: 1e-6 } },
    { edit: 'set-formula', args: { part: 'C1', field: 'capacitance', formula: '2u' } },
    { edit: 'set-aside', args: { parts: ['C1'], as: 'open' } },
    { edit: 'place-part', args: { part: 'C1', at: { x: 1, y: 2, rotation: 90 } } },
  ]
  test.each(SAYING)('$edit says of a computed circuit what it does to a drawn one', (call) => {
    const { says, apply } = circuitEdit(call)
    const [{ part: of, patch }] = says(ladder)!
    const one = patched(ladder, { [of]: patch({}) })
    expect(one.lost).toEqual({})
    const { exact: _exact, ...part } = one.circuit.parts.find((p) => p.id === 'C1')!
    expect(part).toEqual(apply(ladder).parts.find((p) => p.id === 'C1'))
  })

  test('what can be said of single parts is kept as patches, and nothing else is', () => {
    const ids = circuitEdits.filter((e) => 'says' in e && e.says).map((e) => e.id)
    expect(ids.toSorted()).toEqual(
      [
        ...SAYING.map((c) => c.edit),
        'align-parts',
        'move-things',
        'place-label',
        'scale-circuit',
        'set-properties',
        'set-values',
        'turn-parts',
      ].toSorted(),
    )
  })

  test.each<[string, unknown, string]>([
    ['set-value', { part: 'R9', field: 'resistance', value: 1 }, 'no part "R9"'],
    ['set-value', { part: 'R1', field: 'resistance', value: '1k' }, 'does not fit: value'],
    ['set-value', { part: 'R1', field: 'colour', value: 1 }, 'no value "colour"'],
    ['set-formula', { part: 'R1', field: 'resistance', formula: '2*(' }, 'cannot be used'],
    ['set-formula', { part: 'R1', field: 'colour', formula: '2' }, 'no value "colour"'],
    ['swap-pins', { part: 'R1', pins: ['a', 'c'] }, 'no pin "c"'],
    ['remove-part', { part: 'R9' }, 'no part "R9"'],
    ['put-in-series', { part: 'R1', kind: 'opamp', values: {} }, 'has 3 pins to join, not 2'],
    ['bridge-nets', { kind: 'resistor', values: {}, nets: ['a'] }, 'has 2 pins to join, not 1'],
    ['bridge-nets', { kind: 'resistor', values: {}, nets: ['nowhere', '0'] }, 'no net "nowhere"'],
    ['bridge-nets', { kind: 'flux capacitor', values: {}, nets: ['a', '0'] }, 'not offered'],
    ['ground-net', { net: 'nowhere' }, 'no net "nowhere"'],
    ['explode', {}, 'not offered'],
  ])('%s of %j is refused', (edit, args, message) => {
    expect(() => done({ edit, args } as never)).toThrow(message)
  })
})
