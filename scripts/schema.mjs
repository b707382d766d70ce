/** `npm run schema`: writes docs/design.schema.json from the design file's own schema. */
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle, ensureInstalled, root } from './lib.mjs'

ensureInstalled()
const { designJsonSchema } = await import(pathToFileURL(await bundle('packages/core/src/index.ts', 'core.mjs')).href)
writeFileSync(join(root, 'docs/design.schema.json'), JSON.stringify(designJsonSchema(), null, 2) + '\n')
