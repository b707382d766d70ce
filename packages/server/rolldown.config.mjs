import { fileURLToPath } from 'node:url'
import { defineConfig } from 'rolldown'

const here = (path) => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  input: { server: here('src/main.ts'), copies: here('src/copies.ts') },
  platform: 'node',
  // Packages stay packages: the database client brings a native part.
  external: /^(?!@voskel\/)[^./]/,
  resolve: { conditionNames: ['voskel-source', 'node', 'import'], mainFields: ['module', 'main'] },
  output: { dir: here('dist'), format: 'esm', sourcemap: true },
})
