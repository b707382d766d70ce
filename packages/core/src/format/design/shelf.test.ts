import { expect, test } from 'vitest'
import type { Circuit } from '../../circuit/circuit.js'
import { circuitEdit, type EditCall } from '../../circuit/edit/index.js'
import { flatten } from '../../circuit/flatten.js'
import { readNetlist } from '../netlist/readNetlist.js'
import { designOfCircuit } from './makeDesign.js'
import { ShelvedSchema, shelfOf } from './shelf.js'

const { circuit } = readNetlist(`shelf
V1 in 0 AC 1
X1 in out outer
RL out 0 1k
.subckt inner a b
Q1 b a 0 q
.ends
.subckt outer a b
X1 a b inner
R1 b 0 1k
.ends
.model q NPN(IS=1e-15 BF=120)
.model d D(IS=1e-14)
.end
`)
const shelf = shelfOf(designOfCircuit(circuit))

test('blocks come with the blocks and models that they need, models alone', () => {
  expect(shelf.map((s) => `${s.kind} ${s.name}`)).toEqual(['block inner', 'block outer', 'model q', 'model d'])
  const [inner, outer, q] = shelf.map((s) => s.piece)
  expect(Object.keys(inner.subcircuits!)).toEqual(['inner'])
  expect(Object.keys(outer.subcircuits!).sort()).toEqual(['inner', 'outer'])
  expect(Object.keys(outer.models!)).toEqual(['q'])
  expect([q.parts.length, Object.keys(q.models!)]).toEqual([0, ['q']])
})

test('put into another circuit they are whole', () => {
  const other = readNetlist('x\nV1 in 0 5\nR1 in 0 1k\n.end\n').circuit
  const put = circuitEdit({ edit: 'paste-things', args: { piece: shelf[1].piece } } as EditCall).apply(other)
  const use = put.parts.find((p) => p.definition === 'outer')!
  const labels = ['p1', 'p2'].map((pin, k) => ({ id: `Z${k}`, name: 'in', end: { part: use.id, pin } }))
  const names = flatten({ ...put, labels: [...put.labels, ...labels] }).elements.map((e) => e.name)
  expect(names).toEqual(['V1', 'R1', `${use.id}.X1.Q1`, `${use.id}.R1`])
})

test('a computed circuit has none', () => {
  expect(shelfOf({ ...designOfCircuit(circuit), circuit: { origin: 'derived', patches: {} } })).toEqual([])
})

test('what is used nowhere can go, what is used cannot; what is kept is checked as it comes', () => {
  const without = (from: Circuit, call: EditCall) => circuitEdit(call).apply(from)
  const used = (call: EditCall) => expect(() => without(circuit, call)).toThrow(/still used/)
  used({ edit: 'remove-block', args: { block: 'inner' } })
  used({ edit: 'remove-model', args: { model: 'q' } })
  const noModel = without(circuit, { edit: 'remove-model', args: { model: 'd' } })
  expect(Object.keys(noModel.models!)).toEqual(['q'])
  const noUse = { ...circuit, parts: circuit.parts.filter((p) => p.id !== 'X1'), labels: [] }
  const noOuter = without(noUse, { edit: 'remove-block', args: { block: 'outer' } })
  expect(Object.keys(noOuter.subcircuits!)).toEqual(['inner'])
  expect(() => without(noOuter, { edit: 'remove-model', args: { model: 'x' } })).toThrow(/no model "x"/)

  for (const piece of shelf) expect(ShelvedSchema.parse(JSON.parse(JSON.stringify(piece)))).toEqual(piece)
  const strange = { ...shelf[0], piece: { ...shelf[0].piece, parts: [{ id: 'Y1', kind: 'valve', values: {} }] } }
  expect(ShelvedSchema.safeParse(strange).success).toBe(false)
})
