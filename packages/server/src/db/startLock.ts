import { pathToFileURL } from 'node:url'
import { createClient } from '@libsql/client'
import { isFull } from './full.js'

/** ms that a start waits for another one: tables are changed in less. */
const PATIENCE = 60_000

/**
 * Lets one server at a time bring a database file up to date and fill it: those that start together follow each other. The lock
 * is SQLite's own, on a file beside it, so that what dies leaves none behind.
 *
 * @param file the database's path; null where another server keeps it
 * @returns lets the next one go
 */
export async function lockStart(file: string | null): Promise<() => Promise<void>> {
  if (file === null) return () => Promise.resolve()
  const client = createClient({ url: pathToFileURL(`${file}-start`).href, timeout: PATIENCE })
  try {
    const held = await client.transaction('write')
    return async () => {
      await held.rollback()
      client.close()
    }
  } catch (error) {
    client.close()
    // Where nothing can be written there is nothing to bring up to date side by side; what is kept can still be read.
    if (isFull(error)) return () => Promise.resolve()
    throw error
  }
}
