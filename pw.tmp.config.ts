import base from '/work/main/playwright.config'
export default { ...base, testDir: '/work/main/e2e', outputDir: '/tmp/pwout', timeout: 60000, expect: { timeout: 6000 }, use: { ...base.use, actionTimeout: 6000, trace: 'off' } }
