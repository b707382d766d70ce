import { Lane, type WorkerLike } from './lane'

const start = (): WorkerLike => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }) as WorkerLike

/**
 * Three workers: `live` answers what follows every edit, `trace` what takes a moment longer, `population` what takes long.
 * None waits for another.
 */
export const lanes = { live: new Lane(start), trace: new Lane(start), population: new Lane(start) }
