import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import type { ComputeRequest, ComputeResult } from './compute'

/** What the worker was asked, and how to answer it. */
const asked: { request: ComputeRequest; answer: (result: ComputeResult) => void }[] = []

vi.mock('comlink', () => ({
  wrap: () => ({
    compute: (request: ComputeRequest) =>
      new Promise<ComputeResult>((answer) => {
        asked.push({ request, answer })
      }),
  }),
}))

/** Workers that were ended. */
let ended = 0

beforeEach(() => {
  asked.length = 0
  ended = 0
  vi.stubGlobal(
    'Worker',
    class {
      terminate = () => void ended++
    },
  )
})
afterEach(() => vi.unstubAllGlobals())

const request = (): ComputeRequest => ({ values: 'exact', circuit: { origin: 'derived', patches: {} } })
const result = (took: number) => ({ took }) as ComputeResult
const settled = () => new Promise((done) => setTimeout(done))

describe('what takes long', () => {
  test('can be stopped, and the next request has a worker again', async () => {
    const { Engine, Stopped } = await import('./engine')
    const engine = new Engine()
    const long = engine.compute(request())
    engine.stop()
    await expect(long).rejects.toThrow(Stopped)
    expect(ended).toBe(1)
    const next = engine.compute(request())
    await settled()
    asked[1]!.answer(result(2))
    expect(await next).toMatchObject({ took: 2 })
    engine.stop()
    expect(ended).toBe(1)
  })

  test('is broken off for a newer request, once it has had its time', async () => {
    vi.useFakeTimers()
    const { Engine } = await import('./engine')
    const engine = new Engine()
    const first = engine.compute(request())
    const second = engine.compute(request())
    await vi.advanceTimersByTimeAsync(500)
    expect([ended, asked.length]).toEqual([0, 1])
    await vi.advanceTimersByTimeAsync(1000)
    expect([ended, asked.length]).toEqual([1, 2])
    expect(await first).toBeNull()
    asked[1]!.answer(result(2))
    expect(await second).toMatchObject({ took: 2 })
    vi.useRealTimers()
  })

  test('a computation that fails rejects its own promise, and the next is computed', async () => {
    const { Engine } = await import('./engine')
    const engine = new Engine()
    const first = engine.compute(request())
    const second = engine.compute(request())
    await settled()
    asked[0]!.answer(Promise.reject(new Error('broken')) as never)
    await expect(first).rejects.toThrow('broken')
    await settled()
    asked[1]!.answer(result(2))
    expect(await second).toMatchObject({ took: 2 })
  })
})

describe('the newest request is answered, older ones are not', () => {
  test('of those that wait only the latest is computed; what is overtaken resolves to null', async () => {
    const { Engine } = await import('./engine')
    const engine = new Engine()
    const [first, second, third] = [engine.compute(request()), engine.compute(request()), engine.compute(request())]
    await settled()
    expect(asked).toHaveLength(1)
    asked[0]!.answer(result(1))
    await settled()
    expect(asked).toHaveLength(2)
    asked[1]!.answer(result(3))
    expect(await first).toBeNull()
    expect(await second).toBeNull()
    expect(await third).toMatchObject({ took: 3 })
  })

  test('a primed computation is taken over by the request that it was for, and by no other', async () => {
    const { Engine } = await import('./engine')
    const engine = new Engine()
    const primed = request()
    engine.prime(primed)
    const answer = engine.compute({ ...primed })
    await settled()
    expect(asked).toHaveLength(1)
    asked[0]!.answer(result(7))
    expect(await answer).toMatchObject({ took: 7 })
    void engine.compute({ ...primed, values: 'E24' })
    await settled()
    expect(asked).toHaveLength(2)
  })
})
