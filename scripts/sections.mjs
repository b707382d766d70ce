/** `npm run sections`: writes docs/theory/sections from what the sections say of themselves. */
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle, ensureInstalled, root } from './lib.mjs'

ensureInstalled()
const core = await import(pathToFileURL(await bundle('packages/core/src/index.ts', 'core.mjs')).href)
const folder = join(root, 'docs/theory/sections')
mkdirSync(folder, { recursive: true })
for (const file of readdirSync(folder)) rmSync(join(folder, file))
for (const [file, text] of Object.entries(core.sectionDocuments())) writeFileSync(join(folder, file), text)
