import { describe, expect, test } from 'vitest'
import { readNetlist } from '../netlist/readNetlist.js'
import { withCircuitEdit, withSignalShown, withStudy } from './designEdits.js'
import { type Diagram, DiagramSchema, drawnRange, drawnSignals, FREQUENCY_VIEWS, TIME_VIEWS } from './diagrams.js'
import { deviationOf } from './expected.js'
import { designOfCircuit } from './makeDesign.js'
import { readDesign } from './readDesign.js'

const two: Diagram = {
  over: 'frequency',
  view: 'value',
  signals: ['i(R1)', 'v(out)'],
  right: { view: 'phase', signals: ['z(out)', 'db(v(out)/v(in))'], wrapped: true },
}
const design = {
  ...designOfCircuit(readNetlist('t\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 1u\n').circuit),
  diagrams: [two],
  cursors: [{ name: 'a', over: 'frequency' as const, at: 100, on: 'i(R1)' }],
  expected: [{ id: 'gain', of: { signal: 'v(out)', frequency: 100, as: 'db' as const }, value: -1, tolerance: 5 }],
}

describe('a diagram', () => {
  test.each([
    ...FREQUENCY_VIEWS.map((view) => ['frequency', view] as const),
    ...TIME_VIEWS.map((view) => ['time', view] as const),
  ])('over %s: %s', (over, view) => {
    expect(DiagramSchema.parse({ over, view })).toMatchObject({ view, signals: ['v(out)'] })
  })

  test.each([
    [{ over: 'time', view: 'db' }, 'Over time the view is one of value, spectrum, against'],
    [{ over: 'frequency', view: 'spectrum' }, 'Over frequency the view is one of db'],
    [{ over: 'time', view: 'value', right: { view: 'nyquist', signals: ['v(a)'] } }, 'Over time the view is one of'],
    [{ over: 'frequency', view: 'db', x: [0, 10] }, 'A range of frequencies begins above 0 Hz'],
    [{ over: 'frequency', view: 'db', x: [10, 10] }, 'A range ends above its begin'],
    [{ over: 'time', view: 'value', x: [-1, 1] }, 'A time is 0 s or later'],
    [{ over: 'frequency', view: 'db', y: [3, 'x'] }, 'The ends of an axis are numbers'],
    [{ over: 'frequency', view: 'db', signals: Array.from({ length: 21 }, (_, k) => `v(n${k})`) }, 'at most 20 curves'],
  ])('%j is refused: %s', (diagram, problem) => {
    const { error } = DiagramSchema.safeParse(diagram)
    expect(error?.issues.map((i) => i.message).join(' ')).toContain(problem)
  })

  test('what it draws, and what is to be seen where all of a side say it', () => {
    expect(drawnSignals([two], 'frequency')).toEqual(['i(R1)', 'v(out)', 'z(out)', 'db(v(out)/v(in))'])
    expect(drawnRange([two], 'frequency')).toBeNull()
    const ranged = [
      { ...two, x: [10, 100] as [number, number] },
      { ...two, x: [50, 500] as [number, number] },
    ]
    expect(drawnRange(ranged, 'frequency')).toEqual({ from: 10, to: 500 })
    expect(drawnRange([...ranged, two], 'frequency')).toBeNull()
  })
})

describe('what is looked at follows', () => {
  test('a renamed net and a renamed part, on both axes, at cursors, in what was found by hand', () => {
    const net = withCircuitEdit(design, { edit: 'rename-net', args: { net: 'out', to: 'end' } })
    expect(net.diagrams![0]).toMatchObject({
      signals: ['i(R1)', 'v(end)'],
      right: { signals: ['z(end)', 'db(v(end)/v(in))'] },
    })
    expect(net.expected![0]!.of).toMatchObject({ signal: 'v(end)' })
    const part = withCircuitEdit(design, { edit: 'rename-part', args: { part: 'R1', to: 'RS' } })
    expect([part.diagrams![0]!.signals[0], part.cursors![0]!.on]).toEqual(['i(RS)', 'i(RS)'])
  })

  test('another output takes the place of the one before; what is pointed at is drawn at the left', () => {
    const other = withStudy(design, { output: 'v(in)' })
    expect(other.diagrams![0]!.signals).toEqual(['i(R1)', 'v(in)'])
    const shown = withSignalShown(design, 'p(R1)', true)
    expect(shown.diagrams![0]).toMatchObject({ signals: ['i(R1)', 'v(out)', 'p(R1)'], right: two.right })
    // The last curve at the right takes its axis along.
    const one = { ...design, diagrams: [{ ...two, right: { ...two.right!, signals: ['z(out)'] } }] }
    expect(withSignalShown(one, 'z(out)', false).diagrams![0]!.right).toBeUndefined()
  })

  test('all of it is read back from a file; a signal that does not read is told at its place', () => {
    expect(readDesign(JSON.parse(JSON.stringify(design)))).toEqual(design)
    const wrong = { ...design, diagrams: [{ ...two, right: { ...two.right, signals: ['db(v(out)'] } }] }
    expect(() => readDesign(JSON.parse(JSON.stringify(wrong)))).toThrow(
      expect.objectContaining({ place: expect.objectContaining({ path: 'diagrams.0.right.signals.0' }) }),
    )
  })
})

test('how far something is from what was found by hand', () => {
  expect(deviationOf({ value: 1600, tolerance: 1 }, 1591.55)).toEqual({
    percent: expect.closeTo(-0.528, 3),
    isWithin: true,
  })
  expect(deviationOf({ value: -3, tolerance: 0 }, -3.01)).toMatchObject({
    percent: expect.closeTo(-0.333, 3),
    isWithin: false,
  })
  expect(deviationOf({ value: 0, tolerance: 1 }, 0.5)).toEqual({ percent: 0.5, isWithin: true })
})
