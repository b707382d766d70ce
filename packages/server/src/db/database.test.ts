import { spawn } from 'node:child_process'
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { createClient } from '@libsql/client'
import { sql } from 'drizzle-orm'
import { Writable } from 'node:stream'
import { pino } from 'pino'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { StoredDesign } from '../repos/designRepo.js'
import { document, json, MIGRATIONS, serve, type Served } from '../testing/served.js'
import { type Connection, connect } from './connect.js'
import { lockStart } from './startLock.js'
import { copiesOf, listCopies, restoreCopy } from './copies.js'

const DAY = 86_400_000
const NOON = Date.UTC(2026, 10, 2, 12)
let folder: string
let file: string
let served: Served | null

beforeEach(() => {
  // A sign that means something in addresses, and a blank.
  folder = mkdtempSync(join(tmpdir(), 'voskel #1 '))
  file = join(folder, 'voskel.db')
  served = null
})
afterEach(async () => {
  await served?.stop()
  rmSync(folder, { recursive: true })
})

const open = (now = NOON) => connect(pathToFileURL(file).href, MIGRATIONS, file, () => now)
const begin = async (now = NOON) => (served = await serve({ connection: await open(now) }))
async function end() {
  await served!.stop()
  served = null
}

/** Opens a file of its own, as someone does who took it along. */
async function rowsIn(path: string) {
  const client = createClient({ url: pathToFileURL(path).href })
  const { rows } = await client.execute('select id, revision from designs order by id')
  client.close()
  return rows.map((row) => [row.id, row.revision])
}

describe('the file', () => {
  test('holds everything after a stop, by itself, and is its keeper’s alone', async () => {
    const { design } = await (await begin()).newDesign()
    await end()
    expect(statSync(file).mode & 0o777).toBe(0o600)
    const alone = join(folder, 'alone.db')
    copyFileSync(file, alone)
    expect(await rowsIn(alone)).toEqual([[design, 1]])
  })

  test('holds everything after a start that follows a kill', async () => {
    const { design } = await (await begin()).newDesign()
    // As a kill leaves it: the log beside the file, nobody has closed it.
    const killed = mkdtempSync(join(tmpdir(), 'voskel-killed-'))
    for (const name of readdirSync(folder)) {
      if (name.startsWith('voskel.db')) copyFileSync(join(folder, name), join(killed, name))
    }
    const again = await connect(pathToFileURL(join(killed, 'voskel.db')).href, MIGRATIONS, join(killed, 'voskel.db'))
    const alone = join(folder, 'alone.db')
    copyFileSync(join(killed, 'voskel.db'), alone)
    expect(await rowsIn(alone)).toEqual([[design, 1]])
    await again.close()
    rmSync(killed, { recursive: true })
  })

  test('where it is damaged is not served, and it is said where the copies are', async () => {
    await (await begin()).newDesign()
    await end()
    const bytes = readFileSync(file)
    writeFileSync(file, bytes.fill(0x5a, 4096, bytes.length - 100))
    await expect(open()).rejects.toThrow(/voskel\.db is damaged \(.*There is no copy in .*copies; move the file away/)
    writeFileSync(file, 'no database at all, but long enough to be taken for one: '.repeat(100))
    await expect(open()).rejects.toThrow(/voskel\.db is damaged \(.*not a database/)
    expect(readFileSync(file, 'utf8')).toMatch(/^no database at all/)
  })

  test('where it is gone, nothing is said to be kept', async () => {
    const { call } = await begin()
    expect((await call('GET', '/api/health')).status).toBe(200)
    rmSync(file)
    expect((await call('POST', '/api/projects', { name: 'lost' })).status).toBe(503)
    expect((await call('GET', '/api/health')).status).toBe(503)
  })

  test('one row that cannot be read does not take the others', async () => {
    const { call, newDesign, connection } = await begin()
    const one = await newDesign()
    const other = await newDesign()
    await connection.db.run(sql`update designs set document = '{"format":' where id = ${one.design}`)
    expect(await json(call('GET', '/api/projects'))).toHaveLength(2)
    expect((await call('GET', `/api/designs/${one.design}`)).status).toBe(500)
    expect((await call('GET', `/api/designs/${other.design}`)).status).toBe(200)
  })

  test('when it cannot grow, that is 507, and no log line carries the design', async () => {
    const lines: string[] = []
    const keeper = new Writable({ write: (line: Buffer, _, done) => (lines.push(line.toString()), done()) })
    served = await serve({ connection: await open(), log: pino({ level: 'error' }, keeper) })
    const { design } = await served.newDesign()
    const pages = await served.connection.db.get<{ page_count: number }>(sql`pragma page_count`)
    await served.connection.db.run(sql.raw(`pragma max_page_count = ${pages.page_count}`))
    const secret = 'loon '.repeat(3000)
    const full = await served.call(
      'PUT',
      `/api/designs/${design}`,
      { ...document(), notes: secret },
      { 'If-Match': '"1"' },
    )
    expect(full.status).toBe(507)
    expect(await json(served.call('GET', `/api/designs/${design}`))).toMatchObject({ revision: 1 })
    expect(lines).toHaveLength(1)
    expect(lines[0]).not.toContain('loon')
  })
})

describe('copies', () => {
  test('are made every day that a server starts, and the last ten stay', async () => {
    const { design } = await (await begin()).newDesign()
    await end()
    for (let day = 1; day <= 12; day++) {
      await begin(NOON + day * DAY)
      await end()
      await begin(NOON + day * DAY + 1000)
      await end()
    }
    const copies = listCopies(file)
    expect(copies).toHaveLength(10)
    expect(copies[0]).toContain('2026-11-05')
    expect(copies.at(-1)).toContain('2026-11-14')
    expect(await rowsIn(copies.at(-1)!)).toEqual([[design, 1]])
    expect(statSync(copies.at(-1)!).mode & 0o777).toBe(0o600)
  })

  test('are made before tables change', async () => {
    const { design } = await (await begin()).newDesign()
    await served!.connection.db.run(sql`delete from __drizzle_migrations`)
    await end()
    await expect(open()).rejects.toThrow()
    const copies = listCopies(file)
    expect(copies.map((copy) => copy.replace(/^.*-before/, 'before'))).toEqual(['before-version-4.db'])
    expect(await rowsIn(copies[0]!)).toEqual([[design, 1]])
  })

  test('bring back what was, under revisions that nobody has seen', async () => {
    const { design } = await (await begin()).newDesign()
    await end()
    await begin(NOON + DAY)
    const saved = await served!.call('PUT', `/api/designs/${design}`, document('later'), { 'If-Match': '"1"' })
    expect(saved.headers.get('ETag')).toBe('"2"')
    await end()
    const aside = await restoreCopy(listCopies(file)[0]!, file, NOON + DAY)
    expect(await rowsIn(aside!)).toEqual([[design, 2]])
    await begin(NOON + DAY)
    const back = await json<StoredDesign>(served!.call('GET', `/api/designs/${design}`))
    expect(back.document.name).toBe('Test design')
    expect(back.revision).toBeGreaterThan(2)
    const stale = await served!.call('PUT', `/api/designs/${design}`, document('stale'), { 'If-Match': '"2"' })
    expect(stale.status).toBe(412)
  })

  test('that are not sound, or are no designs, are not brought back', async () => {
    const { design } = await (await begin()).newDesign()
    await end()
    const odd = join(folder, 'odd.db')
    writeFileSync(odd, 'x'.repeat(5000))
    await expect(restoreCopy(odd, file, NOON)).rejects.toThrow(/is no sound copy/)
    const other = join(folder, 'other.db')
    const client = createClient({ url: pathToFileURL(other).href })
    await client.execute('create table birds (name)')
    client.close()
    await expect(restoreCopy(other, file, NOON)).rejects.toThrow(/is no database of designs/)
    expect(await rowsIn(file)).toEqual([[design, 1]])
    expect(existsSync(copiesOf(file))).toBe(false)
  })
})

test('servers that start together on one file follow each other', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'voskel-start-')), 'voskel.db')
  const release = await lockStart(file)
  // SQLite waits inside its own call, so that the other one must be another process.
  const other = spawn(
    process.execPath,
    [
      '--input-type=module',
      '-e',
      `import { createClient } from '@libsql/client'
     const client = createClient({ url: ${JSON.stringify(pathToFileURL(`${file}-start`).href)}, timeout: 20000 })
     const begun = Date.now()
     process.stdout.write('asks ')
     const held = await client.transaction('write')
     process.stdout.write(String(Date.now() - begun))
     await held.rollback()`,
    ],
    { cwd: import.meta.dirname },
  )
  let said = ''
  await new Promise<void>((asked) => other.stdout.on('data', (piece) => ((said += piece), asked())))
  await new Promise((done) => setTimeout(done, 600))
  expect(said).toBe('asks ')
  await release()
  await new Promise((done) => other.on('close', done))
  expect(Number(said.replace('asks ', ''))).toBeGreaterThan(400)
})

test('a byte that is no UTF-8 is mended at the start: nothing else is touched, and nobody is turned away', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'voskel-bytes-')), 'voskel.db')
  const url = pathToFileURL(file).href
  const first = await serve({ connection: await connect(url, MIGRATIONS, file) })
  const { project, design } = await first.newDesign()
  await first.call('POST', '/api/projects', { name: 'Sound: Ω µ 🌊' })
  await first.stop()
  const client = createClient({ url })
  await client.execute(`update projects set name = cast(x'41ff42' as text) where id = '${project}'`)
  client.close()
  const connection = await connect(url, MIGRATIONS, file)
  expect(connection.mended).toEqual([{ table: 'projects', column: 'name', row: project }])
  const again = await serve({ connection })
  const names = (await json<{ name: string }[]>(again.call('GET', '/api/projects'))).map((p) => p.name)
  expect(names.sort()).toEqual(['A\ufffdB', 'Sound: Ω µ 🌊'].sort())
  expect((await again.call('GET', `/api/designs/${design}`)).status).toBe(200)
  await again.stop()
  const whole = await connect(url, MIGRATIONS, file)
  expect(whole.mended).toEqual([])
  await whole.close()
})

test.each([
  ['SQLITE_CORRUPT', 'database disk image is malformed', 'GET', 500, 'The database is damaged'],
  ['SQLITE_NOTADB', 'file is not a database', 'POST', 500, 'The database is damaged'],
  ['SQLITE_IOERR_SHORT_READ', 'disk I/O error', 'POST', 500, 'The database is damaged'],
  ['SQLITE_IOERR', 'disk I/O error', 'GET', 500, 'The database is damaged'],
  ['SQLITE_IOERR', 'disk I/O error', 'POST', 507, 'The server’s disk is full'],
  ['SQLITE_FULL', 'database or disk is full', 'POST', 507, 'The server’s disk is full'],
])('%s (%s) at a %s is %i: %s', async (code, message, method, status, title) => {
  const thrower = (): never => {
    throw Object.assign(new Error(message), { code })
  }
  const db = new Proxy({}, { get: () => thrower }) as Connection['db']
  const broken = await serve({ connection: { db, isInPlace: () => true, mended: [], close: () => Promise.resolve() } })
  const answer = await broken.call(method, '/api/projects', method === 'POST' ? { name: 'x' } : undefined)
  expect([answer.status, (await json<{ title: string }>(answer)).title]).toEqual([status, title])
  await broken.stop()
})
