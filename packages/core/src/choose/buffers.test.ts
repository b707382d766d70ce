import { describe, expect, test } from 'vitest'
import { approximate } from '../approximation/approximate.js'
import type { Circuit } from '../circuit/circuit.js'
import { circuitEdit } from '../circuit/edit/index.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { writeNetlist } from '../format/netlist/writeNetlist.js'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { verify } from '../verdict/verify.js'
import { type BufferCost, bufferCosts, bufferText } from './buffers.js'

/** A netlist whose amplifiers are ideal. */
const circuit = (...lines: string[]): Circuit =>
  readNetlist(['buffers', 'V1 in 0 AC 1', ...lines, '.subckt amp p n o', 'E1 o 0 p n 1e8', '.ends', ''].join('\n'))
    .circuit

const subject = (realization: object, more: object = {}) => {
  const spec = parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order: 1,
    passband: { edges: [1000] },
    realization: { family: 'sallen-key', ...realization },
    ...more,
  })
  const ideal = approximate(spec)
  const { circuit, referenceDb } = realize(spec, 'exact', ideal)
  return { circuit, promised: { spec, ideal }, referenceDb }
}

const leftOut = (from: Circuit, part: string) =>
  circuitEdit({ edit: 'set-aside', args: { parts: [part], as: 'short' } }).apply(from)

const db = (x: number) => 20 * Math.log10(x)
const only = (costs: readonly BufferCost[]) => {
  expect(costs).toHaveLength(1)
  return costs[0]
}

describe('amplifiers that only buffer', () => {
  test('the follower of a first order before its load: without it the load divides, and moves the corner', () => {
    const [c, load] = [15e-9, 22e3]
    const cost = only(bufferCosts(subject({ capacitor: c, load })))
    expect(cost).toMatchObject({ part: 'U1', place: 'at the output', isOut: false, failure: null })
    // R and C give 1 kHz. With the load the pole lies at 1/(R‖RL·C), the level at RL/(R + RL). Off most at DC.
    const r = 1 / (2 * Math.PI * 1000 * c)
    const error = (w: number) => db(load / Math.hypot(r + load, w * r * load * c)) - db(1 / Math.hypot(1, w * r * c))
    const [dc, edge] = [error(2 * Math.PI), error(2 * Math.PI * 1000)]
    expect(Math.abs(dc)).toBeGreaterThan(Math.abs(edge))
    expect(cost.error!.db).toBeCloseTo(dc, 9)
    expect(cost.error!.at).toBeCloseTo(1, 9)
  })

  test('a follower behind a source that no resistor takes up: the closed form of source, C and R', () => {
    // RS, C, R to ground: H = sRC/(1 + s(R + RS)C); with the follower sRC/(1 + sRC). Off by R/(R + RS) far above the corner.
    const [source, c, r] = [1e3, 16e-9, 10e3]
    const c1 = circuit(`RS in a ${source}`, 'X1 a b b amp', `C1 b c ${c}`, `R1 c 0 ${r}`, 'X2 c out out amp')
    const costs = bufferCosts({ circuit: c1, promised: null })
    expect(costs.map(({ part, place }) => [part, place])).toEqual([
      ['X1', 'behind the source'],
      ['X2', 'at the output'],
    ])
    const { error } = costs[0]
    const at = 2 * Math.PI * error!.at
    expect(error!.db).toBeCloseTo(db(Math.hypot(1, at * r * c) / Math.hypot(1, at * (r + source) * c)), 9)
    // Behind the second one there is no load.
    expect(costs[1].error).toBeNull()
    expect(bufferText(costs[1])).toBe('Nothing would change without it.')
  })

  test('what feeds back through parts is more than a buffer; what another amplifier stops is not', () => {
    const fedBack = circuit('R1 in a 10k', 'R2 a b 10k', 'C1 a out 10n', 'C2 b 0 5n', 'X1 b out out amp')
    expect(bufferCosts({ circuit: fedBack, promised: null })).toEqual([])
    const turned = circuit('R1 in a 10k', 'C2 a 0 5n', 'X1 a b b amp', 'R3 b c 10k', 'R4 c out 10k', 'X2 0 c out amp')
    expect(bufferCosts({ circuit: turned, promised: null }).map((b) => b.part)).toEqual(['X1'])
  })

  test('one between an output with resistance and its load, which is not there: A/(1 + A) with the load’s share of A', () => {
    const [gain, output, load] = [1000, 100, 300]
    const loaded = subject({ load, amplifier: { gain, output } }, { order: 2 })
    const cost = only(bufferCosts(loaded))
    expect(cost).toMatchObject({ part: null, place: 'at the output', isOut: true })
    // At DC all of the output is fed back.
    const closed = (a: number) => a / (1 + a)
    const atDc = db(closed((gain * load) / (output + load))) - db(closed(gain))
    const slow = bufferCosts({
      ...loaded,
      promised: { ...loaded.promised, ideal: { ...loaded.promised.ideal, passbands: [[1e-6, 1e-3]] } },
    })
    expect(slow[0].error!.db).toBeCloseTo(atDc, 9)
    // An ideal amplifier knows no load.
    expect(only(bufferCosts(subject({ load }, { order: 2 }))).error).toBeNull()
  })

  test('what it breaks is what verify says of the circuit without it, and the same is said of one that is left out', () => {
    const asked = subject({ source: 1000 }, { order: 3, passband: { edges: [1000], ripple: 1 }, response: 'highpass' })
    const costs = bufferCosts(asked)
    expect(costs.map((c) => c.place)).toContain('behind the source')
    for (const cost of costs) {
      const without = leftOut(asked.circuit, cost.part!)
      const missed = verify(asked.promised.spec, without).filter((v) => !v.met)
      expect(missed.map((v) => v.name)).toEqual(cost.breaks)
      const left = bufferCosts({ ...asked, circuit: without }).find((c) => c.part === cost.part)!
      expect(left).toEqual({ ...cost, isOut: true })
    }
    expect(costs.some((c) => c.breaks.length > 0)).toBe(true)
  })

  test('left out it is a wire from what it follows to its output, in a netlist as well', () => {
    const { circuit: made, promised } = subject({ source: 1000 }, { response: 'highpass' })
    const without = leftOut(made, 'U1')
    const read = readNetlist(writeNetlist(without).text).circuit
    const [own, again] = [without, read].map((c) => verify(promised.spec, c).map((v) => v.achieved))
    expect(again).toEqual(own.map((x) => (x === null ? null : expect.closeTo(x, 9))))
    expect(read.parts.filter((p) => p.kind === 'opamp')).toHaveLength(
      made.parts.filter((p) => p.kind === 'opamp').length - 1,
    )
  })
})
