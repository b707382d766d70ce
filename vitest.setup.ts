import fc from 'fast-check'

// One seed for all property tests of a run; vitest.config.ts prints it.
fc.configureGlobal({ seed: Number(process.env.VOSKEL_SEED) })
