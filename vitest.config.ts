import { defineConfig } from 'vitest/config'

export default defineConfig({
  resolve: { conditions: ['voskel-source'] },
  ssr: { resolve: { conditions: ['voskel-source'] } },
  test: {
    include: ['packages/*/src/**/*.test.ts'],
    environment: 'node',
    testTimeout: 20_000,
  },
})
