import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readNetlist } from '../../../format/netlist/readNetlist.js'
import { writeNetlist } from '../../../format/netlist/writeNetlist.js'
import { drawingJson } from '../../../format/drawing/drawingJson.js'
import { RESPONSES } from '../../../specification/responses.js'
import { shapes } from '../../../specification/shapes/index.js'
import { topologies } from '../../../synthesis/index.js'
import { collisions } from '../../../testing/collisions.js'
import { partTexts } from '../texts.js'
import { documentNets, drawnNets } from '../../../testing/drawnNets.js'
import { randomCircuit } from '../../../testing/randomCircuits.js'
import { circuitOf, realizationOf } from '../../../testing/specified.js'
import { usualCircuits } from '../../../testing/usualCircuits.js'
import type { Circuit } from '../../circuit.js'
import { NetMap } from '../../NetMap.js'
import { drawingOf } from '../index.js'
import { arranged } from './index.js'

const drawn = (circuit: Circuit) => arranged(circuit, partTexts(circuit))
const drawingOfAll = (circuit: Circuit) => drawingOf(circuit, partTexts(circuit))

/** Nets by name, with their pins; ground's symbols aside. */
function netsOf(circuit: Circuit): [string, string[]][] {
  const nets = new NetMap(circuit)
  const grounds = new Set(circuit.parts.flatMap((p) => (p.kind === 'ground' ? [p.id] : [])))
  return nets.nets
    .map((net): [string, string[]] => [
      net,
      nets
        .pinsOf(net)
        // A netlist says where a substrate lies that nothing is joined to.
        .filter((p) => !grounds.has(p.part) && p.pin !== 'substrate')
        .map((p) => `${p.part}.${p.pin}`)
        .sort(),
    ])
    .filter(([, pins]) => pins.length > 0)
    .sort(([a], [b]) => (a < b ? -1 : 1))
}

/** It connects what it connected, under the same names; what it looks to connect is that; and nothing lies on anything. */
function expectFaithful(circuit: Circuit): Circuit {
  const after = drawn(circuit)
  expect(netsOf(after)).toEqual(netsOf(circuit))
  expect(drawnNets(after)).toEqual(documentNets(after))
  expect(collisions(drawingOfAll(after))).toEqual([])
  return after
}

/** Places where wires of different nets cross, and corners of wires; a pair of names counts as one and two. */
function marksOf(circuit: Circuit) {
  const { wires } = drawingJson(drawingOfAll(circuit), partTexts(circuit))
  const stretches = wires.flatMap(({ net, points }) => points.slice(1).map((b, k) => ({ net, a: points[k], b })))
  const [lying, standing] = [1, 0].map((axis) => stretches.filter(({ a, b }) => a[axis] === b[axis]))
  const isWithin = (v: number, p: number, q: number) => v > Math.min(p, q) && v < Math.max(p, q)
  const crossings = lying.flatMap((h) =>
    standing.filter((v) => h.net !== v.net && isWithin(v.a[0], h.a[0], h.b[0]) && isWithin(h.a[1], v.a[1], v.b[1])),
  )
  return {
    crossings: crossings.length,
    bends: wires.reduce((sum, { points }) => sum + Math.max(0, points.length - 2), 0),
  }
}

describe('usual circuits', () => {
  test.each(usualCircuits)('$name', ({ netlist, crossings, bends }) => {
    const { circuit } = readNetlist(netlist)
    const after = expectFaithful(circuit)
    const marks = marksOf(after)
    expect(marks.crossings).toBeLessThanOrEqual(crossings)
    expect(marks.bends).toBeLessThanOrEqual(bends)
    // No net was given up to names but rails and biases, whose sources hold them.
    const named = after.labels.filter((l) => l.shown !== false).map((l) => l.name)
    const held = ['vdd', 'vcc', 'ref']
    expect(named.filter((n) => !held.includes(n)).sort()).toEqual(['in', 'out'])
    // Once more, and as a netlist: the same.
    expect(drawn(after)).toEqual(after)
    const again = readNetlist(writeNetlist(after).text).circuit
    expect(netsOf(again)).toEqual(netsOf(circuit))
  })

  test('the signal goes from left to right', () => {
    for (const { netlist } of usualCircuits) {
      const after = drawn(readNetlist(netlist).circuit)
      const xOf = (id: string) => after.parts.find((p) => p.id === id)!.at!.x
      const source = xOf('V1')
      const amplifiers = after.parts.filter((p) => p.kind === 'opamp')
      for (const { at } of amplifiers) expect(at!.x).toBeGreaterThan(source)
      expect(amplifiers.map((p) => p.at!.x)).toEqual(amplifiers.map((p) => p.at!.x).toSorted((a, b) => a - b))
    }
  })
})

describe('circuits of all topologies, drawn anew', () => {
  test.each(topologies.map((t) => t.id))('%s', (family) => {
    let count = 0
    for (const { id: response } of RESPONSES)
      for (const approximation of ['butterworth', 'elliptic'])
        for (const order of [1, 2, 5]) {
          const circuit = circuitOf({
            response,
            approximation,
            order,
            passband: { edges: response.startsWith('band') ? [950, 1050] : [1000], ripple: 1 },
            ...(response !== 'allpass' && { stopband: { attenuation: 45 } }),
            realization: realizationOf(family),
          })
          if (!circuit) continue
          count++
          expectFaithful(circuit)
        }
    for (const { id: response, fields } of shapes) {
      const shape = Object.fromEntries(fields.flatMap((f) => ('default' in f ? [[f.id, f.default]] : [])))
      const circuit = circuitOf({ response, shape, realization: realizationOf(family) })
      if (!circuit) continue
      count++
      expectFaithful(circuit)
    }
    expect(count).toBeGreaterThan(0)
  })
})

test('a cascode stands on its transistor, a follower beside it', () => {
  const { circuit } = readNetlist(
    [
      'Cascode',
      'VDD vdd 0 5',
      'VB b2 0 2.5',
      'V1 in 0 DC 1 AC 1',
      'M1 d1 in 0 0 n W=10u L=1u',
      'M2 d2 b2 d1 0 n W=10u L=1u',
      'RL vdd d2 10k',
      'M3 vdd d2 out 0 n W=10u L=1u',
      'I1 out 0 100u',
      '.model n NMOS(VTO=0.7 KP=100u)',
      '.end',
    ].join('\n'),
  )
  const after = expectFaithful(circuit)
  const at = (id: string) => after.parts.find((p) => p.id === id)!.at!
  expect(at('M2').x).toBe(at('M1').x)
  expect(at('M2').y).toBeLessThan(at('M1').y)
  expect(at('RL').y).toBeLessThan(at('M2').y)
  expect(at('M3').x).toBeGreaterThan(at('M2').x)
})

describe('blocks', () => {
  test('their insides are drawn as well, with their pins by name', () => {
    const text = `two
V1 in 0 AC 1
X1 in m low
X2 m out low
RL out 0 1k
.subckt low a b
R1 a x 1k
R2 x b 1k
C1 x 0 1n
.ends
.end
`
    const { circuit } = readNetlist(text)
    const after = expectFaithful(circuit)
    const { pins, ...inside } = after.subcircuits!.low
    expect(pins).toEqual(['a', 'b'])
    expect(netsOf(inside)).toEqual(netsOf(circuit.subcircuits!.low))
    expect(collisions(drawingOfAll(inside))).toEqual([])
    expect(
      inside.labels
        .filter((l) => l.shown !== false)
        .map((l) => l.name)
        .sort(),
    ).toEqual(['a', 'b'])
    // What lies already stays.
    expect(drawn(after).subcircuits).toEqual(after.subcircuits)
  })
})

describe('any circuit', () => {
  // Beside other tests on a slow machine they take their time.
  test(
    '500 random netlists: what is drawn is what was said, and nothing lies on anything',
    { timeout: 180_000 },
    () => {
      fc.assert(
        fc.property(randomCircuit, (circuit) => {
          expectFaithful(circuit)
        }),
        { numRuns: 500 },
      )
    },
  )
})
