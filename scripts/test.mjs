/** `npm test`: lint, types, unit tests and browser tests from a fresh clone; ends with one line `N passed, N failed`. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensureBuilt, ensureChromium, ensureInstalled, root, tool } from './lib.mjs'

ensureInstalled()
ensureChromium()
ensureBuilt()

const reports = join(root, 'node_modules', '.voskel')
mkdirSync(reports, { recursive: true })
let passed = 0
let failed = 0

/** A check that either passes or fails as a whole. */
function check(name, command, args) {
  console.log(`\n— ${name}`)
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit' })
  if (status === 0) passed++
  else failed++
}

/** A suite whose report says how many of its tests passed; one that wrote no report has failed. */
function suite(name, command, args, reportFile, count) {
  console.log(`\n— ${name}`)
  const report = join(reports, reportFile)
  const { status } = spawnSync(command, args(report), {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_FILE: report },
  })
  const counted = existsSync(report) ? count(JSON.parse(readFileSync(report, 'utf8'))) : { passed: 0, failed: 0 }
  passed += counted.passed
  failed += counted.failed
  if (counted.passed + counted.failed === 0 || (status !== 0 && counted.failed === 0)) failed++
}

check('lint', tool('eslint'), ['.', '--max-warnings', '0'])
check('format', tool('prettier'), ['--check', '.', '--log-level', 'warn'])
check('types of core, command line, server and tests', tool('tsc'), ['-b'])
check('types of the interface', tool('vue-tsc'), ['--noEmit', '-p', 'packages/web'])
suite(
  'unit tests',
  tool('vitest'),
  (report) => ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${report}`],
  'unit.json',
  (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests + r.numFailedTestSuites * Number(r.numFailedTests === 0),
  }),
)
suite(
  'browser tests',
  tool('playwright'),
  () => ['test', '--reporter=dot,json'],
  'browser.json',
  (r) => ({
    passed: r.stats.expected,
    failed: r.stats.unexpected + r.stats.flaky,
  }),
)

console.log(`\n${passed} passed, ${failed} failed`)
process.exitCode = failed === 0 ? 0 : 1
