import { expect, test } from 'vitest'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { formulate } from '../../analysis/mna.js'
import { polesAndZeros } from '../../analysis/poles.js'
import { wirePoints } from '../../circuit/drawing/geometry.js'
import { circuitEdit, type EditCall } from '../../circuit/edit/index.js'
import { NetMap } from '../../circuit/NetMap.js'
import { readNetlist } from '../netlist/readNetlist.js'
import type { Design } from './Design.js'
import { outputOf } from './diagrams.js'
import { withCircuitEdit, withLoopOpened, withSignalShown, withStudy } from './designEdits.js'
import { blankCircuit } from '../../circuit/edit/blankCircuit.js'
import { isLoopGain } from './lookedAt.js'
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

test('a loop opened behind its amplifier: its gain is A·R2/(R1 + R2), whatever the input was', () => {
  const done = (c: ReturnType<typeof circuitOf>, ...calls: EditCall[]) =>
    calls.reduce((now, call) => circuitEdit(call).apply(now), c)
  const at = (part: string, pin: string) => ({ part, pin })
  const resistor = (resistance: number) => ({ kind: 'resistor', values: { resistance } })
  const amplifier = done(
    blankCircuit(),
    {
      edit: 'grow-part',
      args: { from: { junction: 'J1' }, way: 'onwards', part: { kind: 'opamp', values: { gain: 1000 } } },
    },
    { edit: 'grow-part', args: { from: at('U1', 'out'), way: 'onwards', part: resistor(9e3) } },
    { edit: 'grow-part', args: { from: at('R1', 'b'), way: 'ground', part: resistor(1e3) } },
    { edit: 'draw-wire', args: { from: at('R1', 'b'), to: at('U1', 'minus') } },
  )
  const wire = amplifier.wires.find((w) => w.ends.some((e) => 'part' in e && e.part === 'U1' && e.pin === 'out'))!
  const [a, b] = wirePoints(amplifier, wire)!
  const opened = withLoopOpened(designOfCircuit(amplifier), wire.id, {
    x: Math.round((a.x + b.x) / 2),
    y: Math.round((a.y + b.y) / 2),
  })
  const { input, output } = opened.study!
  expect(isLoopGain(output!)).toBe(true)
  expect(isLoopGain('v(out)')).toBe(false)
  const [net] = /n\d+/.exec(output!)!
  const renamed = withCircuitEdit(opened, { edit: 'rename-net', args: { net, to: 'back' } })
  expect(outputOf(renamed)).toBe(output!.replace(net, 'back'))
  const ac = new AcAnalysis(formulate(circuitOf(opened)), { input: input!, output: output! })
  const { re, im } = ac.sweep(Float64Array.of(10))
  // Around the loop: A = 1000, a tenth of which comes back (negative feedback: any textbook).
  expect(re[0]).toBeCloseTo(100, 9)
  expect(im[0]).toBeCloseTo(0, 9)
  const { transfer } = polesAndZeros(formulate(circuitOf(opened)), { input: input!, output: output! })
  expect(transfer.poles).toEqual([])
  expect(transfer.gain).toBeCloseTo(100, 9)
})
