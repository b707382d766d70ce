import { VoskelError } from '../errors/VoskelError.js'
import type { Circuit, Model, Part, Subcircuit } from './circuit.js'
import { Parameters } from './parameters.js'
import { partKind } from './parts/index.js'
import type { ValueField } from './parts/PartKind.js'

/** What names mean inside a circuit or subcircuit: parameters and models, those outside included. */
export interface Scope {
  readonly parameters: Parameters
  /** By their names in lower case. */
  readonly models: ReadonlyMap<string, Model>
}

/** A value that a part has, in SI units, and who says so. */
export interface EffectiveValue {
  readonly value: number
  readonly from: 'formula' | 'own' | 'model' | 'default'
}

/** @throws VoskelError `CIRCUIT_INVALID` where two parameters or models have one name */
export function scopeOf(circuit: Circuit | Subcircuit, around: Scope | null = null): Scope {
  return {
    parameters: new Parameters(circuit.parameters, around?.parameters),
    models: new Map([...(around?.models ?? []), ...ownModels(circuit)]),
  }
}

/**
 * Every value of a part: its formulas rule over its own numbers, these over its model's, these over the kind's defaults.
 *
 * @throws VoskelError `CIRCUIT_INVALID` for a model or a value that does not exist, `EXPRESSION_INVALID`
 */
export function effectiveValues(part: Part, scope: Scope): Record<string, EffectiveValue> {
  const kind = partKind(part.kind, part.id)
  // What a use of a block gives are parameters of the block.
  if (kind.shapeFor) return {}
  const ofModel = modelOf(part, scope)?.values ?? {}
  for (const given of [ofModel, part.values, part.formulas ?? {}])
    for (const id of Object.keys(given)) fieldOf(part, id)
  const values: Record<string, EffectiveValue> = {}
  for (const { id, default: usual } of kind.values) {
    const formula = part.formulas?.[id]
    if (formula !== undefined) values[id] = { value: scope.parameters.evaluate(formula), from: 'formula' }
    else if (part.values[id] !== undefined) values[id] = { value: part.values[id], from: 'own' }
    else if (ofModel[id] !== undefined) values[id] = { value: ofModel[id], from: 'model' }
    else values[id] = { value: usual, from: 'default' }
  }
  return values
}

/** A value field of a part's kind. @throws VoskelError `CIRCUIT_INVALID` naming those that it has */
export function fieldOf(part: Part, field: string): ValueField {
  const { name, values } = partKind(part.kind, part.id)
  const found = values.find((f) => f.id === field)
  if (found) return found
  throw invalid(
    part,
    `${part.id} has no value "${field}".`,
    `A ${name.toLowerCase()} has: ${values.map((f) => f.id).join(', ') || 'none'}.`,
  )
}

function modelOf(part: Part, { models }: Scope): Model | undefined {
  if (part.model === undefined) return undefined
  const model = models.get(part.model.toLowerCase())
  if (!model)
    throw invalid(
      part,
      `The model "${part.model}" of ${part.id} is not defined.`,
      `Defined are: ${[...models.keys()].join(', ') || 'none'}.`,
    )
  if (model.kind !== part.kind)
    throw invalid(
      part,
      `The model "${part.model}" is one of a ${partKind(model.kind).name}, not of a ${partKind(part.kind).name}.`,
      'Name another model.',
    )
  return model
}

/** The models of one circuit or subcircuit by their names in lower case. */
function ownModels(circuit: Circuit | Subcircuit): Map<string, Model> {
  const models = new Map<string, Model>()
  for (const [name, model] of Object.entries(circuit.models ?? {})) {
    if (models.has(name.toLowerCase()))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `Two models are named "${name}"; names are compared in any case.`,
        fix: 'Rename one of the two.',
      })
    models.set(name.toLowerCase(), model)
  }
  return models
}

function invalid(part: Part, problem: string, fix: string): VoskelError {
  return new VoskelError('CIRCUIT_INVALID', { problem, fix }, { part: part.id })
}
