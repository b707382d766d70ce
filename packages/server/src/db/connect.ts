import { chmodSync, existsSync, statSync } from 'node:fs'
import { basename } from 'node:path'
import { type Client, createClient } from '@libsql/client'
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql'
import { readMigrationFiles } from 'drizzle-orm/migrator'
import { migrate } from 'drizzle-orm/libsql/migrator'
import { BUSY_TIMEOUT, copyDatabase, damaged, listCopies, problemOf } from './copies.js'
import { isFull } from './full.js'
import * as schema from './schema.js'
import { type Mended, mendTexts } from './texts.js'

export type Database = LibSQLDatabase<typeof schema>

/** An open database and how to close it. */
export interface Connection {
  db: Database
  /** False where the file that was opened no longer lies in its place: what is written now would be lost. */
  isInPlace(): boolean
  /** Texts that held bytes which are none, as found at the start. */
  readonly mended: readonly Mended[]
  /** Ends with everything in the database's one file. */
  close(): Promise<void>
}

/**
 * Opens a database and brings its tables up to date. A file is checked first, and copied where its tables change and once
 * a day.
 *
 * @param url `file:…` for a SQLite file, `:memory:`, or the address of a libSQL server
 * @param migrations folder of the committed migrations
 * @param file the path of that file; null for the others
 * @throws DatabaseError where the file is damaged
 */
export async function connect(
  url: string,
  migrations: string,
  file: string | null = null,
  now: () => number = Date.now,
): Promise<Connection> {
  const exists = file !== null && existsSync(file)
  if (exists) {
    const problem = await problemOf(file)
    if (problem) throw damaged(file, problem)
  }
  const client = createClient({ url, timeout: BUSY_TIMEOUT })
  if (file !== null) {
    // A write-ahead log survives a kill at any moment and lets readers go on while one writes.
    await client.execute('PRAGMA journal_mode = WAL')
    await unlessFull(() => checkpoint(client))
    chmodSync(file, 0o600)
    if (exists) await unlessFull(() => copyWhereDue(client, migrations, file, now()))
  }
  const db = drizzle(client, { schema })
  await migrate(db, { migrationsFolder: migrations })
  const mended = file === null ? [] : await mendTexts(client)
  const inode = file === null ? null : statSync(file).ino
  const isInPlace = () => file === null || (existsSync(file) && statSync(file).ino === inode)
  return {
    db,
    isInPlace,
    mended,
    async close() {
      try {
        // A copy of the one file is then a copy of everything.
        if (file !== null && isInPlace()) await checkpoint(client)
      } finally {
        client.close()
      }
    },
  }
}

/** Where storage is full what is kept can still be read, and got out: the start is no place to end. */
async function unlessFull(step: () => Promise<void>): Promise<void> {
  try {
    await step()
  } catch (error) {
    if (!isFull(error)) throw error
  }
}

/** Moves what the write-ahead log holds into the file. */
async function checkpoint(client: Client): Promise<void> {
  await client.execute('PRAGMA wal_checkpoint(TRUNCATE)')
}

async function copyWhereDue(client: Client, migrations: string, file: string, now: number): Promise<void> {
  const known = readMigrationFiles({ migrationsFolder: migrations }).length
  const count = async (sql: string) => Number((await client.execute(sql)).rows[0]![0])
  const begun = await count("select count(*) from sqlite_master where name = '__drizzle_migrations'")
  const done = begun > 0 ? await count('select count(*) from __drizzle_migrations') : 0
  if (done < known) {
    await copyDatabase(client, file, `before-version-${known}`, now)
    return
  }
  const today = new Date(now).toISOString().slice(0, 10)
  const fresh = listCopies(file).some((copy) => basename(copy).startsWith(today))
  if (!fresh) await copyDatabase(client, file, 'daily', now)
}
