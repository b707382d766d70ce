import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { test as base } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))

/** A Voskel server of the test's own, with the demo's data in a folder of its own. */
export class Voskel {
  private process: ChildProcess | null = null
  private port = 0

  constructor(private readonly dataDir: string) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`
  }

  /** Starts it; after a stop it takes the same port and data again. */
  async start(env: Record<string, string> = {}): Promise<void> {
    const child = spawn(process.execPath, [join(root, 'packages/server/dist/server.js')], {
      env: {
        ...process.env,
        VOSKEL_PORT: String(this.port),
        VOSKEL_DATA_DIR: this.dataDir,
        VOSKEL_DEMO: join(root, 'demo'),
        ...env,
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    this.process = child
    this.port = await new Promise<number>((resolve, reject) => {
      let said = ''
      child.stdout.on('data', (text: Buffer) => {
        said += text.toString()
        const found = /http:\/\/127\.0\.0\.1:(\d+)/.exec(said)
        if (found) resolve(Number(found[1]))
      })
      child.on('exit', (code) => reject(new Error(`the server ended with ${code}: ${said}`)))
    })
  }

  /** Ends it without any warning, as a power cut would. */
  async kill(signal: NodeJS.Signals = 'SIGKILL'): Promise<number | null> {
    const child = this.process
    if (!child) return null
    this.process = null
    const ended = new Promise<number | null>((resolve) => child.on('exit', (code) => resolve(code)))
    child.kill(signal)
    return ended
  }
}

/** `voskel`: a running server; `page` opens addresses relative to it. */
export const test = base.extend<{ voskel: Voskel }>({
  // eslint-disable-next-line no-empty-pattern -- the runner wants a destructured first parameter
  voskel: async ({}, use) => {
    const dataDir = mkdtempSync(join(tmpdir(), 'voskel-e2e-'))
    const voskel = new Voskel(dataDir)
    await voskel.start()
    await use(voskel)
    await voskel.kill()
    rmSync(dataDir, { recursive: true, force: true })
  },
  baseURL: async ({ voskel }, use) => use(voskel.url),
})

export { expect } from '@playwright/test'
