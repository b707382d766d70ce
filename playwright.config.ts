import { defineConfig } from '@playwright/test'

/** Browser tests: the built interface from its own server, in the system's Chromium. */
export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results',
  // Each test has a server of its own.
  fullyParallel: true,
  workers: 2,
  retries: 0,
  // Generous: a test that waits on a slow machine is no failure of the interface.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    locale: 'en-GB',
    // Recording each step takes a fifth of the time: VOSKEL_TRACE=1 has it where a failure is looked into.
    trace: process.env.VOSKEL_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env.VOSKEL_CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'],
    },
  },
})
