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

/** Refuses a request that names two hosts: which of them a guard looks at, nobody would know. */
export function oneHost(): RequestHandler {
  return (req, _res, next) => {
    const hosts = req.rawHeaders.filter((name, k) => k % 2 === 0 && name.toLowerCase() === 'host').length
    next(hosts > 1 ? new Problem(400, 'The request names two hosts', 'Send one Host header.') : undefined)
  }
}

const reads = (method: string) => method === 'GET' || method === 'HEAD'

/**
 * Refuses changes that another site's page asks for: a browser says where a request comes from, by Sec-Fetch-Site or by
 * Origin. What comes from no page says neither.
 */
export function sameSiteWrites(): RequestHandler {
  return (req, _res, next) => {
    if (reads(req.method)) return next()
    const site = req.get('Sec-Fetch-Site')
    const foreign = site !== undefined && site !== 'same-origin' && site !== 'none'
    const origin = req.get('Origin')
    const elsewhere = origin !== undefined && hostOf(origin) !== req.get('Host')
    if (foreign || elsewhere)
      return next(new Problem(403, 'Changes come from Voskel’s own pages only', 'Open Voskel itself.'))
    const hasBody = Number(req.get('Content-Length') ?? 0) > 0 || req.get('Transfer-Encoding') !== undefined
    // A form of another page can send text and forms, but neither JSON nor bare bytes.
    if (hasBody && !req.is(['application/json', 'application/octet-stream']))
      return next(new Problem(415, 'The body must be JSON', 'Send it as Content-Type: application/json.'))
    next()
  }
}

/** Host and port of an origin; null for `null` and what is no address. */
function hostOf(origin: string): string | null {
  return URL.canParse(origin) ? new URL(origin).host : null
}

/** ms that a wrong token waits for its answer, and its address before the next: doubled by each one before, up to the most. */
const FIRST_WAIT = 100
const MOST_WAIT = 5000

/** ms after which wrong tokens are forgotten */
const FORGOTTEN = 600_000

/** Addresses that are remembered at the most. */
const MOST_ADDRESSES = 10_000

/** How often an address has guessed wrong, and until when it may not guess again. */
interface Tries {
  count: number
  until: number
}

export interface TokenGuard {
  /** Wants the access token, as a bearer token or as the cookie that opening `/?token=…` sets. */
  readonly require: RequestHandler
  /** Takes the cookie away. */
  readonly signOut: RequestHandler
}

/**
 * The keeper of an access token.
 *
 * @param wrong told of each address that came with a wrong token
 */
export function tokenGuard(
  token: string,
  wrong: (address: string, times: number) => void = () => undefined,
  now: () => number = Date.now,
): TokenGuard {
  const digest = (text: string) => createHash('sha256').update(text).digest()
  const expected = digest(token)
  const fits = (given: string | undefined) => given !== undefined && timingSafeEqual(digest(given), expected)
  const known = new Map<string, Tries>()
  const refused = (address: string): number => {
    const before = known.get(address)
    const isFresh = before !== undefined && now() - before.until <= FORGOTTEN
    const count = isFresh ? before.count + 1 : 1
    const wait = Math.min(MOST_WAIT, FIRST_WAIT * 2 ** (count - 1))
    // The one that has been quiet for longest makes room.
    known.delete(address)
    known.set(address, { count, until: now() + wait })
    if (known.size > MOST_ADDRESSES) known.delete(known.keys().next().value!)
    wrong(address, count)
    return wait
  }
  return {
    require(req, res, next) {
      const bearer = /^Bearer (.+)$/.exec(req.get('Authorization') ?? '')?.[1]
      const cookie = new RegExp(`(?:^|; )${COOKIE}=([^;]*)`).exec(req.get('Cookie') ?? '')?.[1]
      const asked = typeof req.query.token === 'string' ? req.query.token : undefined
      const address = req.ip ?? 'unknown'
      const isGuess = bearer !== undefined || cookie !== undefined || asked !== undefined
      const blocked = isGuess ? (known.get(address)?.until ?? 0) - now() : 0
      if (blocked > 0) {
        // Not even looked at: guesses that are sent side by side would gain what waiting takes.
        res.set('Retry-After', String(Math.ceil(blocked / 1000)))
        return next(new Problem(429, 'A wrong token came from there just now', 'Wait a few seconds, then try again.'))
      }
      if (fits(bearer) || fits(decoded(cookie))) return next()
      if (fits(asked)) {
        res.cookie(COOKIE, asked, { httpOnly: true, sameSite: 'strict', secure: req.secure })
        // One slash: two would be the address of another host.
        return res.redirect(req.path.replace(/^[/\\]+/, '/'))
      }
      const problem = new Problem(
        401,
        'An access token is needed',
        'Open the address with ?token=… that the server’s keeper has.',
      )
      if (!isGuess) return next(problem)
      setTimeout(() => next(problem), refused(address)).unref()
    },
    signOut(_req, res) {
      res.clearCookie(COOKIE, { httpOnly: true, sameSite: 'strict' }).status(204).end()
    },
  }
}

/** A cookie's text; undefined where its percent signs are broken. */
function decoded(text: string | undefined): string | undefined {
  try {
    return text && decodeURIComponent(text)
  } catch {
    return undefined
  }
}
