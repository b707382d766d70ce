import { createHash, timingSafeEqual } from 'node:crypto'
import type { RequestHandler } from 'express'
import { Problem } from './problem.js'

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]'])
const COOKIE = 'voskel_token'

/** True for addresses that only this machine can reach. */
export function isLoopback(host: string): boolean {
  return LOOPBACK.has(host) || host === '::1'
}

/** On loopback, refuses requests under any other host name: a foreign page cannot reach in by renaming itself. */
export function loopbackOnly(): RequestHandler {
  return (req, _res, next) => {
    const host = (req.headers.host ?? '').replace(/:\d+$/, '')
    next(
      LOOPBACK.has(host)
        ? undefined
        : new Problem(403, 'This server answers to localhost only', 'Open it as http://127.0.0.1.'),
    )
  }
}

/** Refuses changes that another site's page asks for. */
export function sameSiteWrites(): RequestHandler {
  return (req, _res, next) => {
    const site = req.get('Sec-Fetch-Site')
    const foreign = site !== undefined && site !== 'same-origin' && site !== 'none'
    const reads = req.method === 'GET' || req.method === 'HEAD'
    next(
      foreign && !reads
        ? new Problem(403, 'Changes come from Voskel’s own pages only', 'Open Voskel itself.')
        : undefined,
    )
  }
}

/** Wants the access token, as a bearer token or as the cookie that opening `/?token=…` sets. */
export function requireToken(token: string): RequestHandler {
  const digest = (text: string) => createHash('sha256').update(text).digest()
  const expected = digest(token)
  const fits = (given: string | undefined) => given !== undefined && timingSafeEqual(digest(given), expected)
  return (req, res, next) => {
    const bearer = /^Bearer (.+)$/.exec(req.get('Authorization') ?? '')?.[1]
    const cookie = new RegExp(`(?:^|; )${COOKIE}=([^;]*)`).exec(req.get('Cookie') ?? '')?.[1]
    if (fits(bearer) || fits(cookie && decodeURIComponent(cookie))) return next()
    if (typeof req.query.token === 'string' && fits(req.query.token)) {
      res.cookie(COOKIE, req.query.token, { httpOnly: true, sameSite: 'strict' })
      return res.redirect(req.path)
    }
    next(new Problem(401, 'An access token is needed', 'Open the address with ?token=… that the server’s keeper has.'))
  }
}
