import { describe, expect, test } from 'vitest'
import type { Circuit } from '../../circuit/circuit.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../../synthesis/realize.js'
import { designedCircuit, outdatedText } from './designedCircuit.js'
import {
  computedAnew,
  keptAsShown,
  withCircuitEdit,
  withPatches,
  withSpecification,
  withValueChoice,
  witnessed,
} from './designEdits.js'
import { DESIGN_VERSION } from './Design.js'
import { designOfCircuit, designOfSpec } from './makeDesign.js'
import { readDesign } from './readDesign.js'

const spec = parseSpec({
  response: 'lowpass',
  approximation: 'butterworth',
  order: 3,
  passband: { edges: [1000] },
  requirements: [{ kind: 'parts', limit: 9 }],
  realization: { family: 'lc-ladder', source: 50, load: 50 },
})
const ladder = realize(spec).circuit
const design = designOfSpec('Test', spec, 'exact')
const derived = (rest: object) => ({ ...design, circuit: { origin: 'derived' as const, patches: {}, ...rest } })
/** A circuit with the value of one part multiplied. */
const scaled = (circuit: Circuit, id: string, factor: number): Circuit => ({
  ...circuit,
  parts: circuit.parts.map((p) =>
    p.id === id ? { ...p, values: Object.fromEntries(Object.entries(p.values).map(([f, v]) => [f, v * factor])) } : p,
  ),
})

describe('the circuit of a design', () => {
  test('is computed from the specification, or the drawn one', () => {
    expect(designedCircuit(design)).toMatchObject({ circuit: ladder, lost: {}, outdated: null })
    expect(designedCircuit(designOfCircuit(ladder))!.circuit).toBe(ladder)
    const { realization: _gone, ...plain } = spec
    expect(designedCircuit(designOfSpec('Plain', plain as typeof spec, 'exact'))).toBeNull()
  })

  test('holds what was typed, whatever the specification becomes; what finds no part is told', () => {
    const patches = { C1: { values: { capacitance: 1e-6 } }, C3: { values: { capacitance: 2e-6 } } }
    const wider = { ...derived({ patches }), specification: { ...spec, order: 1 } as typeof spec }
    const { circuit, lost } = designedCircuit(wider)!
    expect(circuit.parts.find((p) => p.id === 'C1')!.values).toEqual({ capacitance: 1e-6 })
    expect(lost).toEqual({ C3: patches.C3 })
  })

  test('of a witness within rounding is the computed one, wherever the parts lie', () => {
    const moved = { ...ladder, parts: ladder.parts.map((p) => ({ ...p, at: undefined })).reverse() }
    expect(designedCircuit(derived({ witness: scaled(moved, 'C1', 1 + 1e-12) }))!.outdated).toBeNull()
  })

  test('keeps values that an earlier version computed, and says which it would compute', () => {
    const witness = scaled(ladder, 'C1', 1.001)
    const found = designedCircuit(derived({ witness, patches: { L2: { values: { inductance: 1 } } } }))!
    const valueOf = (id: string) => Object.values(found.circuit.parts.find((p) => p.id === id)!.values)[0]
    expect(valueOf('C1')).toBe(Object.values(witness.parts.find((p) => p.id === 'C1')!.values)[0])
    expect(valueOf('L2')).toBe(1)
    expect(found.outdated).toMatchObject({ kind: 'values', changes: [{ part: 'C1', field: 'capacitance', unit: 'F' }] })
    expect(outdatedText(found.outdated!)).toMatch(/C1 3\.18310\sµF/)
  })

  test('asks nobody about a value that was typed anyway', () => {
    const witness = scaled(ladder, 'C1', 1.001)
    expect(
      designedCircuit(derived({ witness, patches: { C1: { values: { capacitance: 1e-6 } } } }))!.outdated,
    ).toBeNull()
  })

  test.each([
    ['a part more', { ...ladder, parts: [...ladder.parts, { id: 'R9', kind: 'resistor', values: { resistance: 1 } }] }],
    ['a wire less', { ...ladder, wires: ladder.wires.slice(1) }],
    ['another name of a net', { ...ladder, labels: ladder.labels.map((l) => ({ ...l, name: `${l.name}2` })) }],
  ])('%s than was shown is another structure', (_, witness) => {
    expect(designedCircuit(derived({ witness }))!.outdated).toEqual({ kind: 'structure' })
  })

  test('that this version refuses stays as it was made', () => {
    const specification = { ...spec, realization: { family: 'lost-family' } }
    expect(() => designedCircuit({ ...design, specification })).toThrow(
      expect.objectContaining({ code: 'NOT_OFFERED' }),
    )
    const found = designedCircuit({ ...derived({ witness: ladder }), specification })!
    expect(found.circuit).toBe(ladder)
    expect(found.outdated).toMatchObject({ kind: 'refused' })
  })
})

describe('a design of version 1', () => {
  const old = { format: 'voskel-design', version: 1, name: 'Old', values: 'E24', specification: spec }
  const rounded = realize(spec, 'E24').circuit

  test('its requirements stand beside the specification, its typed values become patches, its rounded ones stay', () => {
    const typed = (p: (typeof rounded.parts)[0]) =>
      p.id === 'C1'
        ? { ...p, values: { capacitance: 4.7e-6 }, exact: p.exact ?? { capacitance: p.values.capacitance } }
        : p
    const { specification, requirements, circuit, version } = readDesign({
      ...old,
      circuit: { ...rounded, parts: rounded.parts.map(typed) },
    })
    expect(version).toBe(DESIGN_VERSION)
    expect(specification).not.toHaveProperty('requirements')
    expect(requirements).toEqual(spec.requirements)
    expect(circuit).toMatchObject({ origin: 'derived', patches: { C1: { values: { capacitance: 4.7e-6 } } } })
    const found = designedCircuit({ ...design, values: 'E24', circuit })!
    expect(found.outdated).toBeNull()
    expect(found.circuit.parts.find((p) => p.id === 'C1')!.values).toEqual({ capacitance: 4.7e-6 })
    expect(found.base.parts).toEqual(rounded.parts)
  })

  test('a value that was changed in the file by hand rules over what is computed', () => {
    const { circuit } = readDesign({ ...old, values: 'exact', circuit: scaled(ladder, 'L2', 2) })
    expect(designedCircuit({ ...design, circuit })).toMatchObject({
      circuit: scaled(ladder, 'L2', 2),
      outdated: { kind: 'values', changes: [{ part: 'L2' }] },
    })
  })

  test('without a realization its circuit is a drawn one; without a circuit it is computed', () => {
    const { realization: _gone, ...plain } = spec
    expect(readDesign({ ...old, specification: plain, circuit: ladder }).circuit).toEqual({
      origin: 'drawn',
      circuit: ladder,
    })
    expect(readDesign(old).circuit).toEqual({ origin: 'derived', patches: {} })
  })

  test('an error in it stands where the file has it', () => {
    const wrong = { ...rounded, parts: [{ id: 'U1', kind: 'nothing', values: {} }] }
    expect(() => readDesign({ ...old, circuit: wrong })).toThrow(
      expect.objectContaining({ code: 'NOT_OFFERED', place: { path: 'circuit.parts.0.kind' } }),
    )
  })
})

describe('what can be done to a design', () => {
  const valueOf = (of: typeof design, id: string) =>
    Object.values(designedCircuit(of)!.circuit.parts.find((p) => p.id === id)!.values)[0]

  test('a typed value stays through other specifications and series, until it is let go', () => {
    const typed = withCircuitEdit(design, {
      edit: 'set-value',
      args: { part: 'C1', field: 'capacitance', value: 1e-6 },
    })
    const later = withValueChoice(withSpecification(typed, { ...spec, order: 5 } as typeof spec), 'E12')
    expect(valueOf(later, 'C1')).toBe(1e-6)
    expect(later.requirements).toEqual(spec.requirements)
    expect(valueOf(withPatches(typed, {}), 'C1')).toBe(valueOf(design, 'C1'))
    expect(
      valueOf(
        withCircuitEdit(designOfCircuit(ladder), {
          edit: 'set-value',
          args: { part: 'C1', field: 'capacitance', value: 1e-6 },
        }),
        'C1',
      ),
    ).toBe(1e-6)
  })

  test('what is set aside and put back leaves nothing said; what adds a part draws the circuit as it was shown', () => {
    const aside = (as: 'open' | null) => ({ edit: 'set-aside' as const, args: { parts: ['C1'], as } })
    const open = withCircuitEdit(design, aside('open'))
    expect(open.circuit).toMatchObject({ origin: 'derived', patches: { C1: { aside: 'open' } } })
    expect(withCircuitEdit(open, aside(null))).toEqual(design)

    const bridged = withCircuitEdit(open, {
      edit: 'bridge-nets',
      args: { kind: 'resistor', values: { resistance: 1e6 }, nets: ['out', '0'] },
    })
    const shown = designedCircuit(open)!.circuit
    expect(bridged.circuit.origin).toBe('drawn')
    const parts = designedCircuit(bridged)!.circuit.parts
    expect(parts.slice(0, shown.parts.length)).toEqual(shown.parts)
    // The resistor and the ground that it goes to.
    expect(parts).toHaveLength(shown.parts.length + 2)
    expect(() =>
      withCircuitEdit(design, { edit: 'set-value', args: { part: 'R9', field: 'resistance', value: 1 } }),
    ).toThrow('no part "R9"')
    const { circuit: _none, specification: _nor, ...bare } = design
    const empty = { ...bare, circuit: { origin: 'derived', patches: {} } } as typeof design
    expect(() => withCircuitEdit(empty, { edit: 'ground-net', args: { net: 'out' } })).toThrow('no circuit')
  })

  test('what an earlier version computed is kept as if typed, or given up; another structure becomes a drawn circuit', () => {
    const witness = scaled(ladder, 'C1', 2)
    const old = derived({ witness })
    expect(designedCircuit(keptAsShown(old))!.outdated).toBeNull()
    expect(valueOf(keptAsShown(old), 'C1')).toBe(valueOf(old, 'C1'))
    expect(valueOf(computedAnew(old), 'C1')).toBe(valueOf(design, 'C1'))
    expect(keptAsShown(design)).toBe(design)
    const other = { ...ladder, wires: ladder.wires.slice(1) }
    expect(keptAsShown(derived({ witness: other })).circuit).toEqual({ origin: 'drawn', circuit: other })
  })

  test('its witness goes with the next specification', () => {
    const shown = witnessed(design, ladder)
    expect(shown.circuit).toHaveProperty('witness', ladder)
    expect(withSpecification(shown, spec).circuit).not.toHaveProperty('witness')
    const drawn = designOfCircuit(ladder)
    expect([witnessed(drawn, ladder), withPatches(drawn, {}), withSpecification(drawn, spec).circuit]).toEqual([
      drawn,
      drawn,
      drawn.circuit,
    ])
  })
})
