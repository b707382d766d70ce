import { around, type Circuit, circuitEdit, parseSpec, realize, topologies, VoskelError } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { sceneOf, valuesIn } from './scene'

const drawn = (family: string, response = 'lowpass') =>
  realize(
    parseSpec({
      response,
      approximation: 'butterworth',
      order: 3,
      passband: { edges: [1000] },
      realization: { family },
    }),
  ).circuit
const ladder = drawn('lc-ladder')
const labelOf = (circuit: Circuit, id: string) => sceneOf(circuit).labels.find((l) => l.id === id)!

describe('the scene of a circuit', () => {
  test('has something for all that has a place, in every family', () => {
    for (const { id } of topologies) {
      let circuit: Circuit
      try {
        circuit = drawn(id, ['lattice', 'bridged-t'].includes(id) ? 'allpass' : 'lowpass')
      } catch (error) {
        // Families that make no low-pass are not asked for one here.
        expect(error).toBeInstanceOf(VoskelError)
        continue
      }
      const { symbols, wires, names, labels, bounds } = sceneOf(circuit)
      expect(symbols).toHaveLength(circuit.parts.length)
      expect(wires).toHaveLength(circuit.wires.length)
      expect(names).toHaveLength(circuit.labels.length)
      expect(labels).toHaveLength(circuit.parts.filter((p) => p.kind !== 'ground').length)
      for (const { box } of [...symbols, ...labels, ...names]) expect(around(bounds!, box)).toEqual(bounds)
    }
  })

  test('keeps apart a part, a junction and a net that have one name', () => {
    const [part, junction, label] = [ladder.parts[0]!, ladder.junctions[0]!, ladder.labels[0]!]
    const named = JSON.parse(
      JSON.stringify(ladder)
        .replaceAll(`"junction":"${junction.id}"`, `"junction":"${part.id}"`)
        .replaceAll(`"id":"${junction.id}"`, `"id":"${part.id}"`)
        .replaceAll(`"id":"${label.id}"`, `"id":"${part.id}"`),
    ) as Circuit
    const [before, after] = [sceneOf(ladder), sceneOf(named)]
    expect(after.wires.map((w) => w.d)).toEqual(before.wires.map((w) => w.d))
    expect(after.dots).toEqual(before.dots)
  })

  test('a dot stands where three ends meet, and an end that leads nowhere is marked', () => {
    const { dots, openEnds } = sceneOf(ladder)
    const { length } = ladder.junctions.filter(
      (j) => ladder.wires.flatMap((w) => w.ends).filter((e) => 'junction' in e && e.junction === j.id).length > 2,
    )
    expect(dots).toHaveLength(length)
    expect(openEnds).toEqual([])
    const grown = circuitEdit({
      edit: 'put-part',
      args: { part: { kind: 'resistor', values: {} }, at: { x: 60, y: 40, rotation: 0 } },
    }).apply(ladder)
    expect(sceneOf(grown).openEnds).toEqual([
      { x: 58, y: 40 },
      { x: 62, y: 40 },
    ])
  })

  test('a chain too long for the sheet lies in rows, with a name where a row ends and where it goes on', () => {
    const chain = realize(
      parseSpec({
        response: 'lowpass',
        approximation: 'butterworth',
        order: 10,
        passband: { edges: [1000] },
        realization: { family: 'sallen-key' },
      }),
    ).circuit
    const scene = sceneOf(chain, { width: 60, height: 60 })
    expect(scene.drawing.rows).toBeGreaterThan(1)
    expect(scene.names.filter((n) => n.row === 'ends')).toHaveLength(scene.drawing.rows - 1)
    for (const part of chain.parts) {
      const there = scene.drawing.fold(part.at!)
      const { x, y } = scene.drawing.unfold(there)
      expect([x, y]).toEqual([part.at!.x, part.at!.y])
    }
  })

  test('values are given as they count, whatever says so; a formula that cannot be worked out stands as it is', () => {
    const set = (call: Parameters<typeof circuitEdit>[0], on = ladder) => circuitEdit(call).apply(on)
    const formula = set({ edit: 'set-formula', args: { part: 'C1', field: 'capacitance', formula: '2*tau' } })
    expect(valuesIn(formula)(formula.parts.find((p) => p.id === 'C1')!)).toBeNull()
    expect(labelOf(formula, 'C1').value).toBe('2*tau')
    const known = set({ edit: 'set-parameter', args: { name: 'tau', value: 1e-9 } }, formula)
    expect(labelOf(known, 'C1').value).toBe('2.000\u00a0nF')
  })
})
