import { describe, expect, test } from 'vitest'
import { readNetlist } from '../netlist/readNetlist.js'
import { type Compared, MOST_COMPARED, withCompared, withoutCompared } from './compared.js'
import { withCircuitEdit } from './designEdits.js'
import type { Diagram } from './diagrams.js'
import { FIGURE_SIZE, MOST_FIGURES, withFigureFramed, withNewFigure, withoutFigure } from './figures.js'
import type { VoskelError } from '../../errors/VoskelError.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { designOfCircuit, designOfSpec } from './makeDesign.js'
import { readDesign } from './readDesign.js'

const design = designOfCircuit(readNetlist('t\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 1u\n').circuit)
const read = (value: unknown) => readDesign(JSON.parse(JSON.stringify(value)))
const refusedAt = (path: string) => expect.objectContaining({ place: expect.objectContaining({ path }) })

describe('what stands beside the curves', () => {
  const bench: Compared = { id: 'k-1', kind: 'data', name: 'bench' }
  const before: Compared = { id: 'k-2', kind: 'run', name: 'before', note: 'C1 was 1 µF' }

  test('comes last, keeps its place when more is said of it, and leaves nothing behind when it goes', () => {
    const both = withCompared(withCompared(design, bench), before)
    expect(both.compared).toEqual([bench, before])
    expect(withCompared(both, { ...bench, hidden: true }).compared).toEqual([{ ...bench, hidden: true }, before])
    expect(withoutCompared(both, 'k-1').compared).toEqual([before])
    expect(withoutCompared(withoutCompared(both, 'k-1'), 'k-2')).toEqual(design)
    expect(withoutCompared(design, 'k-9')).toEqual(design)
    expect(read(both)).toEqual(both)
  })

  test.each([
    ['a path for a name', [{ ...bench, id: '../x' }], 'compared.0.id'],
    ['no name', [{ ...bench, name: '  ' }], 'compared.0.name'],
    ['a kind that is not known', [bench, { ...before, kind: 'guess' }], 'compared.1.kind'],
    ['too many', Array.from({ length: MOST_COMPARED + 1 }, (_, k) => ({ ...bench, id: `k-${k}` })), 'compared'],
  ])('%s is refused at its place', (_, compared, path) => {
    expect(() => read({ ...design, compared })).toThrow(refusedAt(path))
  })
})

describe('diagrams on the drawing', () => {
  const diagram: Diagram = {
    over: 'frequency',
    view: 'db',
    signals: ['v(out)'],
    right: { view: 'phase', signals: ['v(out)/v(in)'] },
  }
  const one = withNewFigure(design, diagram, { x: 3, y: -4 })

  test('get a name of their own, also where one was taken away before', () => {
    expect(one.figures).toEqual([{ id: 'diagram 1', diagram, at: { x: 3, y: -4 }, ...FIGURE_SIZE }])
    const three = [1, 2].reduce((d) => withNewFigure(d, diagram, { x: 0, y: 0 }), one)
    const more = withNewFigure(withoutFigure(three, 'diagram 1'), diagram, { x: 9, y: 9 })
    const names = more.figures!.map((f) => f.id)
    expect(new Set(names).size).toBe(3)
    expect(names.slice(0, 2)).toEqual(['diagram 2', 'diagram 3'])
  })

  test('are moved and sized alone, no smaller than can be seen, and the last one takes the list along', () => {
    const two = withNewFigure(one, diagram, { x: 0, y: 0 })
    const [first, second] = two.figures!
    const frame = { at: { x: 7, y: 7 }, width: 60, height: 30 }
    expect(withFigureFramed(two, 'diagram 2', frame).figures).toEqual([first, { ...second, ...frame }])
    const tiny = withFigureFramed(two, 'diagram 2', { ...frame, width: -3, height: 1e9 })
    expect(read(tiny)).toEqual(tiny)
    expect(withoutFigure(one, 'diagram 1')).toEqual(design)
  })

  test('follow a renamed net on both axes, and are read back', () => {
    const renamed = withCircuitEdit(one, { edit: 'rename-net', args: { net: 'out', to: 'end' } })
    expect(renamed.figures![0]!.diagram).toMatchObject({ signals: ['v(end)'], right: { signals: ['v(end)/v(in)'] } })
    expect(read(renamed)).toEqual(renamed)
  })

  test.each([
    ['a signal that does not read', { diagram: { ...diagram, signals: ['v(out)', 'v(out'] } }, 'diagram.signals.1'],
    [
      'one at the right',
      { diagram: { ...diagram, right: { view: 'phase', signals: ['v('] } } },
      'diagram.right.signals.0',
    ],
    ['a size that nothing can be seen in', { width: 2 }, 'width'],
    ['no place', { at: { x: 0 } }, 'at.y'],
  ])('%s is refused at its place', (_, wrong, path) => {
    expect(() => read({ ...design, figures: [{ ...one.figures![0], ...wrong }] })).toThrow(
      refusedAt(`figures.0.${path}`),
    )
  })

  test('are not without number', () => {
    const figures = Array.from({ length: MOST_FIGURES + 1 }, (_, k) => ({ ...one.figures![0], id: `diagram ${k}` }))
    expect(() => read({ ...design, figures })).toThrow(refusedAt('figures'))
  })
})

describe('an order that follows from what is required beside the specification', () => {
  const spec = {
    response: 'lowpass',
    approximation: 'elliptic',
    passband: { edges: [400e3], ripple: 0.1 },
    stopband: { attenuation: 40 },
    realization: { family: 'lc-ladder', source: 75, load: 75 },
  }
  const promise = { kind: 'attenuation', limit: 40, from: 700e3, to: 5e6 }

  test('is read back by file, request and row alike, as often as it is written', () => {
    const design = designOfSpec('x', parseSpec({ ...spec, requirements: [promise] }), 'exact')
    expect(design.specification).not.toHaveProperty('requirements')
    expect(design.requirements).toEqual([promise])
    const read = readDesign(JSON.parse(JSON.stringify(design)))
    expect(readDesign(JSON.parse(JSON.stringify(read)))).toEqual(design)
  })

  test('is missed where nothing is required, and wrong requirements are named where they stand', () => {
    const design = JSON.parse(
      JSON.stringify(designOfSpec('x', parseSpec({ ...spec, requirements: [promise] }), 'exact')),
    )
    const placeOf = (value: unknown) => {
      try {
        readDesign(value)
        return null
      } catch (error) {
        return (error as VoskelError).place.path
      }
    }
    expect(placeOf({ ...design, requirements: undefined })).toBe('specification.order')
    expect(placeOf({ ...design, requirements: [{ ...promise, from: -1 }] })).toBe('requirements.0.from')
    expect(placeOf({ ...design, requirements: [promise, { ...promise, kind: 'nothing' }] })).toMatch(/^requirements\.1/)
    const both = { ...design, specification: { ...design.specification, requirements: [promise] } }
    expect(placeOf({ ...both, requirements: [{ ...promise, limit: 'x' }] })).toMatch(/^requirements\.0/)
  })
})
