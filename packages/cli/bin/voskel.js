#!/usr/bin/env node
import { existsSync } from 'node:fs'

const built = new URL('../dist/voskel.js', import.meta.url)
if (existsSync(built)) {
  await import(built.href)
} else {
  process.stderr.write('voskel: not built yet; run `npm ci` in the repository’s root.\n')
  process.exitCode = 2
}
