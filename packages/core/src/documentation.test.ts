import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from 'vitest'
import { catalogue, designJsonSchema, formulate, parseSpec, readNetlist, realize, sectionDocuments } from './index.js'

const doc = (path: string) => readFileSync(new URL(`../../../docs/${path}`, import.meta.url), 'utf8')
const block = (text: string, language: string) => new RegExp(`\`\`\`${language}\n([\\s\\S]*?)\n\`\`\``).exec(text)![1]

test.each(Object.keys(catalogue))('%s is explained in docs/errors.md', (code) => {
  expect(doc('errors.md')).toContain(`### ${code}\n`)
})

test('docs/errors.md explains nothing that does not exist', () => {
  for (const [, code] of doc('errors.md').matchAll(/^### (.*)$/gm)) expect(Object.keys(catalogue)).toContain(code)
})

test('the netlist of the guide reads and its equations can be written down', () => {
  const { circuit, warnings } = readNetlist(block(doc('guide/netlist.md'), '') + '\n')
  expect(warnings).toEqual([])
  expect(formulate(circuit).circuit.elements).toHaveLength(7)
})

test('the specification of the guide has a circuit', () => {
  const spec = parseSpec(JSON.parse(block(doc('guide/specification.md'), 'json')))
  expect(realize(spec).circuit.parts.length).toBeGreaterThan(5)
})

test('docs/design.schema.json is the JSON Schema of the design file', () => {
  expect(JSON.parse(doc('design.schema.json'))).toEqual(designJsonSchema())
})

test('docs/theory/sections says what the sections say of themselves (npm run sections)', () => {
  for (const [file, text] of Object.entries(sectionDocuments())) expect(doc(`theory/sections/${file}`)).toBe(text)
})

/** Every document of the repository. */
function documents(): string[] {
  const root = fileURLToPath(new URL('../../..', import.meta.url))
  const below = (folder: string) =>
    readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
      .filter((path) => path.endsWith('.md') && !/node_modules|dist\//.test(path))
      .map((path) => join(root, folder, path))
  return [join(root, 'README.md'), ...['docs', 'packages'].flatMap(below)]
}

test('what a document links to is there', () => {
  const found = documents()
  expect(found.length).toBeGreaterThan(40)
  const broken = found.flatMap((file) =>
    [...readFileSync(file, 'utf8').matchAll(/\]\(([^)\s#]+)(?:#[^)]*)?\)/g)]
      .map(([, link]) => link)
      .filter((link) => !/^[a-z]+:/.test(link) && !existsSync(join(dirname(file), decodeURI(link))))
      .map((link) => `${file}: ${link}`),
  )
  expect(broken).toEqual([])
})
