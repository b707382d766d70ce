import { type Server, STATUS_CODES } from 'node:http'
import type { z } from 'zod'
import { readable, VoskelError } from '@voskel/core'
import type { ErrorRequestHandler, RequestHandler, Response } from 'express'
import type { Logger } from 'pino'
import { FULL } from './db/full.js'

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

/** What a bin holds can be had back; an address or a file was never there, and an earlier state is thinned for good. */
const CURES: Readonly<Record<string, string>> = {
  address: 'Check how it is written; `/api/projects` and `/api/designs/ID` are where things are.',
  file: 'Load the page anew: the application may have been renewed since.',
  revision: 'Earlier states are kept for 30 days, the older the fewer.',
}

export const notFound = (what: string) =>
  new Problem(
    404,
    `There is no such ${what}`,
    CURES[what] ?? `It may have been deleted; deleted ${what}s can be restored.`,
  )

/** Refuses what an address does not take, naming what it does. */
export const methodNotAllowed =
  (...allowed: string[]): RequestHandler =>
  (req, res, next) => {
    res.set('Allow', allowed.join(', '))
    next(new Problem(405, `${readable(req.method)} is not possible here`, `Possible are ${allowed.join(', ')}.`))
  }

function send(res: Response, problem: Problem): void {
  const { status, title, detail, extra } = problem
  res.status(status)
  // Someone who has opened an address reads a sentence.
  if (res.req.accepts(['application/problem+json', 'text/html']) === 'text/html') {
    res.type('text/plain').send(`${title}\n\n${detail}\n`)
    return
  }
  res.type('application/problem+json').send(JSON.stringify({ type: 'about:blank', title, status, detail, ...extra }))
}

/** A file that is not what was written: bytes that are no database, or an end that is missing. */
const DAMAGED = /SQLITE_CORRUPT|SQLITE_NOTADB|SQLITE_IOERR_(SHORT_)?READ|malformed|not a database/i
/** What a read that fails says where it says no more. */
const UNREADABLE = /SQLITE_IOERR|disk I\/O error/i
/** A store that another server keeps and that does not answer. */
const AWAY =
  /ECONNREFUSED|ECONNRESET|ENOTFOUND|ETIMEDOUT|EAI_AGAIN|fetch failed|SQLITE_BUSY|HRANA_WEBSOCKET_ERROR|SERVER_ERROR/i

/** s after which a client tries again where the store is away */
const RETRY_AFTER = 3

/** An error's own name, code and sentence, and those of what caused it: never a query's values, which are documents. */
export function told(error: unknown): { name: string; code?: string; message: string }[] {
  const chain: { name: string; code?: string; message: string }[] = []
  for (let e: unknown = error; e instanceof Error && chain.length < 5; e = e.cause) {
    const { code } = e as { code?: string }
    const query = /^Failed query/.test(e.message)
    chain.push({ name: e.name, ...(code && { code }), message: query ? 'a query failed' : e.message.slice(0, 200) })
  }
  return chain.length > 0 ? chain : [{ name: 'thrown', message: typeof error }]
}

/** The one error handler: the core's errors are 422, what the client got wrong 4xx, a full store 507, the rest 500. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  // Express tells error handlers by their four parameters.
  return (error: unknown, req, res, _next) => {
    if (res.headersSent) return res.destroy()
    if (error instanceof Problem) return send(res, error)
    if (error instanceof VoskelError) {
      const { path, ...place } = error.place
      const shown = path === undefined ? place : { ...place, path: readable(path) }
      return send(res, new Problem(422, error.message, error.remedy, { code: error.code, place: shown }))
    }
    const { type, status } = error as { type?: string; status?: number }
    if (type === 'entity.parse.failed')
      return send(res, new Problem(400, 'The body is not JSON', 'Send a JSON object.'))
    if (type === 'entity.too.large')
      return send(res, new Problem(413, 'The body is too large', 'A design may have 5 MB.'))
    if (error instanceof URIError)
      return send(res, new Problem(400, 'The address is broken', 'Correct its percent signs.'))
    if (status !== undefined && status >= 400 && status < 500)
      return send(res, new Problem(status, 'The request cannot be read', readable((error as Error).message)))
    const chain = told(error)
    log.error({ chain }, 'request failed')
    const text = chain.map(({ code = '', message }) => `${code} ${message}`).join(' ')
    const reads = req.method === 'GET' || req.method === 'HEAD'
    if (DAMAGED.test(text) || (reads && UNREADABLE.test(text)))
      return send(
        res,
        new Problem(
          500,
          'The database is damaged',
          'What was asked for does not read from it. Stop the server and bring a copy back with npm run restore.',
        ),
      )
    if (FULL.test(text))
      return send(
        res,
        new Problem(
          507,
          'The server’s disk is full',
          'Nothing was kept of this change; make room there, then save again.',
        ),
      )
    if (AWAY.test(text)) {
      res.set('Retry-After', String(RETRY_AFTER))
      return send(
        res,
        new Problem(503, 'The store does not answer', 'Nothing was kept of this change; it is tried again.'),
      )
    }
    send(res, new Problem(500, 'The server failed', 'Try again; what was kept before is still there.'))
  }
}

/** Answers what is no HTTP, which no handler sees. */
export function answerMalformed(server: Server): void {
  server.on('clientError', (error: NodeJS.ErrnoException, socket) => {
    if (error.code === 'ECONNRESET' || !socket.writable) return socket.destroy()
    const [status, title, detail] = MALFORMED[error.code ?? ''] ?? [400, 'This is no HTTP request', 'Correct it.']
    const body = JSON.stringify({ type: 'about:blank', title, status, detail })
    socket.end(
      `HTTP/1.1 ${status} ${STATUS_CODES[status]}\r\nContent-Type: application/problem+json\r\nContent-Length: ${Buffer.byteLength(body)}\r\nConnection: close\r\n\r\n${body}`,
    )
  })
}

const MALFORMED: Readonly<Record<string, readonly [status: number, title: string, detail: string]>> = {
  HPE_HEADER_OVERFLOW: [431, 'The headers are too large', 'Send less than 16 kB of them.'],
  ERR_HTTP_REQUEST_TIMEOUT: [408, 'The request did not come to its end', 'Send it in one go.'],
}

/** A body by its schema. @throws Problem 422 with the place, under this title */
export function parsed<T>(schema: z.ZodType<T>, body: unknown, title: string): T {
  const read = schema.safeParse(body)
  if (read.success) return read.data
  const issue = read.error.issues[0]!
  throw new Problem(422, title, issue.message, { place: { path: issue.path.map(String).join('.') } })
}
