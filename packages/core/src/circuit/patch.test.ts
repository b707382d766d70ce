import { describe, expect, test } from 'vitest'
import { emptyCircuit, type Circuit } from './circuit.js'
import { patched, type PartPatch, withoutPatchedValue, withOwnValue } from './patch.js'

const circuit: Circuit = {
  ...emptyCircuit(),
  parts: [
    { id: 'R1', kind: 'resistor', values: { resistance: 1000 } },
    { id: 'C1', kind: 'capacitor', values: { capacitance: 1e-9 }, exact: { capacitance: 1.03e-9 } },
    { id: 'R2', kind: 'resistor', values: {}, formulas: { resistance: '2*r' } },
  ],
}
const partOf = (patches: Parameters<typeof patched>[1], id: string) =>
  patched(circuit, patches).circuit.parts.find((p) => p.id === id)

describe('what is said about a part', () => {
  test('nothing said leaves the very circuit', () => {
    expect(patched(circuit, {}).circuit).toBe(circuit)
  })

  test('a typed value keeps the computed one beside it, the one before rounding where there is one', () => {
    expect(partOf({ R1: { values: { resistance: 1100 } } }, 'R1')).toMatchObject({
      values: { resistance: 1100 },
      exact: { resistance: 1000 },
    })
    expect(partOf({ C1: { values: { capacitance: 2e-9 } } }, 'C1')).toMatchObject({ exact: { capacitance: 1.03e-9 } })
    expect(partOf({ R1: { values: { resistance: 1000 } } }, 'R1')).not.toHaveProperty('exact')
  })

  test('a typed value takes a formula’s place, a formula that of a value; the rest of the part stays', () => {
    expect(partOf({ R2: { values: { resistance: 5 } } }, 'R2')).toEqual({
      id: 'R2',
      kind: 'resistor',
      values: { resistance: 5 },
    })
    expect(partOf({ R1: { formulas: { resistance: 'r' }, aside: 'short' } }, 'R1')).toEqual({
      id: 'R1',
      kind: 'resistor',
      values: { resistance: 1000 },
      formulas: { resistance: 'r' },
      aside: 'short',
    })
  })

  test('what finds no part, or no such value, is told and not dropped', () => {
    const patches = {
      R9: { values: { resistance: 1 } },
      C1: { values: { resistance: 1 } },
      constructor: { values: { resistance: 1 } },
      R1: { values: { resistance: 7 } },
    }
    const { R1: _found, ...lost } = patches
    expect(patched(circuit, patches).lost).toEqual(lost)
  })

  test('a value is said and taken back; what else is said of the part stays', () => {
    const said = { R1: withOwnValue<PartPatch>({ aside: 'open', formulas: { resistance: 'r' } }, 'resistance', 5) }
    expect(said).toEqual({ R1: { aside: 'open', values: { resistance: 5 } } })
    expect(withoutPatchedValue(said, 'R1', 'resistance')).toEqual({ R1: { aside: 'open' } })
    expect(withoutPatchedValue({ R1: withOwnValue({}, 'resistance', 5) }, 'R1', 'resistance')).toEqual({})
    expect(withoutPatchedValue(said, 'R7', 'resistance')).toBe(said)
  })
})
