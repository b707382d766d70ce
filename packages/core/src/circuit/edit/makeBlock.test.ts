import { describe, expect, test } from 'vitest'
import { polesAndZeros } from '../../analysis/poles.js'
import { formulate } from '../../analysis/mna.js'
import { operatingPoint } from '../../analysis/operatingPoint.js'
import { smallSignal } from '../../analysis/smallSignal.js'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { writeNetlist } from '../../format/netlist/writeNetlist.js'
import { collisions } from '../../testing/collisions.js'
import { documentNets, drawnNets } from '../../testing/drawnNets.js'
import { usualCircuits } from '../../testing/usualCircuits.js'
import { insideOf, matchedPins, useOf, withInside } from '../blocks.js'
import { NetMap } from '../NetMap.js'
import type { Circuit } from '../circuit.js'
import { arranged } from '../drawing/arrange/index.js'
import { drawingOf } from '../drawing/index.js'
import { partTexts } from '../drawing/texts.js'
import { circuitEdit, type EditCall } from './index.js'

const drawn = (netlist: string): Circuit => {
  const { circuit } = readNetlist(netlist)
  return arranged(circuit, partTexts(circuit))
}
const done = (circuit: Circuit, call: unknown) => circuitEdit(call as EditCall).apply(circuit)
const section = drawn(usualCircuits.find((u) => u.name === 'two-pole section')!.netlist)
const PARTS = ['RA1', 'RB1', 'CA1', 'CB1', 'X1']
const made = done(section, { edit: 'make-block', args: { parts: PARTS, name: 'pole' } })
function polesOf(circuit: Circuit) {
  const mna = formulate(circuit)
  const { transfer } = polesAndZeros(smallSignal(mna, operatingPoint(mna, {})), { output: 'out', input: 'V1' })
  return transfer.poles.map((p) => [p.re, p.im])
}
const valueIn = (circuit: Circuit, part: string) => circuit.subcircuits!.pole.parts.find((p) => p.id === part)!.values

function expectWhole(circuit: Circuit): void {
  expect(drawnNets(circuit)).toEqual(documentNets(circuit))
  expect(collisions(drawingOf(circuit, partTexts(circuit)))).toEqual([])
}

describe('a selection becomes a block', () => {
  test('its pins are the nets that lead out, and the circuit does what it did', () => {
    expect(made.subcircuits!.pole.pins).toEqual(['in', 'out'])
    expect(
      made.parts
        .filter((p) => p.kind !== 'ground')
        .map((p) => p.id)
        .sort(),
    ).toEqual(['V1', 'X1'])
    expectWhole(made)
    expectWhole(insideOf(made, 'pole'))
    const [before, after] = [polesOf(section), polesOf(made)]
    before.flat().forEach((v, k) => expect(after.flat()[k] / v).toBeCloseTo(1, 9))
  })

  test('the parts lie inside as they lay', () => {
    const places = (circuit: { parts: Circuit['parts'] }) =>
      Object.fromEntries(circuit.parts.filter((p) => PARTS.includes(p.id)).map((p) => [p.id, p.at]))
    expect(places(made.subcircuits!.pole)).toEqual(places(section))
  })

  test('placed three times, edited in place: changed in all three', () => {
    let three = made
    for (const y of [20, 40]) {
      const part = useOf(three, 'pole')
      three = done(three, { edit: 'put-part', args: { part, at: { x: 0, y, rotation: 0 } } })
    }
    expect(three.parts.filter((p) => p.definition === 'pole')).toHaveLength(3)
    const inside = done(insideOf(three, 'pole'), {
      edit: 'set-value',
      args: { part: 'CA1', field: 'capacitance', value: 47e-9 },
    })
    const after = withInside(three, 'pole', inside)
    expect(valueIn(after, 'CA1')).toEqual({ capacitance: 47e-9 })
    expect(after.parts).toBe(three.parts)
    expect(after.subcircuits!.pole.pins).toEqual(['in', 'out'])
  })

  test('written as a netlist and read again it is the same', () => {
    const again = readNetlist(writeNetlist(made).text).circuit
    expect(again.subcircuits!.pole.pins).toEqual(['in', 'out'])
    expect(writeNetlist(again).text.split('\n').slice(1)).toEqual(writeNetlist(made).text.split('\n').slice(1))
  })

  test('every single part, and every pair of parts, of a stage with transistors', () => {
    const stage = drawn(usualCircuits.find((u) => u.name === 'common emitter')!.netlist)
    const ids = stage.parts.filter((p) => p.kind !== 'ground' && p.id !== 'V1').map((p) => p.id)
    const poles = polesOf(stage).flat()
    for (const [k, a] of ids.entries())
      for (const b of ids.slice(k)) {
        const block = done(stage, { edit: 'make-block', args: { parts: [...new Set([a, b])], name: 'some' } })
        expect(drawnNets(block)).toEqual(documentNets(block))
        const inside = insideOf(block, 'some')
        expect(drawnNets(inside)).toEqual(documentNets(inside))
        polesOf(block)
          .flat()
          .forEach((v, n) => expect(v).toBeCloseTo(poles[n], 6 - Math.log10(Math.abs(poles[n]) + 1)))
      }
  })
})

describe('parameters of what becomes a block', () => {
  const { circuit } = readNetlist(
    'x\n.param f=50 c=100n r={1/(2*pi*f*c)} s=75\nV1 in 0 AC 1\nRS in a {s}\nR1 a out {r}\nC1 out 0 {c}\nRL out 0 {10*s}\n.end\n',
  )
  const drawnOnce = arranged(circuit, partTexts(circuit))
  const block = done(drawnOnce, { edit: 'make-block', args: { parts: ['R1', 'C1', 'RL'], name: 'low' } })

  test('that only it uses are its own, through others too; those used outside stay', () => {
    expect(Object.keys(block.subcircuits!.low.parameters!).sort()).toEqual(['c', 'f', 'r'])
    expect(block.parameters).toEqual({ s: 75 })
    const [before, after] = [polesOf(drawnOnce), polesOf(block)]
    expect(after.flat()[0] / before.flat()[0]).toBeCloseTo(1, 9)
  })

  test('so that each place may have its own', () => {
    const other = done(block, {
      edit: 'set-block-parameter',
      args: { part: block.parts.find((p) => p.definition)!.id, parameter: 'c', value: 1e-6 },
    })
    const valueOf = (of: Circuit) =>
      formulate(of).circuit.elements.find((e) => e.name.endsWith('.C1'))!.values.capacitance
    expect([valueOf(block), valueOf(other)]).toEqual([100e-9, 1e-6])
  })
})

describe('a block in the place of a part', () => {
  const { circuit } = readNetlist(
    'x\nV1 in 0 AC 1\nX1 in out out ideal\nRL out 0 1k\n.subckt ideal plus minus out\nE1 out 0 plus minus 1e8\n.ends\n' +
      '.subckt maker inn inp vdd o\nR1 inp inn 1Meg\nE1 o 0 inp inn 1e4\nR2 vdd 0 1k\n.ends\n.end\n',
  )
  const lying = arranged(circuit, partTexts(circuit))
  const by = useOf(lying, 'maker')

  test('its pins are matched by what they are called', () => {
    expect(matchedPins(['plus', 'minus', 'out'], by.pins!)).toEqual({ plus: 'p2', minus: 'p1', out: 'p4' })
    const after = done(lying, { edit: 'replace-part', args: { part: 'X1', by } })
    const use = after.parts.find((p) => p.definition === 'maker')!
    const nets = new NetMap(after)
    expect(['p1', 'p2', 'p3', 'p4'].map((pin) => nets.netOf(use.id, pin))).toEqual(['out', 'in', null, 'out'])
    expect(drawnNets(after)).toEqual(documentNets(after))
  })

  test('or as is said', () => {
    const over = { plus: 'p1', minus: 'p2', out: 'p4' }
    const after = done(lying, { edit: 'replace-part', args: { part: 'X1', by, over } })
    const use = after.parts.find((p) => p.definition === 'maker')!
    expect(['p1', 'p2'].map((pin) => new NetMap(after).netOf(use.id, pin))).toEqual(['in', 'out'])
  })
})

describe('what is no block', () => {
  test('one that contains itself is refused, be it through another', () => {
    const within = (circuit: Circuit, block: string, used: string) => {
      const inside = done(insideOf(circuit, block), {
        edit: 'put-part',
        args: { part: useOf(circuit, used), at: { x: 0, y: 30, rotation: 0 } },
      })
      return withInside(circuit, block, inside)
    }
    expect(() => within(made, 'pole', 'pole')).toThrow(/would contain itself/)
    const outer = done(made, { edit: 'make-block', args: { parts: ['V1'], name: 'drive' } })
    const nested = within(outer, 'drive', 'pole')
    expect(() => within(nested, 'pole', 'drive')).toThrow(/would contain itself, inside "drive"/)
  })

  test.each([
    ['a name that is taken', { parts: ['V1'], name: 'Pole' }, /already/],
    ['a name with blanks', { parts: ['V1'], name: 'two words' }, /cannot be the name/],
    ['a part that is not there', { parts: ['R99'], name: 'x' }, /no part "R99"/],
    ['ground alone', { parts: ['GND1'], name: 'x' }, /Ground alone/],
  ])('%s', (_, args, message) => {
    expect(() => done(made, { edit: 'make-block', args })).toThrow(message)
  })
})

describe('parameters at each place', () => {
  const text = `two
V1 in 0 AC 1
X1 in m low r=2k
X2 m out low params: r={3*k}
.param k=1000
.subckt low a b params: r=1k c=1n
R1 a b {r}
C1 b 0 {c}
.ends
.end
`
  const { circuit } = readNetlist(text)

  test('given by a use they rule over the block’s own; expressions are worked out where the use stands', () => {
    const flat = formulate(circuit)
    const valueOf = (name: string) => flat.circuit.elements.find((e) => e.name === name)!.values.resistance
    expect([valueOf('X1.R1'), valueOf('X2.R1')]).toEqual([2000, 3000])
    const changed = done(arranged(circuit, partTexts(circuit)), {
      edit: 'set-block-parameter',
      args: { part: 'X1', parameter: 'r', value: null },
    })
    expect(formulate(changed).circuit.elements.find((e) => e.name === 'X1.R1')!.values.resistance).toBe(1000)
  })

  test('survive the way through a netlist; one that the block does not have is refused', () => {
    const again = readNetlist(writeNetlist(circuit).text).circuit
    expect(again.parts.find((p) => p.id === 'X1')!.values).toEqual({ r: 2000 })
    expect(again.parts.find((p) => p.id === 'X2')!.formulas).toEqual({ r: '3*k' })
    expect(() => formulate(readNetlist(text.replace('r=2k', 'q=2k')).circuit)).toThrow(/no parameter "q"/)
    const call = { edit: 'set-block-parameter', args: { part: 'X1', parameter: 'q', value: 1 } }
    expect(() => done(circuit, call)).toThrow(/no parameter "q"/)
  })
})
