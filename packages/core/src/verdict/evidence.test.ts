import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { parseSpec } from '../specification/filterSpec.js'
import { type AskedRequirement, REQUIREMENT_KINDS } from '../specification/requirements/index.js'
import { realize } from '../synthesis/realize.js'
import { verify } from './verify.js'

// A divider with a capacitance: R1 = R2 = 1 kΩ, 318.3 nF, so that the corner lies at 1 kHz and DC passes half.
const { circuit } = readNetlist(
  ['t', 'V1 in 0 AC 1', 'R1 in out 1k', 'R2 out 0 1k', 'C1 out 0 318.3098862n', ''].join('\n'),
)

describe('a circuit without a specification', () => {
  const requirements: AskedRequirement[] = [
    { kind: 'gain-at', at: 10, target: 20 * Math.log10(0.5), limit: 0.01 },
    { kind: 'cutoff', target: 1000, limit: 0.1 },
    { kind: 'attenuation', from: 10e3, to: 20e3, limit: 15 },
    { kind: 'impedance-least', from: 1, to: 1e6, limit: 900 },
    { kind: 'rise-time', limit: 1e-3 },
    { kind: 'parts', limit: 2 },
  ]
  const verdicts = verify(null, circuit, requirements)
  const of = (kind: string) => verdicts.find((v) => v.kind === kind)!

  test('is judged by what is required of it, worst margin first', () => {
    expect(verdicts).toHaveLength(requirements.length)
    expect(verdicts[0]).toMatchObject({ kind: 'parts', met: false, achieved: 3, margin: -1 })
    expect(of('cutoff').achieved).toBeLessThan(1e-6)
    // 20·log10|1 + j·10| at the band's begin, counted from the highest level there is
    expect(of('attenuation').achieved).toBeCloseTo(10 * Math.log10(101), 6)
    // 10–90 % of one pole: ln 9 / ω
    expect(of('rise-time').achieved).toBeCloseTo(Math.log(9) / (2 * Math.PI * 1000), 9)
    // Far above, C1 shorts R2: R1 alone is left.
    expect(of('impedance-least').achieved).toBeCloseTo(1000, 2)
  })

  test('nothing required, nothing judged', () => {
    expect(verify(null, circuit)).toEqual([])
  })
})

test('a verdict names its kind, its place and what shows it as data', () => {
  const spec = parseSpec({
    response: 'bandpass',
    approximation: 'elliptic',
    order: 3,
    passband: { edges: [1000, 2000], ripple: 0.5 },
    stopband: { attenuation: [40, 45] },
    requirements: [
      { kind: 'phase-at', at: 1400, target: 0, limit: 90 },
      { kind: 'phase-at', at: 1500, target: 0, limit: 90 },
      { kind: 'delay-variation', from: 1300, to: 1500, limit: 1 },
    ],
    realization: { family: 'lc-ladder', source: 50, load: 50 },
  })
  const lines = verify(spec, realize(spec).circuit).map(({ id, kind, place, decided }) => [id, kind, place, decided])
  expect(lines.sort(([a], [b]) => String(a).localeCompare(String(b)))).toEqual([
    ['delay-variation', 'delay-variation', { band: [1300, 1500] }, 'frequency'],
    ['passband', 'passband', null, 'frequency'],
    ['phase-at', 'phase-at', { frequency: 1400 }, 'frequency'],
    ['phase-at 2', 'phase-at', { frequency: 1500 }, 'frequency'],
    ['stopband', 'stopband', { side: 'below' }, 'frequency'],
    ['stopband 2', 'stopband', { side: 'above' }, 'frequency'],
  ])
})

test('every kind says what it is asked at, and is judged with no more than that', () => {
  for (const kind of REQUIREMENT_KINDS) {
    const asked = {
      kind: kind.kind,
      limit: 1,
      ...(kind.at === 'frequency' && { at: 700 }),
      ...(kind.at === 'band' && { from: 500, to: 900 }),
      ...('target' in kind && { target: 1 }),
    }
    const [verdict] = verify(null, circuit, [asked])
    expect(verdict, kind.kind).toMatchObject({ id: kind.kind, unit: kind.unit, sense: kind.sense })
    // Only a ringing that there is not has no value here.
    if (kind.kind !== 'ringing') expect(verdict.achieved, kind.kind).not.toBeNull()
  }
})
