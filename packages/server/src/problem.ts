import { VoskelError } from '@voskel/core'
import type { ErrorRequestHandler, Response } from 'express'
import type { Logger } from 'pino'

/** An error with its HTTP status and, for people, what would be right. Sent as RFC 9457 `application/problem+json`. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    /** Further members of the problem document. */
    readonly extra: Readonly<Record<string, unknown>> = {},
  ) {
    super(title)
  }
}

export const notFound = (what: string) =>
  new Problem(404, `There is no such ${what}`, `It may have been deleted; deleted ${what}s can be restored.`)

function send(res: Response, problem: Problem): void {
  const { status, title, detail, extra } = problem
  res
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title, status, detail, ...extra }))
}

/** The one error handler: the core's errors are 422, broken JSON 400, a body too large 413, the rest 500. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  // Express tells error handlers by their four parameters.
  return (error: unknown, _req, res, _next) => {
    if (error instanceof Problem) return send(res, error)
    if (error instanceof VoskelError) {
      return send(res, new Problem(422, error.message, error.remedy, { code: error.code, place: error.place }))
    }
    const type = (error as { type?: string }).type
    if (type === 'entity.parse.failed')
      return send(res, new Problem(400, 'The body is not JSON', 'Send a JSON object.'))
    if (type === 'entity.too.large')
      return send(res, new Problem(413, 'The body is too large', 'A design may have 5 MB.'))
    if (error instanceof URIError)
      return send(res, new Problem(400, 'The address is broken', 'Correct its percent signs.'))
    log.error(error)
    send(res, new Problem(500, 'The server failed', 'Try again; what was kept before is still there.'))
  }
}
