import { expect, test } from 'vitest'
import { circuitEdit } from '../../circuit/edit/index.js'
import { NetMap } from '../../circuit/NetMap.js'
import { readNetlist } from '../netlist/readNetlist.js'
import type { Design } from './Design.js'
import { outputOf } from './diagrams.js'
import { withCircuitEdit, withSignalShown, withStudy } from './designEdits.js'
import { blankCircuit } from '../../circuit/edit/blankCircuit.js'
import { designOfCircuit } from './makeDesign.js'

const grow = (from: string, way: 'onwards' | 'ground', resistance: number) =>
  ({
    edit: 'grow-part',
    args: {
      from: from === 'in' ? { junction: 'J1' } : { part: from, pin: 'b' },
      way,
      part: { kind: 'resistor', values: { resistance } },
    },
  }) as const
/** V1 through R1, R2, R3 to ground; the net after R1 has a number only. */
const divider = designOfCircuit(
  [grow('in', 'onwards', 1e3), grow('R1', 'onwards', 2e3), grow('R2', 'ground', 3e3)].reduce(
    (c, call) => circuitEdit(call).apply(c),
    blankCircuit(),
  ),
)
const circuitOf = ({ circuit }: Design) => (circuit.origin === 'drawn' ? circuit.circuit : circuit.witness!)
const netAfter = (design: Design, part: string) => NetMap.of(circuitOf(design)).netOf(part, 'b')

test('a net that is looked at by its number gets it as its name, so that it stays the same net', () => {
  const number = netAfter(divider, 'R1')!
  expect(number).toMatch(/^n\d+$/)
  const looked = withStudy(divider, { output: `v(${number})` })
  // Something that comes before it would have taken its number.
  const more = withCircuitEdit(withCircuitEdit(looked, grow('in', 'ground', 50)), {
    edit: 'put-part',
    args: { part: { kind: 'capacitor', values: {} }, at: { x: -30, y: 0, rotation: 0 } },
  })
  const wired = withCircuitEdit(more, {
    edit: 'draw-wire',
    args: { from: { part: 'C1', pin: 'a' }, to: { at: { x: -40, y: 0 } } },
  })
  expect(outputOf(wired)).toBe(`v(${number})`)
  expect(netAfter(wired, 'R1')).toBe(number)
  const shown = withSignalShown(divider, `v(${number},out)`, true)
  expect(circuitOf(shown).labels.map((l) => l.name)).toContain(number)
  expect(withSignalShown(shown, `v(${number},out)`, false).diagrams).toEqual(
    shown.diagrams!.map((d) => ({ ...d, signals: ['v(out)'] })),
  )
})

test('what is looked at follows a renamed net and a renamed part', () => {
  const looked = withSignalShown(withStudy(divider, { output: 'v(out,in)/i(R1)', input: 'V1' }), 'z(V1)', true)
  const net = withCircuitEdit(looked, { edit: 'rename-net', args: { net: 'out', to: 'mid, left' } })
  expect(outputOf(net)).toBe('v("mid, left",in)/i(R1)')
  const part = withCircuitEdit(net, { edit: 'rename-part', args: { part: 'V1', to: 'VS' } })
  expect(part.study).toMatchObject({ input: 'VS' })
  expect(part.diagrams!.every((d) => d.signals.includes('z(VS)'))).toBe(true)
  const resistor = withCircuitEdit(part, { edit: 'rename-part', args: { part: 'R1', to: 'RA' } })
  expect(outputOf(resistor)).toBe('v("mid, left",in)/i(RA)')
})

test('a netlist without a drawing, a signal that cannot be read and ground are left as they are', () => {
  const netlist = designOfCircuit(readNetlist('two\nV1 a 0 1\nR1 a b 1k\nR2 b 0 1k\n.end\n').circuit)
  expect(withStudy(netlist, { output: 'v(b)' }).circuit).toEqual(netlist.circuit)
  expect(withStudy(divider, { output: 'v(' }).circuit).toEqual(divider.circuit)
  expect(withStudy(divider, { output: 'v(out,0)' }).circuit).toEqual(divider.circuit)
})
