import { get } from 'node:http'
import { connect as connectSocket } from 'node:net'
import { Writable } from 'node:stream'
import { pino } from 'pino'
import { afterEach, describe, expect, test } from 'vitest'
import { SettingsError, settingsOf } from './settings.js'
import { json, serve, type Served } from './testing/served.js'

const TOKEN = 'seal-number-forty-2'
let served: Served | null = null
afterEach(async () => {
  await served?.stop()
  served = null
})

/** A request whose headers a browser would not let a page set. */
const raw = (base: string, path: string, headers: Record<string, string>) =>
  new Promise<{ status: number; location?: string }>((done) =>
    get(base + path, { headers }, (res) => {
      res.resume()
      done({ status: res.statusCode!, ...(res.headers.location && { location: res.headers.location }) })
    }),
  )

describe('on loopback', () => {
  test('foreign host names are turned away', async () => {
    served = await serve()
    expect((await raw(served.base, '/api/health', { Host: 'evil.example' })).status).toBe(403)
    expect((await raw(served.base, '/api/health', { Host: 'localhost:1' })).status).toBe(200)
  })

  test.each([
    ['Sec-Fetch-Site: cross-site', { 'Sec-Fetch-Site': 'cross-site' }],
    ['Sec-Fetch-Site: same-site', { 'Sec-Fetch-Site': 'same-site' }],
    ['a foreign Origin', { Origin: 'http://evil.example' }],
    ['an Origin without a name', { Origin: 'null' }],
    ['an Origin that is no address', { Origin: '*' }],
    ['another port of the same host', { Origin: 'http://127.0.0.1:1' }],
  ])('a change with %s is refused', async (_, headers) => {
    served = await serve()
    const { project, design } = await served.newDesign()
    const changes = [
      served.call('POST', '/api/projects', { name: 'x' }, headers),
      served.call('PATCH', `/api/projects/${project}`, { name: 'x' }, headers),
      served.call('DELETE', `/api/designs/${design}`, undefined, headers),
      served.call('POST', `/api/designs/${design}/duplicate`, undefined, headers),
    ]
    expect((await Promise.all(changes)).map((r) => r.status)).toEqual([403, 403, 403, 403])
    expect(await json(served.call('GET', '/api/projects'))).toMatchObject([{ name: 'P', designs: [{ id: design }] }])
  })

  test('Voskel’s own pages and programs without a page may change', async () => {
    served = await serve()
    const own = { Origin: served.base, 'Sec-Fetch-Site': 'same-origin' }
    expect((await served.call('POST', '/api/projects', { name: 'x' }, own)).status).toBe(201)
    expect((await served.call('POST', '/api/projects', { name: 'x' }, { Origin: served.base })).status).toBe(201)
    expect((await served.call('POST', '/api/projects', { name: 'x' })).status).toBe(201)
  })

  test.each(['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x', ''])(
    'a body of type "%s" is 415',
    async (type) => {
      served = await serve()
      const sent = await served.call('POST', '/api/projects', '{"name":"x"}', { 'Content-Type': type })
      expect(sent.status).toBe(415)
      expect(await json(served.call('GET', '/api/projects'))).toEqual([])
    },
  )
})

describe('with a token', () => {
  test('only those who bring it come in, and they can sign out', async () => {
    served = await serve({ token: TOKEN })
    expect((await served.call('GET', '/api/health')).status).toBe(401)
    const bearer = await served.call('GET', '/api/health', undefined, { Authorization: `Bearer ${TOKEN}` })
    expect(await bearer.json()).toEqual({ status: 'ok', access: 'token' })
    const open = await served.call('GET', `/api/health?token=${TOKEN}`)
    expect(open.status).toBe(302)
    expect(open.headers.get('Location')).toBe('/api/health')
    const [cookie, ...marks] = open.headers.get('Set-Cookie')!.split('; ')
    expect(marks).toEqual(expect.arrayContaining(['HttpOnly', 'SameSite=Strict']))
    expect((await served.call('GET', '/api/health', undefined, { Cookie: cookie! })).status).toBe(200)
    const out = await served.call('DELETE', '/api/session', undefined, { Cookie: cookie! })
    expect(out.status).toBe(204)
    expect(out.headers.get('Set-Cookie')).toMatch(/^voskel_token=; .*Expires=Thu, 01 Jan 1970/)
  })

  test('it is not sent on to another site', async () => {
    served = await serve({ token: TOKEN })
    for (const path of ['//evil.example/', '///evil.example/a', '/\\evil.example/']) {
      const { host, port } = new URL(served.base)
      const answer = await new Promise<string>((done) => {
        const socket = connectSocket(Number(port), '127.0.0.1', () =>
          socket.write(`GET ${path}?token=${TOKEN} HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\n\r\n`),
        )
        let text = ''
        socket.on('data', (piece) => (text += piece.toString())).on('close', () => done(text))
      })
      expect(answer).toMatch(/^HTTP\/1\.1 302/)
      const location = /^location: (.*)$/im.exec(answer)![1]!.trim()
      expect(new URL(location, served.base).host).toBe(host)
    }
  })

  test('guesses side by side gain nothing: an address has one at a time, and others have theirs', async () => {
    served = await serve({ token: TOKEN })
    const guess = (token: string, from: string) =>
      served!.call('GET', '/api/health', undefined, { Authorization: `Bearer ${token}`, 'X-Forwarded-For': from })
    // The fourth waits for 800 ms, in which the others come.
    for (let k = 0; k < 3; k++) await guess('not the token either', '203.0.113.7')
    const first = guess('not the token at all', '203.0.113.7')
    await new Promise((done) => setTimeout(done, 30))
    const side = await Promise.all(Array.from({ length: 20 }, () => guess('another wrong one', '203.0.113.7')))
    for (const answer of side) {
      expect(answer.status).toBe(429)
      expect(Number(answer.headers.get('Retry-After'))).toBeGreaterThan(0)
    }
    // The right one is not looked at either, and from elsewhere at once.
    expect((await guess(TOKEN, '203.0.113.7')).status).toBe(429)
    expect((await guess(TOKEN, '203.0.113.8')).status).toBe(200)
    expect((await first).status).toBe(401)
    expect((await guess(TOKEN, '203.0.113.7')).status).toBe(200)
  })

  test.each([
    ['https', true],
    ['http', false],
  ])('behind a proxy that speaks %s the cookie is Secure: %s', async (scheme, secure) => {
    served = await serve({ token: TOKEN })
    const open = await served.call('GET', `/?token=${TOKEN}`, undefined, { 'X-Forwarded-Proto': scheme })
    expect(open.headers.get('Set-Cookie')!.split('; ').includes('Secure')).toBe(secure)
  })

  test('wrong ones wait longer each time and are told to the keeper, without the token', async () => {
    const lines: string[] = []
    const keeper = new Writable({ write: (line: Buffer, _, done) => (lines.push(line.toString()), done()) })
    served = await serve({ token: TOKEN, log: pino({ level: 'warn' }, keeper) })
    const waits: number[] = []
    for (let k = 0; k < 4; k++) {
      const start = performance.now()
      const guess = await served.call('GET', '/api/health', undefined, {
        Authorization: `Bearer ${'guessed'.repeat(3)}`,
      })
      expect(guess.status).toBe(401)
      waits.push(performance.now() - start)
    }
    // The waits are 100, 200, 400 and 800 ms, timers being late at most.
    waits.forEach((wait, k) => expect(wait).toBeGreaterThan(95 * 2 ** k))
    expect(lines).toHaveLength(4)
    expect(JSON.parse(lines[3]!)).toMatchObject({ msg: 'wrong token', times: 4 })
    expect(lines.join()).not.toContain('guessed')
  })
})

describe('settings that cannot be used are said in a sentence', () => {
  test.each([
    [{ VOSKEL_TOKEN: '' }, /VOSKEL_TOKEN has 0 characters; .* at least 16, for example \S{24}\.$/],
    [{ VOSKEL_TOKEN: 'x' }, /has 1 characters/],
    [{ VOSKEL_TOKEN: 'fifteen-letters' }, /at least 16/],
    [{ VOSKEL_HOST: '0.0.0.0' }, /wants an access token/],
    [{ VOSKEL_PORT: 'http' }, /whole number from 0 to 65535/],
    [{ VOSKEL_PORT: '65536' }, /whole number from 0 to 65535/],
    [{ VOSKEL_PORT: '-1' }, /whole number from 0 to 65535/],
    [{ VOSKEL_LOG: 'loud' }, /silent, fatal, error/],
    [{ VOSKEL_DATABASE_URL: 'nonsense' }, /must name a libSQL server/],
    [{ VOSKEL_DATABASE_URL: 'file:a#b.db' }, /For a file set VOSKEL_DATA_DIR/],
    [{ VOSKEL_DEMO: '/no/where' }, /no project\.json/],
    [{ VOSKEL_DATA_DIR: import.meta.filename }, /is a file/],
    [{ VOSKEL_DATA_DIR: `${import.meta.filename}/deeper` }, /cannot be made/],
  ])('%o', (env, sentence) => {
    expect(() => settingsOf(env)).toThrow(sentence)
    expect(() => settingsOf(env)).toThrow(SettingsError)
  })

  test('a token that is offered is long enough to be taken', () => {
    const offered = /example (\S+)\.$/
    const sentence = (() => {
      try {
        settingsOf({ VOSKEL_TOKEN: '' })
      } catch (error) {
        return (error as Error).message
      }
      return ''
    })()
    expect(settingsOf({ VOSKEL_TOKEN: offered.exec(sentence)![1]!, VOSKEL_HOST: '0.0.0.0' }).host).toBe('0.0.0.0')
  })
})
