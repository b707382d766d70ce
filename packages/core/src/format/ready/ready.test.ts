import { describe, expect, test } from 'vitest'
import { arranged } from '../../circuit/drawing/arrange/index.js'
import { drawingOf } from '../../circuit/drawing/index.js'
import { partTexts } from '../../circuit/drawing/texts.js'
import type { End } from '../../circuit/circuit.js'
import { circuitEdit, type EditCall } from '../../circuit/edit/index.js'
import { formulate, operatingPoint, polesAndZeros, recognise, smallSignal, writeNetlist } from '../../index.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { collisions } from '../../testing/collisions.js'
import { documentNets, drawnNets } from '../../testing/drawnNets.js'
import { readNetlist } from '../netlist/readNetlist.js'
import { readyCircuits } from './index.js'
import { readyBlock } from './readyBlock.js'

const circuitOf = (id: string) => readNetlist(readyCircuits.find((r) => r.id === id)!.netlist).circuit

describe('circuits to begin from', () => {
  test.each(readyCircuits.map((r) => [r.name, r] as const))(
    '%s: read, drawn and written again as it is',
    (_, ready) => {
      const { circuit, warnings } = readNetlist(ready.netlist)
      expect(warnings).toEqual([])
      const drawn = arranged(circuit, partTexts(circuit))
      expect(drawnNets(drawn)).toEqual(documentNets(drawn))
      expect(collisions(drawingOf(drawn, partTexts(drawn)))).toEqual([])
      const lines = (of: typeof circuit) => writeNetlist(of).text.split('\n').sort()
      expect(lines(drawn)).toEqual(lines(circuit))
      const { x } = operatingPoint(formulate(drawn), {})
      for (const volts of x) expect(Number.isFinite(volts)).toBe(true)
    },
  )

  test('each has its own name, and says what it is for and what to look at', () => {
    expect(new Set(readyCircuits.map((r) => r.id)).size).toBe(readyCircuits.length)
    for (const { purpose, look } of readyCircuits) expect([purpose.length > 10, look.length > 10]).toEqual([true, true])
  })
})

describe('ready blocks', () => {
  test.each(readyCircuits.map((r) => [r.name, r] as const))('%s: one use, with pins to join', (_, ready) => {
    const { parts, subcircuits } = readyBlock(ready)
    expect(parts).toHaveLength(1)
    const { pins, ...inside } = subcircuits![ready.id]
    expect(pins).toContain('out')
    expect(parts[0].pins).toEqual(pins)
    expect(drawnNets(inside)).toEqual(documentNets(inside))
    expect(inside.parts.some((p) => p.kind === 'voltage-source')).toBe(false)
  })

  test('put into a circuit it does there what it is for', () => {
    const sheet = arranged(readNetlist('x\nV1 in 0 AC 1\n.end\n').circuit, () => null)
    const piece = readyBlock(readyCircuits.find((r) => r.id === 'twin-t')!)
    const put = circuitEdit({ edit: 'paste-things', args: { piece } } as EditCall).apply(sheet)
    const use = put.parts.find((p) => p.definition === 'twin-t')!
    const pinOf = (name: string) => ({ part: use.id, pin: `p${use.pins!.indexOf(name) + 1}` })
    const joined = {
      ...put,
      wires: [...put.wires, { id: 'W99', ends: [{ part: 'V1', pin: 'plus' }, pinOf('in')] as [End, End] }],
      labels: [...put.labels, { id: 'N99', name: 'out', end: pinOf('out') }],
    }
    const { transfer } = polesAndZeros(formulate(joined), { output: 'out', input: 'V1' })
    const { re, im } = evaluate(transfer, { re: 0, im: 2 * Math.PI * 50 })
    expect(Math.hypot(re, im)).toBeLessThan(1e-9)
  })
})

/** |H| at a frequency, Hz, of the small signals. */
function gainAt(id: string, f: number): number {
  const mna = formulate(circuitOf(id))
  const { transfer } = polesAndZeros(smallSignal(mna, operatingPoint(mna, {})), { output: 'out', input: 'V1' })
  const { re, im } = evaluate(transfer, { re: 0, im: 2 * Math.PI * f })
  return Math.hypot(re, im)
}

/** By hand, after textbook formulas (common practice, no source). */
describe('what is said to be looked at is there', () => {
  test('corners of the first-order sections: 1/(2πRC)', () => {
    expect(gainAt('rc-lowpass', 1 / (2 * Math.PI * 10e3 * 10e-9))).toBeCloseTo(Math.SQRT1_2, 9)
    expect(gainAt('rc-highpass', 1 / (2 * Math.PI * 10e3 * 1e-6))).toBeCloseTo(Math.SQRT1_2, 9)
  })

  test('resonator: RL/(RS + RL) at 1/(2π√(LC)), Q = √(L/C)/(RS + RL)', () => {
    const f0 = 1 / (2 * Math.PI * Math.sqrt(1e-3 * 10e-9))
    expect(gainAt('series-resonator', f0)).toBeCloseTo(0.6, 9)
    const { q } = recognise(polesAndZeros(formulate(circuitOf('series-resonator')), { output: 'out' }).transfer)
    expect(q).toBeCloseTo(Math.sqrt(1e-3 / 10e-9) / 50, 9)
  })

  test('bridged T: at 1/(2πC√(R1·R2)) the dip is 1/(1 + R1/(2·R2)) of the pass, unloaded', () => {
    const f0 = 1 / (2 * Math.PI * 10e-9 * Math.sqrt(100e3 * 1e3))
    // The load of 1 MΩ takes a little.
    expect(gainAt('bridged-t', f0) * (1 + 100 / 2)).toBeCloseTo(1, 1)
  })

  test('twin T: nothing at 50 Hz', () => {
    expect(gainAt('twin-t', 50)).toBeLessThan(1e-9)
  })

  test('divider: R2/(R1 + R2) at low frequencies', () => {
    expect(gainAt('divider-with-interference', 1)).toBeCloseTo(0.5, 6)
  })

  test('integrator: R2/R1 at rest, 1/(2πf·R1·C1) above its corner', () => {
    expect(gainAt('practical-integrator', 1e-3)).toBeCloseTo(100, 3)
    expect(gainAt('practical-integrator', 1e3)).toBeCloseTo(1 / (2 * Math.PI * 1e3 * 100e3 * 10e-9), 5)
  })

  test('difference amplifier: R2/R1 for the difference, nothing for what is common', () => {
    expect(gainAt('difference-amplifier', 10)).toBeCloseTo(10, 5)
    const mna = formulate(circuitOf('difference-amplifier'))
    expect(() => polesAndZeros(mna, { output: 'out', input: 'V2' })).toThrow(/does not depend on the input/)
  })

  test('two-stage amplifier: a follower with its output at its input', () => {
    expect(gainAt('two-stage-amplifier', 100)).toBeCloseTo(1, 2)
  })

  test('tone control: flat at half by symmetry; bass lifts by (10k + 100k)/10k', () => {
    for (const f of [1, 30, 1e3, 15e3, 100e3]) expect(gainAt('tone-control', f)).toBeCloseTo(1, 5)
    const lifted = { ...circuitOf('tone-control'), parameters: { bass: 1, treble: 0.5 } }
    const { transfer } = polesAndZeros(formulate(lifted), { output: 'out', input: 'V1' })
    const { re, im } = evaluate(transfer, { re: 0, im: 2 * Math.PI * 1e-3 })
    // Each half of a turned resistance keeps 1 Ω.
    expect(Math.hypot(re, im)).toBeCloseTo(110001 / 10001, 3)
  })
})
