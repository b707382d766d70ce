/** The licences of everything that Voskel ships: the packages of its parts, and theirs. Called by the build. */
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const PARTS = ['core', 'cli', 'server', 'web']
const RULE = '─'.repeat(72)

/**
 * Writes the list to a file.
 *
 * @throws Error where a package names no licence: it must not be shipped unseen
 */
export function writeLicences(root, file) {
  const found = new Map()
  for (const part of PARTS) collect(root, readJson(join(root, 'packages', part, 'package.json')), found)
  const names = [...found.keys()].sort()
  const overview = names.map((name) => `${name} ${found.get(name).version} · ${found.get(name).licence}`)
  const texts = names.map((name) => `${RULE}\n${name}\n${RULE}\n\n${found.get(name).text}`)
  const head = 'What Voskel is made of, besides its own code, and the licences that it comes under.'
  writeFileSync(file, [head, overview.join('\n'), ...texts].join('\n\n') + '\n')
}

function collect(root, { dependencies = {} }, found) {
  for (const name of Object.keys(dependencies)) {
    const folder = join(root, 'node_modules', name)
    // What npm left out for this platform is not shipped from it.
    if (name.startsWith('@voskel/') || found.has(name) || !existsSync(folder)) continue
    const about = readJson(join(folder, 'package.json'))
    const licence = typeof about.license === 'object' ? about.license.type : about.license
    if (!licence) throw new Error(`The package ${name} names no licence.`)
    const own = readdirSync(folder).find((f) => /^licen[cs]e/i.test(f))
    const text = own
      ? readFileSync(join(folder, own), 'utf8').trim()
      : `Licence: ${licence}. The package brings no text of it.`
    found.set(name, { version: about.version, licence, text })
    collect(root, about, found)
  }
}

const readJson = (file) => JSON.parse(readFileSync(file, 'utf8'))
