import type { WorkerLike } from './lane'
import address from './worker?worker&url'

const startWorker = (name: string): WorkerLike => new Worker(address, { type: 'module', name }) as WorkerLike

/** Tells one build of the engine from another: its file is named after what is in it. */
export const ENGINE = address

const ahead = new Map<string, WorkerLike>()

/** Starts a worker before the code that asks it is there. */
export function startAhead(name: string): void {
  ahead.set(name, startWorker(name))
}

/** The worker that was started ahead, once; another one later. */
export function takeWorker(name: string): WorkerLike {
  const worker = ahead.get(name) ?? startWorker(name)
  ahead.delete(name)
  return worker
}
