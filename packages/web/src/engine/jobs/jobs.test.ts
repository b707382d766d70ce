import {
  type Circuit,
  circuitEdit,
  designOfCircuit,
  designOfSpec,
  parseSpec,
  readNetlist,
  realize,
  type WhatItIs,
  withCircuitEdit,
} from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { atOnce, computed } from '../../testing/computed'
import { readOut } from '../curves'
import { adviceTopic } from './advice'
import { candidatesJob } from './candidates'
import { jobs } from './index'
import { largeSignalJob } from './largeSignal'
import { loopGainTopic } from './loopGain'
import { operatingPointTopic } from './operatingPoint'
import { whatItIsTopic } from './whatItIs'

const spec = parseSpec({
  response: 'lowpass',
  approximation: 'chebyshev',
  order: 5,
  passband: { edges: [1000], ripple: 0.5 },
  stopband: { edges: [2000], attenuation: 40 },
  realization: { family: 'lc-ladder', source: 50, load: 50 },
})
const design = designOfSpec('T', spec, 'exact')

/** A drawn circuit that is judged by the specification. */
const drawnFor = (circuit: Circuit) => ({ ...design, circuit: { origin: 'drawn' as const, circuit } })

const netlist = (...lines: string[]) => designOfCircuit(readNetlist(['t', ...lines].join('\n')).circuit)

test('every job has a name of its own', () => {
  expect(new Set(jobs.map((j) => j.topic.id)).size).toBe(jobs.length)
})

describe('what the stages show of a design', () => {
  test('ideal and circuit from a specification alone, inside one range and window', () => {
    const { answers, failures } = computed(design)
    expect(failures).toEqual({})
    const { ideal, circuit, frequency, time, verdicts } = answers
    expect(ideal!.frequency.frequency[0]).toBeCloseTo(ideal!.range.from, 9)
    expect(frequency!.range).toEqual(ideal!.range)
    expect(frequency!.curves[0]!.frequency.at(-1)).toBeCloseTo(ideal!.range.to, 3)
    expect(time!.window).toBeCloseTo(ideal!.window, 12)
    // Equal resistors pass half the voltage.
    expect(circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(time!.curves[0]!.value.at(-1)).toBeCloseTo(0.5, 2)
    expect(verdicts.verdicts.map((v) => v.id).sort()).toEqual(['passband', 'stopband'])
  })

  test('a typed value counts; the level of reference stays the specification’s', () => {
    const { answers } = computed(
      withCircuitEdit(design, { edit: 'set-value', args: { part: 'C1', field: 'capacitance', value: 1e-9 } }),
    )
    const made = realize(spec).circuit
    expect(answers.circuit!.base).toEqual(made)
    expect(answers.circuit!.circuit.parts.find((p) => p.id === 'C1')).toMatchObject({
      values: { capacitance: 1e-9 },
      exact: made.parts.find((p) => p.id === 'C1')!.values,
    })
    expect(answers.circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(answers.verdicts.verdicts.some((v) => !v.met)).toBe(true)
  })

  test('a drawn circuit is judged at the level of the specification’s own', () => {
    const { answers } = computed(drawnFor(realize(spec).circuit))
    expect(answers.circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(answers.verdicts.verdicts.every((v) => v.met)).toBe(true)
  })

  test('an impossible circuit leaves the ideal response; a broken circuit says where', () => {
    const { answers, failures } = computed(designOfSpec('T', { ...spec, order: 4 } as typeof spec, 'exact'))
    expect(answers.ideal).not.toBeNull()
    expect(answers.circuit).toBeNull()
    expect(failures.circuit).toMatchObject({ code: 'REALIZATION_IMPOSSIBLE', place: { path: 'realization.load' } })
    const broken = circuitEdit({ edit: 'set-value', args: { part: 'RL', field: 'resistance', value: 0 } }).apply(
      realize(spec).circuit,
    )
    const { circuit } = computed(drawnFor(broken)).answers
    expect(circuit!.circuit).toBe(broken)
    expect(circuit!.failure).toMatchObject({ place: { part: 'RL' } })
  })

  test('without a circuit the response is judged by what it alone decides', () => {
    const { realization: _gone, ...plain } = { ...spec, requirements: [{ kind: 'parts' as const, limit: 1 }] }
    const { answers } = computed(designOfSpec('T', plain as typeof spec, 'exact'))
    expect(answers.verdicts.ofIdeal).toBe(true)
    expect(answers.verdicts.verdicts.map((v) => v.id).sort()).toEqual(['passband', 'stopband'])
    expect([answers.circuit, answers.frequency, answers.time, answers.roots]).toEqual([null, null, null, null])
  })

  test('a circuit without a specification is simulated all the same', () => {
    const { answers } = computed(designOfCircuit(realize(spec).circuit))
    expect(answers.ideal).toBeNull()
    expect(answers.verdicts).toEqual({ verdicts: [], ofIdeal: false })
    expect(answers.roots!.ac.cutoffs[0]).toBeGreaterThan(1000)
  })

  test('and judged by what is required of it', () => {
    const requirements = [{ kind: 'parts' as const, limit: 3 }]
    const { answers } = computed({ ...designOfCircuit(realize(spec).circuit), requirements })
    expect(answers.verdicts).toMatchObject({ ofIdeal: false, verdicts: [{ kind: 'parts', met: false, achieved: 7 }] })
  })

  const ladder = (parts: number, waveform = '') => {
    const cards = Array.from({ length: parts / 2 }, (_, k) => `L${k} n${k} n${k + 1} 1u\nC${k} n${k + 1} 0 400p`)
    return netlist(
      `V1 in 0 AC 1 ${waveform}`,
      'RS in n0 50',
      `RL n${parts / 2} 0 50`,
      `E1 out 0 n${parts / 2} 0 1`,
      ...cards,
    )
  }

  test.each([
    [200, ''],
    [400, 'PULSE(0 1)'],
  ])(
    'a ladder of %i parts has its curves, without poles, which say why they are missing',
    { timeout: 60_000 },
    (parts, waveform) => {
      const { answers, failures } = computed(ladder(parts, waveform))
      expect(answers.roots).toBeNull()
      expect(Object.keys(failures)).toEqual(['roots'])
      expect(failures.roots!.code).toBe('TOO_LARGE')
      const { range, curves } = answers.frequency!
      const { frequency, db, phase } = curves[0]!
      // 1/(2π√(LC)) is 7.96 MHz; half the voltage passes far below.
      expect(range.from).toBeLessThan(1e6)
      expect(range.to).toBeGreaterThan(16e6)
      expect(db[0]).toBeCloseTo(20 * Math.log10(0.5), 2)
      // Each section turns by 2·asin(ω·√(LC)/2): the curve's own phase, followed from below.
      const [f, p] = [frequency[0]!, phase[0]!]
      expect(p).toBeCloseTo((-360 / Math.PI) * (parts / 2) * Math.asin(Math.PI * f * 2e-8), 0)
      // A matched line hands the step on after half a period of LC a section.
      const { time, value } = answers.time!.curves[0]!
      expect(value[0]).toBeCloseTo(0, 6)
      const half = time[value.findIndex((v) => v > 0.25)]!
      expect(half / ((parts / 2) * 2e-8)).toBeCloseTo(1, 1)
    },
  )

  test('a read-out is exact at its frequency', () => {
    const { transfer } = computed(design).answers.roots!
    const there = readOut(transfer, 1000)
    expect(there.db).toBeCloseTo(20 * Math.log10(0.5) - 0.5, 9)
    expect(there.gain).toBeCloseTo(10 ** (there.db / 20), 12)
  })
})

describe('what can be asked for besides', () => {
  const answered = <A>(asked: Promise<unknown>) => {
    let outcome: { answer: A } | null = null
    void asked.then((o) => (outcome = o as { answer: A }))
    return outcome!.answer
  }

  test('voltages, currents and powers at rest', () => {
    const report = answered<{ nodes: Record<string, number>; powers: Record<string, number> }>(
      atOnce.ask(operatingPointTopic, netlist('V1 in 0 10', 'R1 in out 1k', 'R2 out 0 3k')),
    )
    expect(report.nodes.out).toBeCloseTo(7.5, 12)
    expect(report.powers.R2).toBeCloseTo(0.01875, 12)
  })

  test('what a circuit is, with the output that the design says', () => {
    const lowpass = netlist('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n')
    const is = (question: object) =>
      answered<WhatItIs>(atOnce.ask(whatItIsTopic, question as typeof lowpass)).recognised.response
    expect(is(lowpass)).toBe('lowpass')
    expect(is({ ...lowpass, study: { output: 'v(in,out)' } })).toBe('highpass')
  })

  test('ways to meet what a response misses', () => {
    const asked = { ...spec, stopband: { edges: [1100], attenuation: 60 } }
    expect(answered<string[]>(atOnce.ask(adviceTopic, asked)).join()).toContain('Elliptic of order')
  })

  test('candidates, some at a time, all of them in the answer', () => {
    const parts = [...candidatesJob.run({ ...spec, realization: undefined } as never)]
    const work = candidatesJob.run({ ...spec, realization: undefined } as never)
    let step = work.next()
    while (!step.done) step = work.next()
    const all = step.value.found!
    expect(parts.flatMap((p) => p.found!)).toHaveLength(all.length - (all.length % 6))
    expect(all.length).toBeGreaterThan(50)
  })

  test('the answer to a sine of real size, point by point', () => {
    const question = {
      ...netlist('V1 in 0 0', 'R1 in out 1k', 'D1 out 0 D', '.model D D'),
      output: 'out',
      amplitude: 2,
      frequencies: [100, 1000],
    }
    const work = largeSignalJob.run(question)
    const first = work.next()
    expect(first.value.points).toHaveLength(1)
    // The diode clips one half: the fundamental is more than half and less than all.
    expect(first.value.points![0]!.gain).toBeGreaterThan(0.5)
    expect(first.value.points![0]!.gain).toBeLessThan(0.9)
    expect(first.value.points![0]!.distortionPercent).toBeGreaterThan(10)
    work.next()
    expect(work.next()).toMatchObject({ done: true, value: { points: [{ frequency: 100 }, { frequency: 1000 }] } })
  })

  test('the loop gain with its margins', () => {
    // 10⁵ at DC with one pole at 10 Hz, fed back directly: it crosses 1 at 1 MHz, 90° from turning over.
    const question = {
      ...netlist(
        'V1 in 0 AC 1',
        'E1 a 0 in fb 100k',
        'R1 a b 1k',
        'C1 b 0 15.915494309u',
        'E2 out 0 b 0 1',
        'VM out fb 0',
        'R2 fb 0 1k',
      ),
      marker: 'VM',
    }
    const { margins, frequency } = answered<{
      margins: { gainCrossing: number; phaseMarginDeg: number }
      frequency: Float64Array
    }>(atOnce.ask(loopGainTopic, question))
    expect(margins.gainCrossing / 1e6).toBeCloseTo(1, 4)
    expect(margins.phaseMarginDeg).toBeCloseTo(90, 2)
    expect(frequency.length).toBeGreaterThan(50)
  })
})
