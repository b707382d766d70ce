import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { type AskedRequirement, RequirementSchema } from '../../specification/requirements/index.js'

const Requirements = z.array(RequirementSchema, { error: 'A list of requirements is expected: [ { "kind": … }, … ].' })

/**
 * A list of requirements from parsed JSON.
 *
 * @throws VoskelError `SPEC_INVALID`, placed by path
 */
export function readRequirements(value: unknown): AskedRequirement[] {
  const parsed = Requirements.safeParse(value)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new VoskelError(
      'SPEC_INVALID',
      { problem: issue.message, fix: 'Correct it there.' },
      { path: issue.path.map(String).join('.') },
    )
  }
  const names = parsed.data.flatMap((r) => (r.kind === 'value' ? [r.id] : []))
  const twice = names.find((name, k) => names.indexOf(name) !== k)
  if (twice !== undefined)
    throw new VoskelError(
      'SPEC_INVALID',
      { problem: `Two requirements are named "${twice}".`, fix: 'Give each its own name.' },
      { path: String(parsed.data.findLastIndex((r) => r.kind === 'value' && r.id === twice)) },
    )
  return parsed.data
}
