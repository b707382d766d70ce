import { describe, expect, test } from 'vitest'
import { readNetlist } from '../netlist/readNetlist.js'
import { withDrawnCircuit } from './designEdits.js'
import { withCursorAt, withDriven } from './driven.js'
import { designOfCircuit } from './makeDesign.js'

const lowpass = {
  ...designOfCircuit(readNetlist('t\nV1 in 0 AC 2\nR1 in out 1k\nC1 out 0 100n\n').circuit),
  cursors: [{ name: 'a', over: 'frequency' as const, at: 1000 }],
}
const sourceOf = (design: typeof lowpass | ReturnType<typeof withDriven>) =>
  design.circuit.origin === 'drawn' ? design.circuit.circuit.parts.find((p) => p.id === 'V1')!.waveform : undefined
const timeOf = (design: ReturnType<typeof withDriven>) => design.diagrams!.find((d) => d.over === 'time')!

describe('a source that follows a cursor', () => {
  const driven = withDriven(lowpass, 'a', { source: 'v1', shape: 'sine' })

  test('is a sine of its frequency as high as its AC value, four periods of it beside the output', () => {
    expect(sourceOf(driven)).toMatchObject({ kind: 'sine', frequency: 1000, amplitude: 2, offset: 0 })
    expect(timeOf(driven)).toMatchObject({ x: [0, 4e-3], signals: ['v(out)', 'v(in)'] })
  })

  test('goes with the cursor, the window too; as a square wave after it has settled', () => {
    const moved = withCursorAt(driven, 'a', 500)
    expect(sourceOf(moved)).toMatchObject({ frequency: 500 })
    expect(timeOf(moved).x).toEqual([0, 8e-3])
    const settled = withCursorAt(withDriven(moved, 'a', { source: 'V1', shape: 'square', after: 5e-3 }), 'a', 1000)
    expect(sourceOf(settled)).toMatchObject({ kind: 'periodic', shape: 'square', frequency: 1000, amplitude: 2 })
    expect(timeOf(settled).x).toEqual([0, 4e-3])
    expect([moved.study?.start, settled.study?.start]).toEqual([undefined, 'settled'])
  })

  test('one cursor drives at a time; a source that went away stops nothing', () => {
    const two = { ...driven, cursors: [...driven.cursors!, { name: 'b', over: 'frequency' as const, at: 9 }] }
    const other = withDriven(two, 'b', { source: 'V1', shape: 'sine' })
    expect(other.cursors!.map((c) => c.drives?.source)).toEqual([undefined, 'V1'])
    const gone = withDrawnCircuit(driven, readNetlist('t\nR1 in 0 1k\n').circuit)
    expect(withCursorAt(gone, 'a', 3).cursors![0]!.at).toBe(3)
    expect(() => withDriven(gone, 'a', { source: 'V1', shape: 'sine' })).toThrow('There is no source "V1"')
  })
})
