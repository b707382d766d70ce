import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, chromium } from '@playwright/test'

/** The built application with the demo's data, and a browser to look at it. */
export async function served(root: string): Promise<{ browser: Browser; url: string; end: () => Promise<void> }> {
  const dataDir = mkdtempSync(join(tmpdir(), 'voskel-bench-'))
  const server = spawn(process.execPath, [join(root, 'packages/server/dist/server.js')], {
    env: { ...process.env, VOSKEL_PORT: '0', VOSKEL_DATA_DIR: dataDir, VOSKEL_DEMO: join(root, 'demo') },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const url = await new Promise<string>((resolve) => {
    server.stdout.on('data', (text: Buffer) => {
      const found = /http:\S+/.exec(text.toString())
      if (found) resolve(found[0])
    })
  })
  const browser = await chromium.launch({
    executablePath: process.env.VOSKEL_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-background-networking'],
  })
  const end = async () => {
    await browser.close()
    server.kill()
    rmSync(dataDir, { recursive: true, force: true })
  }
  return { browser, url, end }
}
