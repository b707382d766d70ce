import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Circuit, Part } from '../../circuit/circuit.js'
import { flatten } from '../../circuit/flatten.js'
import { readNetlist } from './readNetlist.js'
import { writeNetlist } from './writeNetlist.js'

/** What a circuit is, whatever its names: kinds, values and which pins meet, nets numbered as they come. */
function shapeOf(circuit: Circuit) {
  const seen = new Map<number, number>([[-1, -1]])
  const net = (n: number) => seen.get(n) ?? (seen.set(n, seen.size), seen.get(n)!)
  return flatten(circuit).elements.map(({ kind, nodes, values, refs }) => [kind.id, nodes.map(net), values, refs])
}
const throughNetlist = (circuit: Circuit) => readNetlist(writeNetlist(circuit).text).circuit

const NETS = [
  'in',
  'IN',
  'out',
  'A',
  'a',
  'n 1',
  'n_1',
  'n_1_2',
  '{q}',
  'q',
  'x;y',
  '*z',
  '+w',
  'Ω',
  'a,b',
  '0',
  '0 ',
  '=',
  '.end',
]
const NAMES = [
  'Load',
  'RLoad',
  'load 2',
  'R{1}',
  'R 1',
  'R_1',
  'R',
  '*',
  '1',
  'ü',
  'CLoad',
  'X',
  'XU1',
  'opamp1',
  '.end',
  '+',
]
const OTHER = { min: 1e-12, max: 1e12, noNaN: true }

const part = (id: string): fc.Arbitrary<Part> =>
  fc.oneof(
    fc.double(OTHER).map((resistance): Part => ({ id, kind: 'resistor', values: { resistance } })),
    fc.double(OTHER).map((capacitance): Part => ({ id, kind: 'capacitor', values: { capacitance } })),
    fc.double(OTHER).map((bias): Part => ({ id, kind: 'voltage-source', values: { bias } })),
    fc.constant<Part>({ id, kind: 'opamp', values: { gain: 1e6, gainBandwidth: 1e7 } }),
    fc
      .constantFrom('2*k', 'k+1.0e-03', 'max(k, 4k7)/1Meg', 'k > 1 ? 2 : 3 < k ? 4 : 5')
      .map((resistance): Part => ({ id, kind: 'resistor', values: {}, formulas: { resistance } })),
  )
const PINS: Record<string, string[]> = {
  resistor: ['a', 'b'],
  capacitor: ['a', 'b'],
  'voltage-source': ['plus', 'minus'],
  opamp: ['plus', 'minus', 'out'],
}
const circuit = fc
  .uniqueArray(fc.constantFrom(...NAMES), { minLength: 1, maxLength: 12, selector: (n) => n.toUpperCase() })
  .chain((names) =>
    fc.record({
      parts: fc.tuple(...names.map(part)),
      nets: fc.array(fc.constantFrom(...NETS), { minLength: 3 * names.length, maxLength: 3 * names.length }),
    }),
  )
  .map(({ parts, nets }): Circuit => {
    const ends = parts.flatMap((p) => PINS[p.kind]!.map((pin) => ({ part: p.id, pin })))
    const labels = ends.map((end, k) => ({ id: `@${k}`, name: nets[k]!, end }))
    // A netlist's ground is a node that some element names.
    const grounded: Part = { id: 'Rgrounded', kind: 'resistor', values: { resistance: 1 } }
    const joined = [
      { id: 'to ground', name: '0', end: { part: 'Rgrounded', pin: 'a' } },
      { id: 'to the rest', name: 'in', end: { part: 'Rgrounded', pin: 'b' } },
    ]
    return {
      parts: [...parts, grounded],
      wires: [],
      junctions: [],
      labels: [...labels, ...joined],
      parameters: { k: 7 },
    }
  })

/** Amplifiers become blocks of plain elements: those are compared by what they are made of. */
const made = (c: Circuit) => shapeOf(throughNetlist(c))

describe('an export reads back to the same circuit', () => {
  test('whatever its parts and nets are called', () => {
    fc.assert(
      fc.property(circuit, (c) => {
        const ideal = { ...c, parts: c.parts.map((p) => (p.kind === 'opamp' ? { ...p, values: { gain: 1e6 } } : p)) }
        expect(made(ideal)).toEqual(shapeOf(ideal))
        // A second export says the same as the first.
        expect(made(throughNetlist(c))).toEqual(made(c))
      }),
      { numRuns: 500 },
    )
  })

  test('models and blocks whose names a netlist takes for one another', () => {
    const block = (resistance: number) => ({
      pins: ['P', 'p'],
      parts: [{ id: 'R1', kind: 'resistor', values: { resistance } }],
      wires: [],
      junctions: [],
      labels: [
        { id: '@1', name: 'P', end: { part: 'R1', pin: 'a' } },
        { id: '@2', name: 'p', end: { part: 'R1', pin: 'b' } },
      ],
    })
    const both: Circuit = {
      parts: [
        { id: 'X1', kind: 'subcircuit', values: {}, definition: 'Pad' },
        { id: 'X2', kind: 'subcircuit', values: {}, definition: 'pad' },
        { id: 'D1', kind: 'diode', values: { is: 1e-15 }, model: 'a b' },
        { id: 'D2', kind: 'diode', values: {} },
        { id: 'G', kind: 'ground', values: {} },
      ],
      wires: [],
      junctions: [],
      labels: [
        ['X1', 'p1', 'x'],
        ['X1', 'p2', '0'],
        ['X2', 'p1', 'x'],
        ['X2', 'p2', '0'],
        ['D1', 'anode', 'x'],
        ['D1', 'cathode', '0'],
        ['D2', 'anode', 'x'],
        ['D2', 'cathode', '0'],
      ].map(([part, pin, name], k) => ({ id: `@${k}`, name: name!, end: { part: part!, pin: pin! } })),
      models: { 'a b': { kind: 'diode', values: { n: 1.2, is: 1e-12 } } },
      subcircuits: { Pad: block(10), pad: block(20) },
    }
    expect(made(both)).toEqual(shapeOf(both))
  })

  test('what it has no words for is said, part by part', () => {
    const c = readNetlist('t\nR1 a 0 1k\nC1 a 0 1n\nV1 a 0 1\n').circuit
    const parts = c.parts.map((p) => (p.id === 'V1' ? p : { ...p, values: { ...p.values, tc1: 1e-3 } }))
    const opamp: Part = { id: 'U1', kind: 'opamp', values: { noiseVoltage: 3e-9, slewRate: 1e6, gainBandwidth: 1e6 } }
    const labels = ['plus', 'minus', 'out'].map((pin) => ({ id: pin, name: 'a', end: { part: 'U1', pin } }))
    const { text, losses } = writeNetlist({ ...c, parts: [...parts, opamp], labels: [...c.labels, ...labels] })
    expect(losses).toEqual([
      'A netlist has no words for the temperature coefficient of R1.',
      'A netlist has no words for the temperature coefficient of C1.',
      'A netlist has no words for the slew rate, input noise voltage density of U1.',
    ])
    expect(text).toContain('* R1: a netlist has no words for its temperature coefficient')
    expect(writeNetlist(c).losses).toEqual([])
  })

  test('a train that stays high to the end of its period stays so', () => {
    const c = readNetlist('t\nV1 a 0 0\nR1 a 0 1\n').circuit
    const waveform = { kind: 'pulse' as const, low: 0, high: 1, delay: 0, rise: 0.3, fall: 0, period: 1 }
    const train = { ...c, parts: c.parts.map((p) => (p.id === 'V1' ? { ...p, waveform } : p)) }
    const again = flatten(throughNetlist(train)).elements[0]!.waveform
    expect(again).toEqual({ ...waveform, width: 1 })
  })
})
