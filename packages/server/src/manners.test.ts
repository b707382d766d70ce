import { connect } from 'node:net'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { document, json, serve, type Served } from './testing/served.js'

let served: Served
beforeEach(async () => void (served = await serve()))
afterEach(() => served.stop())

const types = (response: Response) => response.headers.get('Content-Type')

test.each([
  ['PUT', '/api/projects', 'GET, HEAD, POST'],
  ['GET', '/api/projects/p', 'PATCH, DELETE'],
  ['GET', '/api/projects/p/designs', 'POST'],
  ['POST', '/api/designs/d', 'GET, HEAD, PUT, DELETE'],
  ['GET', '/api/designs/d/duplicate', 'POST'],
  ['DELETE', '/api/health', 'GET, HEAD'],
])('%s %s is 405 and names what is possible', async (method, path, allowed) => {
  const answer = await served.call(method, path)
  expect(answer.status).toBe(405)
  expect(answer.headers.get('Allow')).toBe(allowed)
  expect(types(answer)).toContain('application/problem+json')
})

test.each([
  ['a charset that nobody knows', { 'Content-Type': 'application/json; charset=klingon' }, 415],
  ['an encoding that nobody knows', { 'Content-Encoding': 'rot13' }, 415],
  ['an encoding that it is not', { 'Content-Encoding': 'gzip' }, 400],
])('%s is the client’s fault', async (_, headers, status) => {
  const answer = await served.call('POST', '/api/projects', { name: 'x' }, headers)
  expect(answer.status).toBe(status)
  expect(types(answer)).toContain('application/problem+json')
})

test.each(['/api/designs/%zz', '/api/designs/%00', `/api/designs/${'x'.repeat(5000)}`, '/api/designs/..%2f..%2f'])(
  'an address such as %s is 4xx and no page',
  async (path) => {
    const answer = await served.call('GET', path)
    expect([400, 404]).toContain(answer.status)
    expect(types(answer)).toContain('application/problem+json')
  },
)

test.each(['"1', '1', '*', '"-1"', '"1.5"', `"${'9'.repeat(400)}"`, 'W/"1"', '""', '"1", "2"'])(
  'If-Match: %s is 400 and saves nothing',
  async (tag) => {
    const { design } = await served.newDesign()
    expect((await served.call('PUT', `/api/designs/${design}`, document('x'), { 'If-Match': tag })).status).toBe(400)
    expect(await json(served.call('GET', `/api/designs/${design}`))).toMatchObject({ revision: 1 })
  },
)

const sent = (text: string) =>
  new Promise<string>((done) => {
    const { port } = new URL(served.base)
    const socket = connect(Number(port), '127.0.0.1', () => socket.write(text))
    let answer = ''
    socket.on('data', (piece) => (answer += piece.toString())).on('close', () => done(answer))
  })

test.each([
  ['no HTTP', 'EHLO there\r\n\r\n', 400],
  ['two lengths', 'GET / HTTP/1.1\r\nHost: localhost\r\nContent-Length: 1\r\nContent-Length: 2\r\n\r\n', 400],
  ['headers without end', `GET / HTTP/1.1\r\nHost: localhost\r\nX: ${'x'.repeat(70_000)}\r\n\r\n`, 431],
  ['two hosts', 'GET /api/health HTTP/1.1\r\nHost: localhost\r\nHost: evil.example\r\nConnection: close\r\n\r\n', 400],
])('%s is answered by a problem document', async (_, text, status) => {
  const answer = await sent(text)
  expect(answer).toMatch(new RegExp(`^HTTP/1\\.1 ${status} `))
  expect(answer).toMatch(/content-type: application\/problem\+json/i)
  expect(JSON.parse(answer.slice(answer.indexOf('\r\n\r\n') + 4))).toMatchObject({ status })
})

test('someone who opens an address reads a sentence, a program a problem document', async () => {
  const browser = { Accept: 'text/html,application/xhtml+xml,*/*;q=0.8' }
  const read = await served.call('GET', '/api/designs/none', undefined, browser)
  expect([read.status, types(read)]).toEqual([404, 'text/plain; charset=utf-8'])
  expect(await read.text()).toMatch(/^There is no such design\n\n/)
  expect(types(await served.call('GET', '/api/designs/none'))).toContain('application/problem+json')
})

test('a hundred thousand unknown fields are answered in a few words', async () => {
  const { design } = await served.newDesign()
  const odd = Object.fromEntries(Array.from({ length: 100_000 }, (_, k) => [`field${k}`, k]))
  const answer = await served.call('PUT', `/api/designs/${design}`, { ...document(), ...odd }, { 'If-Match': '"1"' })
  expect(answer.status).toBe(422)
  expect((await answer.text()).length).toBeLessThan(5000)
})

test.each(['a\0b', '\ud800', ' ', '\udc00x'])('a project named %j is refused', async (name) => {
  expect((await served.call('POST', '/api/projects', { name })).status).toBe(422)
  expect(await json(served.call('GET', '/api/projects'))).toEqual([])
})

test('the row that the health check writes is no project', async () => {
  expect((await served.call('GET', '/api/health')).status).toBe(200)
  expect((await served.call('GET', '/api/health')).status).toBe(200)
  expect(await json(served.call('GET', '/api/projects'))).toEqual([])
  expect((await served.call('POST', '/api/projects/health%20check/restore')).status).toBe(404)
})
