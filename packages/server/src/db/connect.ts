import { createClient } from '@libsql/client'
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql'
import { migrate } from 'drizzle-orm/libsql/migrator'
import * as schema from './schema.js'

export type Database = LibSQLDatabase<typeof schema>

/** An open database and how to close it. */
export interface Connection {
  db: Database
  close(): void
}

/**
 * Opens a database and brings its tables up to date.
 *
 * @param url `file:…` for a SQLite file, or the address of a libSQL server
 * @param migrations folder of the committed migrations
 */
export async function connect(url: string, migrations: string): Promise<Connection> {
  const client = createClient({ url })
  if (url.startsWith('file:')) {
    // A write-ahead log survives a kill at any moment and lets readers go on while one writes.
    await client.execute('PRAGMA journal_mode = WAL')
    await client.execute('PRAGMA busy_timeout = 5000')
  }
  const db = drizzle(client, { schema })
  await migrate(db, { migrationsFolder: migrations })
  return { db, close: () => client.close() }
}
