/** What the commands of package.json share: installing, building, running. Needs nothing but Node. */
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { extname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import { writeLicences } from './licences.mjs'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'

export const root = fileURLToPath(new URL('..', import.meta.url))
const stamps = join(root, 'node_modules', '.voskel')
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm'

/** Runs a command with its output shown; ends this process where it fails. */
export function run(command, args, options = {}) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options })
  if (status !== 0) process.exit(status ?? 1)
}

/** Path of a tool that npm installed. */
export const tool = (name) => join(root, 'node_modules', '.bin', name)

function fingerprint(paths) {
  const hash = createHash('sha256')
  const walk = (path) => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) walk(join(path, name))
    } else {
      hash.update(relative(root, path)).update('\0').update(readFileSync(path)).update('\0')
    }
  }
  paths.forEach((path) => walk(join(root, path)))
  return hash.digest('hex')
}

/** Does a piece of work unless what it depends on is as it was when it was last done. */
function unlessDone(name, inputs, outputs, work) {
  const stamp = join(stamps, name)
  const state = fingerprint(inputs)
  const done =
    existsSync(stamp) && readFileSync(stamp, 'utf8') === state && outputs.every((o) => existsSync(join(root, o)))
  if (done) return
  work()
  mkdirSync(stamps, { recursive: true })
  writeFileSync(stamp, fingerprint(inputs))
}

/** True where node_modules holds what the lock file asks for; what npm left out for this platform is not missed. */
function isInstalled() {
  const lists = ['package-lock.json', 'node_modules/.package-lock.json'].map((path) => join(root, path))
  if (!lists.every((path) => existsSync(path))) return false
  const [wanted, found] = lists.map((path) => JSON.parse(readFileSync(path, 'utf8')).packages)
  return Object.entries(wanted).every(
    ([path, { version, optional }]) =>
      !path.includes('node_modules/') || (optional && !found[path]) || found[path]?.version === version,
  )
}

/** Installs the packages of the lock file where they are not there yet. */
export function ensureInstalled() {
  if (isInstalled()) return
  console.log('Installing packages …')
  run(npm, ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { stdio: ['ignore', 'ignore', 'inherit'] })
}

/** Lays compressed copies beside the built files, so that the server compresses nothing while somebody waits. */
function compressAssets() {
  const folder = join(root, 'packages/web/dist/assets')
  for (const name of readdirSync(folder)) {
    if (!['.js', '.css'].includes(extname(name))) continue
    const file = join(folder, name)
    const content = readFileSync(file)
    writeFileSync(`${file}.gz`, gzipSync(content, { level: 9 }))
    writeFileSync(`${file}.br`, brotliCompressSync(content, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }))
  }
}

/** Builds command line, server and interface where their sources have changed. */
export function ensureBuilt() {
  const core = ['packages/core/src', 'packages/core/package.json', 'package-lock.json']
  unlessDone(
    'cli',
    [...core, 'packages/cli/src', 'packages/cli/rolldown.config.mjs'],
    ['packages/cli/dist/voskel.js'],
    () => {
      run(tool('rolldown'), ['-c', 'packages/cli/rolldown.config.mjs', '--log-level', 'warn'], {
        stdio: ['ignore', 'ignore', 'inherit'],
      })
    },
  )
  unlessDone(
    'server',
    [...core, 'packages/server/src', 'packages/server/rolldown.config.mjs'],
    ['packages/server/dist/server.js'],
    () => {
      run(tool('rolldown'), ['-c', 'packages/server/rolldown.config.mjs', '--log-level', 'warn'], {
        stdio: ['ignore', 'ignore', 'inherit'],
      })
    },
  )
  const web = [
    'scripts/lib.mjs',
    'scripts/licences.mjs',
    'package-lock.json',
    'packages/web/src',
    'packages/web/index.html',
    'packages/web/public',
    'packages/web/vite.config.ts',
  ]
  unlessDone('web', [...core, ...web], ['packages/web/dist/index.html'], () => {
    console.log('Building the interface …')
    run(tool('vite'), ['build', '--logLevel', 'error'], { cwd: join(root, 'packages/web') })
    writeLicences(root, join(root, 'packages/web/dist/licences.txt'))
    compressAssets()
  })
}

/** Runs the server until it ends; signals reach it as they reach us. */
export function serve(env) {
  const server = spawn(process.execPath, [join(root, 'packages/server/dist/server.js')], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  })
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))
  server.on('exit', (code) => process.exit(code ?? 0))
  return server
}

/** Finds Chromium, or installs Debian's where that is possible; otherwise says how. */
export function ensureChromium() {
  if (existsSync(process.env.VOSKEL_CHROMIUM ?? '/usr/bin/chromium')) return
  const isRoot = process.getuid?.() === 0
  if (isRoot && existsSync('/usr/bin/apt-get')) {
    console.log('Installing Chromium …')
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    const quiet = { env, stdio: ['ignore', 'ignore', 'inherit'] }
    run('apt-get', ['update', '-qq'], quiet)
    run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], quiet)
    return
  }
  console.error('The browser tests need Chromium. As root: apt-get install chromium. Or name one in VOSKEL_CHROMIUM.')
  process.exit(1)
}

/** Bundles a TypeScript entry with the core's sources, to be run by Node; returns the bundle's path. */
export async function bundle(entry, name) {
  const { rolldown } = await import('rolldown')
  const built = await rolldown({
    input: join(root, entry),
    platform: 'node',
    external: /^(node:|@playwright)/,
    resolve: { conditionNames: ['voskel-source', 'node', 'import'], mainFields: ['module', 'main'] },
  })
  const file = join(stamps, name)
  await built.write({ file, format: 'esm' })
  return file
}
