import { type Remote, wrap } from 'comlink'
import type { Design } from '@voskel/core'
import type { ComputeRequest, ComputeResult } from './compute'

interface EngineWorker {
  compute(request: ComputeRequest): ComputeResult
}

/** What is said of a computation that its user has ended. */
export class Stopped extends Error {
  constructor() {
    super('It was stopped.')
  }
}

/** ms after which a computation that is not wanted any more is broken off: a new worker takes as long to start. */
const PATIENCE = 1000

interface Waiting {
  readonly request: ComputeRequest
  readonly resolve: (result: ComputeResult | null) => void
  readonly reject: (error: unknown) => void
}

/**
 * Computes in a worker, newest request first: while one is under way only the latest of those that wait is kept; the
 * others resolve to null, as does a result that a newer request has overtaken. What takes long is broken off for a newer
 * request, or by `stop`.
 */
export class Engine {
  private worker!: Worker
  private remote!: Remote<EngineWorker>
  private primed: { request: ComputeRequest; answer: Promise<ComputeResult | null> } | null = null
  private waiting: Waiting | null = null
  /** The computation that is under way: when it began, and how to end it. */
  private current: { began: number; breakOff: (why: 'overtaken' | 'stopped') => void } | null = null

  constructor() {
    this.startWorker()
  }

  private startWorker(): void {
    this.worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
    this.remote = wrap<EngineWorker>(this.worker)
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
      this.waiting = { request, resolve, reject }
      if (!this.current) void this.run()
      else this.overtake()
    })
  }

  /** Ends what is under way; its promise rejects with `Stopped`. */
  stop(): void {
    this.current?.breakOff('stopped')
  }

  /** Breaks off what is under way once it has taken long and another request waits. */
  private overtake(): void {
    const { current } = this
    if (!current) return
    const left = current.began + PATIENCE - performance.now()
    if (left <= 0) current.breakOff('overtaken')
    else setTimeout(() => this.current === current && this.waiting && this.overtake(), left)
  }

  private async run(): Promise<void> {
    while (this.waiting) {
      const { request, resolve, reject } = this.waiting
      this.waiting = null
      const broken = new Promise<'overtaken' | 'stopped'>((breakOff) => {
        this.current = { began: performance.now(), breakOff }
      })
      try {
        const result = await Promise.race([this.remote.compute(request), broken])
        if (typeof result === 'string') {
          this.worker.terminate()
          this.startWorker()
          if (result === 'stopped') reject(new Stopped())
          else resolve(null)
        } else resolve(this.waiting ? null : result)
      } catch (error) {
        reject(error)
      }
    }
    this.current = null
  }
}

export function sameRequest(a: ComputeRequest, b: ComputeRequest): boolean {
  return (
    a.specification === b.specification &&
    a.requirements === b.requirements &&
    a.values === b.values &&
    a.circuit === b.circuit
  )
}

/** What is to be computed of a design. */
export function requestOf({ specification, requirements, values, circuit }: Design): ComputeRequest {
  return { specification, requirements, values, circuit }
}

let shared: Engine | null = null

/** The page's engine; the first call starts its worker, so that an early one saves waiting for it later. */
export function sharedEngine(): Engine {
  return (shared ??= new Engine())
}
