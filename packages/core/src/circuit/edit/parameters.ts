import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { parseExpression } from '../../quantity/expression.js'
import type { Circuit, Part } from '../circuit.js'
import { effectiveValues, fieldOf, scopeOf } from '../effectiveValues.js'
import { wrongParameterName } from '../parameters.js'
import { type CircuitEdit, partOf, withPart } from './CircuitEdit.js'
import { withNames } from './pasteThings.js'

const schema = z.strictObject({
  name: z.string(),
  /** SI, or an expression over other parameters. */
  value: z.union([z.number(), z.string().max(1000)]),
  unit: z.string().max(20).optional(),
  least: z.number().optional(),
  most: z.number().optional(),
})

/** A parameter with its value, unit and range; a new one, or another value of one that is there. */
export const setParameter: CircuitEdit<z.output<typeof schema>, 'set-parameter'> = {
  id: 'set-parameter',
  schema,
  label: ({ name }) => `parameter ${name}`,
  apply(circuit, { name, value, ...range }) {
    const key = keyOf(circuit, name) ?? named(name)
    if (typeof value === 'string') parseExpression(value)
    const { least, most } = range
    if (least !== undefined && most !== undefined && least >= most)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `The range of "${name}" ends at ${most}, before it begins at ${least}.`,
        fix: 'Give the lower end first.',
      })
    const next: Circuit = { ...circuit, parameters: { ...circuit.parameters, [key]: value } }
    // A circle is refused where it is made.
    if (typeof value === 'string') scopeOf(next).parameters.value(key)
    const said = Object.fromEntries(Object.entries(range).filter(([, v]) => v !== undefined))
    const { [key]: _before, ...others } = circuit.parameterRanges ?? {}
    const ranges = Object.keys(said).length > 0 ? { ...others, [key]: said } : others
    return withRanges(next, ranges)
  },
}

const renameSchema = z.strictObject({ from: z.string(), to: z.string() })

/** Another name for a parameter, wherever it is used. */
export const renameParameter: CircuitEdit<z.output<typeof renameSchema>, 'rename-parameter'> = {
  id: 'rename-parameter',
  schema: renameSchema,
  label: ({ from, to }) => `parameter ${from} named ${to}`,
  apply(circuit, { from, to }) {
    const key = known(circuit, from)
    if (keyOf(circuit, to) !== undefined && keyOf(circuit, to) !== key)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is a parameter "${to}" already.`,
        fix: 'Choose another name.',
      })
    const names = new Map([[key.toLowerCase(), named(to)]])
    const entries = Object.entries(circuit.parameters ?? {}).map(([name, value]) => [
      name === key ? to : name,
      typeof value === 'string' ? withNames(value, names) : value,
    ])
    const ranges = Object.entries(circuit.parameterRanges ?? {}).map(([name, r]) => [name === key ? to : name, r])
    return withRanges(
      {
        ...circuit,
        parameters: Object.fromEntries(entries),
        parts: circuit.parts.map((p) => withFormulas(p, (f) => withNames(f, names))),
      },
      Object.fromEntries(ranges),
    )
  },
}

const removeSchema = z.strictObject({ name: z.string() })

/** Takes a parameter away; values that use it become the numbers that they are. */
export const removeParameter: CircuitEdit<z.output<typeof removeSchema>, 'remove-parameter'> = {
  id: 'remove-parameter',
  schema: removeSchema,
  label: ({ name }) => `parameter ${name} removed`,
  apply(circuit, { name }) {
    const key = known(circuit, name)
    const scope = scopeOf(circuit)
    const uses = (text: string) => [...parseExpression(text).names].some((n) => n.toLowerCase() === key.toLowerCase())
    const { [key]: _gone, ...rest } = circuit.parameters ?? {}
    const parameters = Object.fromEntries(
      Object.entries(rest).map(([n, v]) => [n, typeof v === 'string' && uses(v) ? scope.parameters.value(n) : v]),
    )
    const { [key]: _range, ...ranges } = circuit.parameterRanges ?? {}
    const parts = circuit.parts.map((part) => {
      const { formulas = {} } = part
      const frozen = Object.keys(formulas).filter((id) => uses(formulas[id]))
      if (frozen.length === 0) return part
      const values = effectiveValues(part, scope)
      const { formulas: _before, ...bare } = part
      const left = Object.fromEntries(Object.entries(formulas).filter(([id]) => !frozen.includes(id)))
      return {
        ...bare,
        values: { ...part.values, ...Object.fromEntries(frozen.map((id) => [id, values[id].value])) },
        ...(Object.keys(left).length > 0 && { formulas: left }),
      }
    })
    return withRanges({ ...circuit, parameters, parts }, ranges)
  },
}

const makeSchema = z.strictObject({ part: z.string(), field: z.string(), name: z.string() })

/** Makes a part's value a parameter that others can use, too. */
export const makeParameter: CircuitEdit<z.output<typeof makeSchema>, 'make-parameter'> = {
  id: 'make-parameter',
  schema: makeSchema,
  label: ({ part, name }) => `value of ${part} made the parameter ${name}`,
  apply(circuit, { part: id, field, name }) {
    const part = partOf(circuit, id)
    const { unit } = fieldOf(part, field)
    if (keyOf(circuit, name) !== undefined)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is a parameter "${name}" already.`,
        fix: 'Choose another name, or type the name as the value.',
      })
    const own = part.formulas?.[field]
    const value = own ?? effectiveValues(part, scopeOf(circuit))[field].value
    const made = setParameter.apply(circuit, { name, value, ...(unit && { unit }) })
    return withPart(made, id, (p) => ({ ...p, formulas: { ...p.formulas, [field]: name } }))
  },
}

const keyOf = (circuit: Circuit, name: string) =>
  Object.keys(circuit.parameters ?? {}).find((k) => k.toLowerCase() === name.toLowerCase())

function known(circuit: Circuit, name: string): string {
  const key = keyOf(circuit, name)
  if (key !== undefined) return key
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `There is no parameter "${name}".`,
    fix: `The parameters are: ${Object.keys(circuit.parameters ?? {}).join(', ') || 'none'}.`,
  })
}

/** @throws VoskelError `CIRCUIT_INVALID` where that cannot be a parameter's name */
function named(name: string): string {
  const wrong = wrongParameterName(name)
  if (wrong) throw new VoskelError('CIRCUIT_INVALID', wrong)
  return name
}

function withFormulas(part: Part, change: (formula: string) => string): Part {
  if (!part.formulas) return part
  return { ...part, formulas: Object.fromEntries(Object.entries(part.formulas).map(([id, f]) => [id, change(f)])) }
}

function withRanges(circuit: Circuit, ranges: NonNullable<Circuit['parameterRanges']>): Circuit {
  const { parameterRanges: _before, ...rest } = circuit
  return Object.keys(ranges).length > 0 ? { ...rest, parameterRanges: ranges } : rest
}
