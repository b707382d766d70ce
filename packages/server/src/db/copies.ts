import { chmodSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { type Client, createClient } from '@libsql/client'

/** ms that a writer waits for another one. */
export const BUSY_TIMEOUT = 5000

/** Copies that are kept; older ones go. */
const MOST_COPIES = 10

/** A database that cannot be used, in one plain sentence. */
export class DatabaseError extends Error {}

/** Where the copies of a database file lie. */
export const copiesOf = (file: string): string => join(dirname(file), 'copies')

/** The copies of a database, oldest first: their names begin with their time. */
export function listCopies(file: string): string[] {
  const folder = copiesOf(file)
  if (!existsSync(folder)) return []
  return readdirSync(folder)
    .filter((name) => name.endsWith('.db'))
    .sort()
    .map((name) => join(folder, name))
}

/**
 * Copies an open database, whole and by itself: what lies in its write-ahead log included.
 *
 * @param reason what the copy is for, as part of its name
 * @returns the copy's path
 */
export async function copyDatabase(client: Client, file: string, reason: string, now: number): Promise<string> {
  mkdirSync(copiesOf(file), { recursive: true, mode: 0o700 })
  const stamp = new Date(now).toISOString().replace(/[:.]/g, '-')
  const copy = join(copiesOf(file), `${stamp}-${reason}.db`)
  await writeCopy(client, copy)
  for (const old of listCopies(file).slice(0, -MOST_COPIES)) rmSync(old)
  return copy
}

/** Writes a copy to a path of its own and proves it. @throws DatabaseError where the copy is not sound */
export async function writeCopy(client: Client, target: string): Promise<void> {
  const half = `${target}.part`
  rmSync(half, { force: true })
  await client.execute({ sql: 'VACUUM INTO ?', args: [half] })
  chmodSync(half, 0o600)
  const problem = await problemOf(half)
  if (problem) {
    rmSync(half)
    throw new DatabaseError(`The copy ${target} could not be written whole: ${problem}.`)
  }
  renameSync(half, target)
}

/** What is wrong with a database file; null where it is sound. */
export async function problemOf(file: string): Promise<string | null> {
  let client: Client | null = null
  try {
    client = createClient({ url: pathToFileURL(file).href, timeout: BUSY_TIMEOUT })
    const { rows } = await client.execute('PRAGMA quick_check(1)')
    const answer = String(rows[0]?.[0])
    return answer === 'ok' ? null : answer.replace(/\s+/g, ' ')
  } catch (error) {
    return (error as Error).message.replace(/\s+/g, ' ')
  } finally {
    client?.close()
  }
}

/** The sentence about a damaged file: what is wrong and where the copies are. */
export function damaged(file: string, problem: string): DatabaseError {
  const copies = listCopies(file)
  const way =
    copies.length > 0
      ? `The last of ${copies.length} copies is ${copies.at(-1)}; bring it back with: npm run restore -- "${copies.at(-1)}"`
      : `There is no copy in ${copiesOf(file)}; move the file away to begin anew`
  return new DatabaseError(`The database ${file} is damaged (${problem.slice(0, 200)}). ${way}.`)
}

/** Puts a copy in the place of a database that no server has open; what was there is kept beside it. */
export async function restoreCopy(copy: string, file: string, now: number): Promise<string | null> {
  const problem = await problemOf(copy)
  if (problem) throw new DatabaseError(`${copy} is no sound copy: ${problem}.`)
  const stamp = new Date(now).toISOString().replace(/[:.]/g, '-')
  const aside = existsSync(file) ? `${file}.${stamp}.before-restore` : null
  const half = `${file}.part`
  const client = createClient({ url: pathToFileURL(copy).href })
  try {
    await client.execute('select 1 from designs limit 1')
    await writeCopy(client, half)
  } catch (error) {
    throw error instanceof DatabaseError
      ? error
      : new DatabaseError(`${basename(copy)} is no database of designs: ${(error as Error).message}.`)
  } finally {
    client.close()
  }
  // What was edited after the copy was made has had the same revision numbers: nobody may take one for the other.
  const restored = createClient({ url: pathToFileURL(half).href })
  await restored.execute({ sql: 'update designs set revision = revision + ?', args: [REVISIONS_AHEAD] })
  restored.close()
  // The log belongs to the file: without it, what was there before would not be whole.
  for (const tail of ['', '-wal']) if (aside && existsSync(file + tail)) renameSync(file + tail, aside + tail)
  rmSync(`${file}-shm`, { force: true })
  renameSync(half, file)
  return aside
}

/** Saves that nobody makes between two copies. */
const REVISIONS_AHEAD = 1_000_000
