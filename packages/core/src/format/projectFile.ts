import { z } from 'zod'
import { VoskelError } from '../errors/VoskelError.js'
import type { Design } from './design/Design.js'
import { readDesign } from './design/readDesign.js'
import { type KeptJson, KeptJsonSchema } from './kept/keptJson.js'

const PROJECT_VERSION = 1

const ProjectFileSchema = z.strictObject({
  format: z.literal('voskel-project'),
  version: z.literal(PROJECT_VERSION),
  name: z.string().trim().min(1, 'A project needs a name.').max(200, 'A name has at most 200 characters.'),
  description: z.string().max(5000, 'A description has at most 5000 characters.').default(''),
  designs: z.array(z.unknown()),
  curves: z.array(KeptJsonSchema).optional(),
})

/** A project as a file: its designs are design files, each readable by itself. */
export interface ProjectFile {
  readonly format: 'voskel-project'
  readonly version: typeof PROJECT_VERSION
  readonly name: string
  readonly description: string
  readonly designs: readonly Design[]
  /** Pinned runs and measured data that the designs show; left out where there are none. */
  readonly curves?: readonly KeptJson[]
}

export const projectFile = (
  name: string,
  description: string,
  designs: readonly Design[],
  curves: readonly KeptJson[] = [],
): ProjectFile => ({
  format: 'voskel-project',
  version: PROJECT_VERSION,
  name,
  description,
  designs,
  ...(curves.length > 0 && { curves }),
})

/**
 * A project from parsed JSON.
 *
 * @throws VoskelError `PROJECT_INVALID`, or as `readDesign` with the place inside the project
 */
export function readProjectFile(value: unknown): ProjectFile {
  const parsed = ProjectFileSchema.safeParse(value)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    const path = issue.path.map(String).join('.')
    throw new VoskelError(
      'PROJECT_INVALID',
      { problem: `"${path || 'the whole'}" does not fit: ${issue.message}` },
      { path },
    )
  }
  const designs = parsed.data.designs.map((design, k) => {
    try {
      return readDesign(design)
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      throw error.at({ path: [`designs.${k}`, error.place.path].filter(Boolean).join('.') })
    }
  })
  return { ...parsed.data, designs }
}
