import { designOfCircuit, readNetlist, VoskelError } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { deviationJob } from './deviation'
import { fitJob } from './fit'
import { measuredJob, portsOf, surveyJob } from './measured'
import { touchstoneJob } from './touchstone'

/** A job's answer, and how many words of progress came before. */
function done<Q, A>(
  job: { run(question: Q): Generator<Partial<A>, A> },
  question: Q,
): { answer: A; parts: Partial<A>[] } {
  const run = job.run(question)
  const parts: Partial<A>[] = []
  for (;;) {
    const next = run.next()
    if (next.done) return { answer: next.value, parts }
    parts.push(next.value)
  }
}

const bytes = (text: string) => new TextEncoder().encode(text)
const design = designOfCircuit(readNetlist('t\nV1 in 0 AC 1\nRS in a 50\nL1 a out 1u\nRL out 0 50\n').circuit)

describe('a file with measured points', () => {
  const table = 'f;dB\n1;-1\n2;-2\n3;-3\n'

  test('is looked at, and read as it is said to be', () => {
    const { answer } = done(surveyJob, { name: 'a.csv', bytes: bytes(table) })
    expect(answer).toMatchObject({ encoding: 'UTF-8', table: { layout: { delimiter: ';' } } })
    const { layout, columns } = answer.table!
    const read = done(measuredJob, { name: 'a.csv', bytes: bytes(table), layout, columns, leaveOut: false }).answer
    expect(read.curves[0]!.samples.x).toEqual(Float64Array.of(1, 2, 3))
  })

  test('of many rows says how far it is', () => {
    const long = `time,out\n${Array.from({ length: 50_000 }, (_, k) => `${k},1`).join('\n')}\n`
    const { layout, columns } = done(surveyJob, { name: 'a.csv', bytes: bytes(long) }).answer.table!
    const { parts } = done(measuredJob, { name: 'a.csv', bytes: bytes(long), layout, columns, leaveOut: false })
    expect(parts.map((p) => p.part!.toFixed(1))).toEqual(['0.4', '0.8'])
  })

  test('of a two-port is taken by its name, each entry a curve', () => {
    expect([portsOf('a.s2p'), portsOf('A.S1P'), portsOf('a.csv')]).toEqual([2, 1, null])
    const text = '# MHz S RI R 50\n1 0 0 1 0 1 0 0 0\n'
    expect(done(surveyJob, { name: 'a.s2p', bytes: bytes(text) }).answer.table).toBeNull()
    const question = { name: 'a.s2p', bytes: bytes(text), layout: null, columns: [], leaveOut: false }
    const { answer } = done(measuredJob, question)
    expect(answer.curves.map((c) => c.name)).toEqual(['S11', 'S12', 'S21', 'S22'])
    expect(answer.notes).toEqual(['Referred to 50 Ω and 50 Ω.'])
    const wrong = { ...question, bytes: bytes('# MHz\n1 0 0\n') }
    expect(() => done(measuredJob, wrong)).toThrow(VoskelError)
  })
})

describe('against a circuit', () => {
  // Z in series between equal resistances: S21 = 2R/(2R + jωL).
  const x = Float64Array.of(1e6, 1e7, 5e7)
  const s21 = (l: number) => {
    const parts = x.map((f) => 2 * Math.PI * f * l)
    const size = parts.map((w) => 100 ** 2 + w * w)
    return {
      over: 'frequency' as const,
      x,
      re: size.map((s) => 100 ** 2 / s),
      im: parts.map((w, k) => (-100 * w) / size[k]!),
    }
  }

  test('values are fitted to any signal', () => {
    const question = { ...design, samples: s21(1.3e-6), signal: 's21(RS,RL)', vary: ['L1'], bounds: {} }
    const { fit } = done(fitJob, question).answer
    expect(fit!.values[0]!.value / 1.3e-6).toBeCloseTo(1, 9)
  })

  test('the deviation of each is told, and why one has none', () => {
    const samples = s21(1e-6)
    const measured = [
      { id: 'a', signal: 's21(RS,RL)', samples },
      { id: 'b', signal: 'v(nowhere)', samples },
    ]
    const [a, b] = done(deviationJob, { ...design, measured }).answer
    expect(a!.deviation!.rms.db).toBeLessThan(1e-9)
    expect(b).toMatchObject({ deviation: null, failure: expect.stringContaining('no net "nowhere"') as string })
  })

  test('its two-port is written', () => {
    const { answer } = done(touchstoneJob, { ...design, ports: ['RS', 'RL'], from: 1e6, to: 1e7 })
    expect(answer).toContain('# HZ S RI R 50')
  })
})
