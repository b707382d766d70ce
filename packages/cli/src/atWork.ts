import { writeSync } from 'node:fs'
import { Worker } from 'node:worker_threads'

/** ms after which a person at a terminal is told what is computed, and between two tellings */
const EVERY = 1000

/** Bytes of what is said. */
const ROOM = 240

/** [whether anything has been said, how many bytes are], and the text. */
const state = new Int32Array(new SharedArrayBuffer(8))
const text = new Uint8Array(new SharedArrayBuffer(ROOM))

/** Says it from a thread of its own: the work leaves this one no moment for it. */
const SAY = `
const { workerData: { state, text, every } } = require('node:worker_threads')
const begun = Date.now()
setInterval(() => {
  const what = Buffer.from(text.slice(0, state[1])).toString()
  state[0] = 1
  require('node:fs').writeSync(2, '\\r\\x1b[Kvoskel: ' + what + ', ' + Math.round((Date.now() - begun) / 1000) + ' s; Ctrl+C stops it.')
}, every)`

/** From now on a person at a terminal is told each second what is being computed. */
export function sayWhenLong(): void {
  if (!process.stderr.isTTY) return
  new Worker(SAY, { eval: true, workerData: { state, text, every: EVERY } }).unref()
  // The last word belongs to the result.
  process.on('exit', makeRoom)
}

/** Takes away what was said last, for something else to be said. */
export function makeRoom(): void {
  if (state[0] !== 1) return
  state[0] = 0
  writeSync(2, '\r\x1b[K')
}

/** What is being computed, in a few words. */
export function nowAt(what: string): void {
  const bytes = new TextEncoder().encode(what).slice(0, ROOM)
  text.set(bytes)
  state[1] = bytes.length
}
