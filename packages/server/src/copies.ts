import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { createClient } from '@libsql/client'
import { copyDatabase, DatabaseError, listCopies, problemOf, restoreCopy, writeCopy } from './db/copies.js'
import { SettingsError, settingsOf } from './settings.js'

/** `npm run backup [-- FILE]` and `npm run restore -- FILE`: copies of the database, each proved before it counts. */
async function main([command, file]: string[]): Promise<string> {
  const { databaseFile } = settingsOf({ ...process.env, VOSKEL_HOST: undefined })
  if (databaseFile === null) throw new DatabaseError('The store is kept by another server; copy it there.')
  if (command === 'restore') {
    const copies = listCopies(databaseFile)
    if (file === undefined)
      throw new DatabaseError(
        `Name the copy to bring back. There are:${copies.map((c) => `\n  ${c}`).join('') || ' none'}`,
      )
    if (!existsSync(file)) throw new DatabaseError(`There is no file ${file}.`)
    const aside = await restoreCopy(resolve(file), databaseFile, Date.now())
    return `${file} is the database again.${aside ? ` What was there before lies in ${aside}.` : ''}`
  }
  if (!existsSync(databaseFile)) throw new DatabaseError(`There is no database ${databaseFile} yet.`)
  const problem = await problemOf(databaseFile)
  if (problem) throw new DatabaseError(`${databaseFile} is damaged (${problem}); an earlier copy is better.`)
  const client = createClient({ url: pathToFileURL(databaseFile).href })
  try {
    const target = file === undefined ? null : resolve(file)
    if (target !== null && existsSync(target)) throw new DatabaseError(`${target} is there already; name another file.`)
    if (target === null) return `Copied to ${await copyDatabase(client, databaseFile, 'asked', Date.now())}`
    await writeCopy(client, target)
    return `Copied to ${target}`
  } finally {
    client.close()
  }
}

process.umask(0o077)
try {
  process.stdout.write(`${await main(process.argv.slice(2))}\n`)
} catch (error) {
  if (!(error instanceof DatabaseError) && !(error instanceof SettingsError)) throw error
  process.stderr.write(`voskel: ${error.message}\n`)
  process.exitCode = 2
}
