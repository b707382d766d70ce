import { describe, expect, test } from 'vitest'
import { emptyCircuit } from '../../circuit/circuit.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../../synthesis/realize.js'
import { writeCsv } from '../csv.js'
import { DESIGN_VERSION } from './Design.js'
import { designOfCircuit, designOfSpec } from './makeDesign.js'
import { readDesign } from './readDesign.js'
import { parseJson } from '../jsonText.js'

const spec = parseSpec({
  response: 'lowpass',
  approximation: 'butterworth',
  order: 3,
  passband: { edges: [1000] },
  realization: { family: 'lc-ladder', source: 50, load: 50 },
})
const design = designOfSpec('Test', spec, 'E24', realize(spec, 'E24').circuit)

const drawn = (circuit: object) => ({ origin: 'drawn', circuit: { ...emptyCircuit(), ...circuit } })
const drawnAs = (kind: string) => ({ parts: [{ id: 'U1', kind, values: {} }] })
const nested = (depth: number): unknown => JSON.parse('{"a":'.repeat(depth) + '1' + '}'.repeat(depth))

describe('design file', () => {
  test('what is written reads back to the same design', () => {
    expect(readDesign(JSON.parse(JSON.stringify(design)))).toEqual(design)
    const own = designOfCircuit(realize(spec).circuit, [{ analysis: 'tran', words: ['1u', '1m'] }])
    expect(readDesign(JSON.parse(JSON.stringify(own)))).toEqual(own)
  })

  test.each([
    [null, 'DESIGN_INVALID', ''],
    [[], 'DESIGN_INVALID', ''],
    [{}, 'DESIGN_INVALID', 'format'],
    [{ ...design, version: DESIGN_VERSION + 1 }, 'DESIGN_NEWER', 'version'],
    [{ ...design, name: '' }, 'DESIGN_INVALID', 'name'],
    [{ ...design, values: 'E13' }, 'DESIGN_INVALID', 'values'],
    [{ ...design, colour: 1 }, 'DESIGN_INVALID', ''],
    [{ ...design, specification: { ...spec, order: 99 } }, 'SPEC_INVALID', 'specification.order'],
    [{ ...design, circuit: { origin: 'drawn', circuit: { parts: [] } } }, 'DESIGN_INVALID', 'circuit.circuit.wires'],
    [{ ...design, name: 'a\0b' }, 'DESIGN_INVALID', 'name'],
    [{ ...design, notes: 'half \ud800' }, 'DESIGN_INVALID', 'notes'],
    [{ ...design, circuit: drawn(drawnAs('flux capacitor')) }, 'NOT_OFFERED', 'circuit.circuit.parts.0.kind'],
    [{ ...design, circuit: drawn(drawnAs('constructor')) }, 'NOT_OFFERED', 'circuit.circuit.parts.0.kind'],
    [
      { ...design, circuit: drawn({ models: { m: { kind: 'triode', values: {} } } }) },
      'NOT_OFFERED',
      'circuit.circuit.models.m.kind',
    ],
    [
      { ...design, circuit: drawn({ subcircuits: { block: { ...emptyCircuit(), ...drawnAs('nothing'), pins: [] } } }) },
      'NOT_OFFERED',
      'circuit.circuit.subcircuits.block.parts.0.kind',
    ],
    [{ ...design, specification: nested(5000) }, 'DESIGN_INVALID', 'specification.a.a'],
  ])('%# is refused at its place', (value, code, path) => {
    expect(() => readDesign(value)).toThrow(expect.objectContaining({ code, place: { path } }))
  })
})

describe('JSON with places', () => {
  test.each([
    ['arrays', '['.repeat(5000)],
    ['objects', '{"a":'.repeat(5000) + '1' + '}'.repeat(5000)],
  ])('%s nested without end are refused where they begin to be', (_, text) => {
    expect(() => parseJson(text)).toThrow(expect.objectContaining({ code: 'DESIGN_INVALID' }))
  })

  test('brackets in texts are no nesting', () => {
    expect(parseJson(`["${'[{'.repeat(200)}", "\\"", "\\\\"]`).value).toHaveLength(3)
  })

  const text = '{\n  "passband": {\n    "edges": [10, 20]\n  }\n}'
  test('a path’s line and column; the nearest one around what is missing', () => {
    const json = parseJson(text)
    expect(json.locate('passband.edges.1')).toEqual({ line: 3, column: 19 })
    expect(json.locate('passband.ripple')).toEqual({ line: 2, column: 15 })
    expect(json.locate('')).toEqual({ line: 1, column: 1 })
  })

  test.each([
    ['{ "a": }', 1, 8],
    ['{\n "a": 1,\n}', 3, 1],
    ['', 1, 1],
    ['{ "a": 1 // note\n}', 1, 10],
  ])('%j breaks at %i:%i', (broken, line, column) => {
    expect(() => parseJson(broken)).toThrow(expect.objectContaining({ place: { line, column } }))
  })
})

test('CSV holds full doubles under a header (RFC 4180)', () => {
  expect(writeCsv({ x: [0.1, 1e-300], y: Float64Array.of(1 / 3, -0) })).toBe('x,y\n0.1,0.3333333333333333\n1e-300,0\n')
})
