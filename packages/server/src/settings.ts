import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, statSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { isLoopback } from './guard.js'

/** What the server is told by its environment, checked. */
export interface Settings {
  readonly host: string
  /** Null takes the usual one, or any free one where that is taken. */
  readonly port: number | null
  readonly logLevel: string
  readonly token: string | null
  readonly databaseUrl: string
  /** The database's file; null where a server keeps it. */
  readonly databaseFile: string | null
  readonly demo: string | null
  readonly webRoot: string | null
}

/** A setting that cannot be used, in one sentence that says what would be right. */
export class SettingsError extends Error {}

const LOG_LEVELS = ['silent', 'fatal', 'error', 'warn', 'info', 'debug', 'trace']
const REMOTE = /^(libsql|https?|wss?):\/\/[^/]+/

/** Fewest characters of an access token: shorter ones are guessed. */
export const SHORTEST_TOKEN = 16

/** @throws SettingsError */
export function settingsOf(env: Readonly<Record<string, string | undefined>>): Settings {
  const host = env.VOSKEL_HOST || '127.0.0.1'
  const token = env.VOSKEL_TOKEN ?? null
  if (token !== null && token.length < SHORTEST_TOKEN)
    throw new SettingsError(
      `VOSKEL_TOKEN has ${token.length} characters; an access token has at least ${SHORTEST_TOKEN}, for example ${randomBytes(18).toString('base64url')}.`,
    )
  if (!isLoopback(host) && token === null)
    throw new SettingsError(
      `To listen on ${host} it wants an access token in VOSKEL_TOKEN, for example ${randomBytes(18).toString('base64url')}.`,
    )
  const logLevel = env.VOSKEL_LOG || 'warn'
  if (!LOG_LEVELS.includes(logLevel))
    throw new SettingsError(`VOSKEL_LOG is "${logLevel}"; it must be one of ${LOG_LEVELS.join(', ')}.`)
  const demo = env.VOSKEL_DEMO || null
  if (demo !== null && !existsSync(join(demo, 'project.json')))
    throw new SettingsError(`VOSKEL_DEMO is "${demo}", where there is no project.json; name the folder of a demo.`)
  return {
    host,
    port: portOf(env.VOSKEL_PORT),
    logLevel,
    token,
    ...databaseOf(env.VOSKEL_DATABASE_URL, env.VOSKEL_DATA_DIR),
    demo,
    webRoot: env.VOSKEL_WEB_ROOT || null,
  }
}

function portOf(text: string | undefined): number | null {
  if (text === undefined || text === '') return null
  const port = Number(text)
  if (!/^\d+$/.test(text) || port > 65535)
    throw new SettingsError(`VOSKEL_PORT is "${text}"; it must be a whole number from 0 to 65535.`)
  return port
}

function databaseOf(url: string | undefined, folder: string | undefined) {
  if (url !== undefined && url !== '') {
    if (REMOTE.test(url)) return { databaseUrl: url, databaseFile: null }
    throw new SettingsError(
      `VOSKEL_DATABASE_URL is "${url.replace(/\?.*/, '')}"; it must name a libSQL server, such as http://127.0.0.1:8080. For a file set VOSKEL_DATA_DIR.`,
    )
  }
  const dataDir = resolve(folder || 'data')
  if (existsSync(dataDir) && !statSync(dataDir).isDirectory())
    throw new SettingsError(`The data folder ${dataDir} is a file; name a folder in VOSKEL_DATA_DIR.`)
  try {
    mkdirSync(dataDir, { recursive: true, mode: 0o700 })
  } catch (error) {
    throw new SettingsError(`The data folder ${dataDir} cannot be made: ${(error as Error).message}.`)
  }
  const databaseFile = join(dataDir, 'voskel.db')
  // Signs that mean something in an address, such as #, are written out.
  return { databaseUrl: pathToFileURL(databaseFile).href, databaseFile }
}
