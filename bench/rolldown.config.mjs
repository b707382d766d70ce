import { fileURLToPath } from 'node:url'
import { defineConfig } from 'rolldown'

const here = (path) => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  input: here('main.ts'),
  platform: 'node',
  external: /^(node:|@playwright)/,
  resolve: { conditionNames: ['voskel-source', 'node', 'import'], mainFields: ['module', 'main'] },
  output: { file: here('../node_modules/.voskel/bench.mjs'), format: 'esm' },
})
