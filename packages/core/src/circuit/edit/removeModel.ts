import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import type { CircuitEdit } from './CircuitEdit.js'

const schema = z.strictObject({ model: z.string() })

/** A model that no part has goes. */
export const removeModel: CircuitEdit<z.output<typeof schema>, 'remove-model'> = {
  id: 'remove-model',
  schema,
  label: ({ model }) => `model ${model} removed`,
  apply(circuit, { model }) {
    const { models = {}, ...rest } = circuit
    if (!Object.hasOwn(models, model))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is no model "${model}" in this circuit.`,
        fix: `Its models are: ${Object.keys(models).join(', ') || 'none'}.`,
      })
    const used = [circuit, ...Object.values(circuit.subcircuits ?? {})].some((c) =>
      c.parts.some((p) => p.model?.toLowerCase() === model.toLowerCase()),
    )
    if (used)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `The model "${model}" is still used.`,
        fix: 'Give its parts another one first.',
      })
    const { [model]: _gone, ...others } = models
    return Object.keys(others).length > 0 ? { ...rest, models: others } : rest
  },
}
