import { Lane, type WorkerLike } from './lane'

const start = (name: string) => (): WorkerLike =>
  new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name }) as WorkerLike

/**
 * Three workers: `live` answers what follows every edit, `trace` what takes a moment longer, `population` what takes long.
 * None waits for another.
 */
export const lanes = {
  live: new Lane(start('live')),
  trace: new Lane(start('trace')),
  population: new Lane(start('population')),
}
