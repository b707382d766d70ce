import { type Remote, wrap } from 'comlink'
import type { ComputeRequest, ComputeResult } from './compute'

interface EngineWorker {
  compute(request: ComputeRequest): ComputeResult
}

/**
 * Computes in a worker, newest request first: while one is under way only the latest of those that wait is kept; the
 * others resolve to null, as does a result that a newer request has overtaken.
 */
export class Engine {
  private readonly remote: Remote<EngineWorker>
  private running = false
  private waiting: { request: ComputeRequest; resolve: (result: ComputeResult | null) => void } | null = null

  constructor() {
    this.remote = wrap<EngineWorker>(new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }))
  }

  compute(request: ComputeRequest): Promise<ComputeResult | null> {
    this.waiting?.resolve(null)
    return new Promise((resolve, reject) => {
      this.waiting = { request, resolve }
      if (!this.running) this.run().catch(reject)
    })
  }

  private async run(): Promise<void> {
    this.running = true
    try {
      while (this.waiting) {
        const { request, resolve } = this.waiting
        this.waiting = null
        const result = await this.remote.compute(request)
        resolve(this.waiting ? null : result)
      }
    } finally {
      this.running = false
    }
  }
}
