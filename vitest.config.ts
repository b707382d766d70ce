import { randomInt } from 'node:crypto'
import { defineConfig } from 'vitest/config'

// Workers read this file as well: they inherit what was drawn first.
if (process.env.VOSKEL_SEED === undefined) {
  process.env.VOSKEL_SEED = String(randomInt(2 ** 31))
  process.stdout.write(`Seed of the property tests: ${process.env.VOSKEL_SEED} (VOSKEL_SEED=… repeats a run)\n`)
}

export default defineConfig({
  resolve: { conditions: ['voskel-source'] },
  ssr: { resolve: { conditions: ['voskel-source'] } },
  test: {
    include: ['packages/*/src/**/*.test.ts'],
    environment: 'node',
    setupFiles: ['vitest.setup.ts'],
    testTimeout: 20_000,
    // One core is kept free otherwise: of two that is half the time.
    maxWorkers: '100%',
  },
})
