import { fileURLToPath } from 'node:url'
import { defineConfig } from 'rolldown'

const here = (path) => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  input: here('src/main.ts'),
  platform: 'node',
  resolve: { conditionNames: ['voskel-source', 'node', 'import'], mainFields: ['module', 'main'] },
  output: { file: here('dist/voskel.js'), format: 'esm', minify: true },
})
