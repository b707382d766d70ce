import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { formulate } from '../../analysis/mna.js'
import { operatingPoint } from '../../analysis/operatingPoint.js'
import { operatingReport } from '../../analysis/operatingReport.js'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { writeNetlist } from '../../format/netlist/writeNetlist.js'
import { complex } from '../../numeric/complex.js'
import type { Circuit, Part } from '../circuit.js'
import { partKind } from './index.js'
import { trackPart } from './potentiometer.js'

/** A circuit of parts with a net for every pin, in the order of the kinds' pins. */
function circuit(...parts: [Omit<Part, 'id'> & { id: string }, ...string[]][]): Circuit {
  const labels = parts.flatMap(([part, ...nets]) =>
    partKind(part.kind).pins.map((pin, k) => ({ id: `${part.id}${pin}`, name: nets[k], end: { part: part.id, pin } })),
  )
  return { parts: parts.map(([part]) => part), wires: [], junctions: [], labels }
}
const source = { id: 'V1', kind: 'voltage-source', values: { bias: 1, acMagnitude: 1 } }
const resistor = (id: string, resistance: number): Part => ({ id, kind: 'resistor', values: { resistance } })
const solved = (c: Circuit) => operatingReport(formulate(c), operatingPoint(formulate(c)))
/** A part in a netlist is what it is in the circuit. */
const throughNetlist = (c: Circuit) => readNetlist(writeNetlist(c).text).circuit

describe('potentiometer', () => {
  const divider = (values: Record<string, number>) =>
    circuit(
      [source, 'in', '0'],
      [{ id: 'P1', kind: 'potentiometer', values: { resistance: 10e3, ...values } }, '0', 'out', 'in'],
    )

  test('its wiper divides by its position; a logarithmic one gives a tenth at the middle', () => {
    expect(solved(divider({ position: 0.3 })).nodes.out).toBeCloseTo(0.3, 12)
    expect(solved(divider({ position: 0.5, taper: 1 })).nodes.out).toBeCloseTo(0.1, 12)
    expect(solved(divider({ position: 1, taper: 1 })).nodes.out).toBeCloseTo(1, 5)
    expect(trackPart(0, 1)).toBeGreaterThan(0)
  })

  test('a position outside the track is refused', () => {
    expect(() => formulate(divider({ position: 1.2 }))).toThrow('outside the track')
  })
})

describe('switch', () => {
  test('closed it joins, open it parts', () => {
    const at = (closed: number) =>
      solved(
        circuit(
          [source, 'in', '0'],
          [{ id: 'S1', kind: 'switch', values: { closed } }, 'in', 'out'],
          [resistor('R1', 1e3), 'out', '0'],
        ),
      ).nodes.out
    expect(at(1)).toBeCloseTo(1, 4)
    expect(at(0)).toBeLessThan(2e-9)
  })
})

describe('ideal transformer', () => {
  const c = circuit(
    [source, 'in', '0'],
    [resistor('RS', 100), 'in', 'a'],
    [{ id: 'T1', kind: 'transformer', values: { ratio: 2 } }, 'a', '0', 'out', '0'],
    [resistor('RL', 25), 'out', '0'],
  )
  test('a load is seen times the square of the ratio, and matched power is a quarter of the open voltage’s', () => {
    const { nodes, currents } = solved(c)
    // 25 Ω · 2² = 100 Ω: matched.
    expect(nodes.a).toBeCloseTo(0.5, 12)
    expect(nodes.out).toBeCloseTo(0.25, 12)
    expect(currents.T1).toBeCloseTo(5e-3, 14)
  })
})

test('parts that a netlist has no word for are written as what they do', () => {
  const c = circuit(
    [source, 'in', '0'],
    [{ id: 'P1', kind: 'potentiometer', values: { resistance: 10e3, position: 0.4 } }, 'in', 'w', '0'],
    [{ id: 'S1', kind: 'switch', values: { closed: 1 } }, 'w', 'x'],
    [{ id: 'T1', kind: 'transformer', values: { ratio: 3 } }, 'x', '0', 'out', '0'],
    [resistor('RL', 500), 'out', '0'],
  )
  const at = (circuit: Circuit) => new AcAnalysis(formulate(circuit)).at(complex(0, 1e3))
  expect(at(throughNetlist(c)).re).toBeCloseTo(at(c).re, 14)
})

describe('parts set aside', () => {
  const c = circuit([source, 'in', '0'], [resistor('R1', 1e3), 'in', 'out'], [resistor('R2', 1e3), 'out', '0'])
  const aside = (how: 'open' | 'short') => ({
    ...c,
    parts: c.parts.map((p) => (p.id === 'R2' ? { ...p, aside: how } : p)),
  })
  test('of an amplifier what its output follows passes by; its other input may hang on nothing', () => {
    const amplifier = { id: 'U1', kind: 'opamp', values: {}, aside: 'short' as const }
    const all = circuit([source, 'in', '0'], [amplifier, 'in', 'nowhere', 'out'], [resistor('R1', 1e3), 'out', '0'])
    const bare = { ...all, labels: all.labels.filter((l) => l.name !== 'nowhere') }
    expect(solved(bare).nodes).toEqual({ in: expect.closeTo(1, 12), out: expect.closeTo(1, 12) })
    expect(solved(throughNetlist(bare)).nodes.out).toBeCloseTo(1, 12)
  })
  test('open they are gone, shorted their pins are one; their values stay', () => {
    expect(solved(aside('open')).nodes.out).toBeCloseTo(1, 12)
    expect(solved(aside('short')).nodes.out).toBeCloseTo(0, 12)
    expect(aside('short').parts[2].values.resistance).toBe(1e3)
  })
})

test('a solution that repeats itself is believed only where it solves its equations', () => {
  // A tone stage on one supply: limited amplifiers whose first pivots are none where they come to rest. By hand (an amplifier
  // of gain A, a limit far away): all nets stand within a few V/A of the middle, which is V/2 · A/(1 + A).
  const amplifier = { gain: 2e5, outputResistance: 7.5, outputHigh: 26, outputLow: 0 }
  const c = circuit(
    [{ id: 'VS', kind: 'voltage-source', values: { bias: 26 } }, 's', '0'],
    [resistor('RM1', 1e5), 's', 'm'],
    [resistor('RM2', 1e5), 'm', '0'],
    [{ id: 'UM', kind: 'opamp', values: amplifier }, 'm', 'mid', 'mid'],
    [resistor('R1', 55e3), 'mid', 'a'],
    [resistor('RA', 0.1), 'a', 'b'],
    [resistor('RB', 1e5), 'b', 'c'],
    [resistor('R2', 55e3), 'c', 'out'],
    [{ id: 'U1', kind: 'opamp', values: amplifier }, 'mid', 'b', 'out'],
  )
  const nodes = solved(c).nodes
  const { gain } = amplifier
  expect(nodes.mid).toBeCloseTo((13 * gain) / (1 + gain), 9)
  // Node b lies u below mid, out = A·u; what flows through R1 flows through RB and R2.
  const ratio = (1e5 + 55e3) / (55e3 + 0.1)
  const u = (nodes.mid * 1) / (gain + 1 + ratio)
  expect(nodes.b).toBeCloseTo(nodes.mid - u, 7)
  expect(nodes.out).toBeCloseTo(nodes.mid - u * (1 + ratio), 7)
})

describe('parameters', () => {
  const read = (...lines: string[]) => readNetlist(['t', ...lines, ''].join('\n')).circuit
  test('values are expressions over parameters, worked out in any order, inner ones over outer ones', () => {
    const c = read(
      '.param r={2*base} f=1k',
      'V1 in 0 1',
      'R1 in out {r}',
      'X1 out s',
      '.param base=500',
      '.subckt s a',
      '.param base={base*4}',
      'R1 a 0 {r + base/2}',
      '.ends',
    )
    // R1 = 1 kΩ; inside: r = 1000, base would be itself: see below.
    expect(() => formulate(c)).toThrow('circle')
    const sound = read(
      '.param r={2*base} base=500',
      'V1 in 0 1',
      'R1 in out {r}',
      'X1 out s',
      '.subckt s a',
      '.param k=3',
      'R1 a 0 {k*r}',
      '.ends',
    )
    expect(solved(sound).nodes.out).toBeCloseTo(0.75, 12)
    expect(solved(readNetlist(writeNetlist(sound).text).circuit).nodes.out).toBeCloseTo(0.75, 12)
  })

  test.each([
    ['{2*nowhere}', 'no parameter "nowhere"'],
    ['{1/0}', 'its value is Infinity'],
    ['{import("x")}', 'cannot be used'],
    ['{a=3}', 'cannot be used'],
    ['{[1,2]}', 'cannot be used'],
  ])('%s is refused', (expression, message) => {
    expect(() => formulate(read('V1 in 0 1', `R1 in 0 ${expression}`))).toThrow(message)
  })
})

test('a parameter’s own name inside a subcircuit means the outer one only where it is not defined there', () => {
  const c = readNetlist(
    [
      't',
      '.param g=2',
      'V1 in 0 1',
      'X1 in out s',
      'R9 out 0 1',
      '.subckt s a b',
      'E1 b 0 a 0 {g}',
      'R1 a 0 1',
      '.ends',
      '',
    ].join('\n'),
  ).circuit
  expect(solved(c).nodes.out).toBeCloseTo(2, 12)
})

test('a gain that only stands for an ideal amplifier has a word instead', () => {
  for (const kind of ['vcvs', 'opamp']) {
    const { valueWord } = partKind(kind)
    expect([1, 1e5, 1e8, -1e9].map((gain) => valueWord!(gain))).toEqual([null, null, 'ideal', 'ideal'])
  }
})
