import { type Remote, wrap } from 'comlink'
import type { Design } from '@voskel/core'
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
  private primed: { request: ComputeRequest; answer: Promise<ComputeResult | null> } | null = null
  private waiting: { request: ComputeRequest; resolve: (result: ComputeResult | null) => void } | null = null

  constructor() {
    this.remote = wrap<EngineWorker>(new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }))
  }

  /** Begins a computation that will be asked for in a moment, while the page is still being built. */
  prime(request: ComputeRequest): void {
    const answer = this.compute(request)
    // Whoever asks for it sees its failure.
    answer.catch(() => {})
    this.primed = { request, answer }
  }

  compute(request: ComputeRequest): Promise<ComputeResult | null> {
    const { primed } = this
    this.primed = null
    if (primed && sameRequest(primed.request, request)) return primed.answer
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

function sameRequest(a: ComputeRequest, b: ComputeRequest): boolean {
  return a.specification === b.specification && a.values === b.values && a.circuit === b.circuit
}

/** What is to be computed of a design. */
export function requestOf(design: Design): ComputeRequest {
  return { specification: design.specification ?? null, values: design.values, circuit: design.circuit ?? null }
}

let shared: Engine | null = null

/** The page's engine; the first call starts its worker, so that an early one saves waiting for it later. */
export function sharedEngine(): Engine {
  return (shared ??= new Engine())
}
