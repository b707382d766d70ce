import type { Circuit } from '../circuit.js'
import { lacksOf, partialModels } from '../leftOut.js'
import type { Check, Finding } from './Check.js'

/** Parts whose models or blocks came with more than is offered: what they do is not all that their text says. */
export const leftOut: Check = {
  id: 'left-out',
  find: (circuit) => [...ofModels(circuit), ...ofBlocks(circuit)],
}

const finding = (parts: readonly string[], rest: Pick<Finding, 'severity' | 'message' | 'fix'>): Finding => ({
  check: 'left-out',
  ...rest,
  parts,
  nets: [],
  remedy: { look: parts[0] },
})

const ofModels = (circuit: Circuit): Finding[] =>
  partialModels(circuit).map(({ name, lacks, users }) =>
    finding(users, {
      severity: 'warning',
      message: `The model "${name}" was read without ${lacks}.`,
      fix: 'Trust its parts where that does not count.',
    }),
  )

function ofBlocks(circuit: Circuit): Finding[] {
  const blocks = new Set(circuit.parts.flatMap(({ definition }) => (definition === undefined ? [] : [definition])))
  return [...blocks].flatMap((block): Finding[] => {
    const { elements, models } = lacksOf(circuit, block)
    const users = circuit.parts.filter((p) => p.definition === block).map((p) => p.id)
    if (elements.length > 0)
      return [
        finding(users, {
          severity: 'error',
          message: `The block "${block}" was read without ${elements.join(', ')}: it does not do what its text says.`,
          fix: 'Open it and put a part of that name in its place, or take another model.',
        }),
      ]
    if (models.length === 0) return []
    return [
      finding(users, {
        severity: 'warning',
        message: `The block "${block}" was read without all of its models: ${models.join('; ')}.`,
        fix: 'Trust it where that does not count.',
      }),
    ]
  })
}
