import { describe, expect, test } from 'vitest'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { writeNetlist } from '../../format/netlist/writeNetlist.js'
import { circuitOf } from '../../testing/specified.js'
import { documentNets, drawnNets } from '../../testing/drawnNets.js'
import type { Circuit } from '../circuit.js'
import { circuitEdit, type EditCall } from './index.js'

const section = circuitOf({
  response: 'lowpass',
  approximation: 'butterworth',
  order: 4,
  passband: { edges: [1000] },
  realization: { family: 'sallen-key' },
})!

const textOf = (circuit: Circuit) => writeNetlist(circuit).text
const placesOf = (circuit: Pick<Circuit, 'parts'>) => Object.fromEntries(circuit.parts.map((p) => [p.id, p.at]))

/** The circuit after its netlist was changed and applied. */
function edited(circuit: Circuit, change: (text: string) => string): Circuit {
  const text = textOf(circuit)
  const [from, to] = [text, change(text)].map((t) => readNetlist(t).circuit)
  const after = circuitEdit({ edit: 'take-circuit', args: { from, to } } as EditCall).apply(circuit)
  expect(drawnNets(after)).toEqual(documentNets(after))
  // What was typed is what is there.
  expect(textOf(after).split('\n').slice(1).sort()).toEqual(textOf(to).split('\n').slice(1).sort())
  return after
}

describe('a netlist is changed and applied back', () => {
  test('nothing changed: nothing changes', () => {
    expect(edited(section, (t) => t)).toEqual(section)
  })

  test('a value: places, wires and names stay', () => {
    const after = edited(section, (t) => t.replace(/^(R1 .*) \S+$/m, '$1 12345'))
    expect(after.parts.find((p) => p.id === 'R1')!.values.resistance).toBe(12345)
    expect(placesOf(after)).toEqual(placesOf(section))
    expect(after.wires).toEqual(section.wires)
    expect(after.labels).toEqual(section.labels)
  })

  test('a part more: the others stay where they are', () => {
    const after = edited(section, (t) => t.replace(/^\.end$/m, 'RX out 0 10000\n.end'))
    const { RX, ...others } = placesOf(after)
    expect(RX).toBeDefined()
    expect(others).toMatchObject(placesOf(section))
  })

  test('a part less, and one joined elsewhere, at the same place', () => {
    const after = edited(section, (t) => t.replace(/^C2 .*\n/m, '').replace(/^(C4 \S+) 0 /m, '$1 in '))
    expect(after.parts.some((p) => p.id === 'C2')).toBe(false)
    expect(placesOf(after).C4).toEqual(placesOf(section).C4)
  })

  test('parameters come and go with what they rule', () => {
    const after = edited(section, (t) => t.replace(/^(R1 .*) \S+$/m, '$1 {2*r}').replace(/^V1/m, '.param r=5000\nV1'))
    expect(after.parameters).toEqual({ r: 5000 })
    expect(after.parts.find((p) => p.id === 'R1')!.formulas).toEqual({ resistance: '2*r' })
    const back = edited(after, (t) => t.replace('{2*r}', '10000').replace(/^\.param.*\n/m, ''))
    expect(back.parts.find((p) => p.id === 'R1')!.formulas).toBeUndefined()
  })

  test('of two blocks and two models the one that was changed: the other, and places inside, stay', () => {
    const stage = (name: string) => ({
      edit: 'make-block' as const,
      args: { parts: name === 'first' ? ['R1', 'C1', 'R2', 'C2', 'U1'] : ['R3', 'C3', 'R4', 'C4', 'U2'], name },
    })
    const blocks = ['first', 'second'].reduce((c, name) => circuitEdit(stage(name) as EditCall).apply(c), section)
    const models = {
      d: { kind: 'diode', values: { is: 1e-14 }, leftOut: ['ikf'] },
      e: { kind: 'diode', values: { is: 1e-12 } },
    }
    const all: Circuit = { ...blocks, models: { ...blocks.models, ...models } }
    const after = edited(all, (t) => t.replace(/^(R1 .*) \S+$/m, '$1 12345').replace('1e-12', '2e-12'))
    const [first, second] = [after.subcircuits!.first, after.subcircuits!.second]
    expect(first.parts.find((p) => p.id === 'R1')!.values.resistance).toBe(12345)
    expect(placesOf(first)).toEqual(placesOf(all.subcircuits!.first))
    expect(first.wires).toEqual(all.subcircuits!.first.wires)
    expect(second).toEqual(all.subcircuits!.second)
    expect(after.models).toMatchObject({ d: models.d, e: { kind: 'diode', values: { is: 2e-12 } } })
  })

  test('one of the elements of a part that is written as several is refused by name', () => {
    const pot: Circuit = {
      parts: [
        {
          id: 'P1',
          kind: 'potentiometer',
          values: { resistance: 1e4, position: 0.5 },
          at: { x: 0, y: 0, rotation: 0 },
        },
      ],
      wires: [],
      junctions: [],
      labels: ['a', 'wiper', 'b'].map((pin, k) => ({ id: `N${k}`, name: `n${pin}`, end: { part: 'P1', pin } })),
    }
    expect(() => edited(pot, (t) => t.replace(/^RP1a .*\n/m, ''))).toThrow(/one of several elements/)
  })
})
