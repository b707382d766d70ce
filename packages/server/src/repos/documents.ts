import { type Design, readDesign, VoskelError } from '@voskel/core'
import { Problem } from '../problem.js'

/**
 * A design from a stored row, read as a file is: rows of earlier versions are brought up.
 *
 * @param revision is told with the problem, so that another state can be saved over the damaged one
 * @throws Problem where a row does not hold what was put into it
 */
export function documentOf(text: string, revision: number): Design {
  try {
    return readDesign(JSON.parse(text))
  } catch (error) {
    if (!(error instanceof VoskelError) && !(error instanceof SyntaxError)) throw error
    throw new Problem(
      500,
      'This design cannot be read',
      'Its row is damaged; an earlier state of it, or npm run restore, brings it back.',
      { revision },
    )
  }
}
