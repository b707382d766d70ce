import { expect, test } from 'vitest'
import { fileName } from './files'

test.each([
  ['Cable-end low-pass', 'cable-end-low-pass.json'],
  ['Ålesund / Ω: 50 %', 'alesund-50.json'],
  ['../../etc', 'etc.json'],
  ['…', 'voskel.json'],
  ['x'.repeat(500), `${'x'.repeat(80)}.json`],
])('%j is saved as %s', (name, file) => {
  expect(fileName(name, 'json')).toBe(file)
})
