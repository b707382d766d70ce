import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'

import { flatten } from '../circuit/flatten.js'
import { designedCircuit } from '../format/design/designedCircuit.js'
import { designOfSpec } from '../format/design/makeDesign.js'
import { readRequirements } from '../format/design/readRequirements.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { parseSpec } from '../specification/filterSpec.js'
import { evidenceOf } from './evidence.js'
import { influences } from './influence.js'
import { idealOf } from './leastOrder.js'
import { ledger } from './ledger.js'

/*
 * Sallen and Key's low-pass of unity gain: ω₀ = 1/√(R1·R2·C1·C2), Q = √(R1·R2·C1/C2)/(R1 + R2). Sensitivities of the published
 * design equations: S(ω₀; any) = −1/2; S(Q; C1) = 1/2, S(Q; C2) = −1/2, S(Q; R1) = (R2 − R1)/(2·(R1 + R2)). Source: R. P. Sallen,
 * E. L. Key, IRE Trans. CT-2, 1955, 74–85.
 */
const SECTION = `section
V1 in 0 AC 1
R1 in a 10k
R2 a b 20k
C1 a out 20n
C2 b 0 2n
E1 out 0 b out 1e12
`
const { circuit } = readNetlist(SECTION)

/** The change of a margin for one per cent more, by part. */
const of = (of: object) => {
  const requirements = readRequirements([{ kind: 'value', id: 'x', of, min: -1000 }])
  const { x } = influences({ promised: null, requirements, circuit })
  return Object.fromEntries(x!.map((i) => [i.part, i.perPercent]))
}

test('of a section, by its published sensitivities', () => {
  const w0 = 1 / Math.sqrt(1e4 * 2e4 * 20e-9 * 2e-9)
  // |H(jω₀)| = Q: its decibels follow Q and, as the place stays, ω₀: d ln|H| = S(Q) + S(ω₀)·d ln|H|/d ln(ω₀), here 1 for both poles.
  const db = of({ signal: 'out', frequency: w0 / (2 * Math.PI), as: 'db' })
  const perCent = (s: number) => (s * 20 * Math.LOG10E) / 100
  const sensitivityOfQ = { C1: 0.5, C2: -0.5, R1: (20 - 10) / 60, R2: (10 - 20) / 60 }
  for (const [part, s] of Object.entries(sensitivityOfQ)) expect(db[part] ?? 0).toBeCloseTo(perCent(s - 0.5), 8)
  // The phase at ω₀ is −90°, and turns by 2·Q rad for each ω₀ that this moves by: it hears nothing of Q.
  const q = Math.sqrt((1e4 * 2e4 * 20e-9) / 2e-9) / 3e4
  const deg = of({ signal: 'out', frequency: w0 / (2 * Math.PI), as: 'deg' })
  for (const part of ['R1', 'R2', 'C1', 'C2'])
    expect(deg[part]!).toBeCloseTo(((-0.5 * 2 * q) / 100) * (180 / Math.PI), 6)
})

test('of a cutoff: −1 % for one per cent more of R or of C; the greatest first; what does nothing is left out', () => {
  const rc = readNetlist('x\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 100n\nR2 in 0 1k\n').circuit
  const requirements = readRequirements([
    { kind: 'value', id: 'corner', of: { measure: 'ac.cutoffs[0]' }, max: 2000 },
    { kind: 'cutoff', limit: 1, target: 1600 },
    { kind: 'value', id: 'nothing there', of: { measure: 'ac.cutoffs[1]' }, max: 2000 },
  ])
  const found = influences({ promised: null, requirements, circuit: rc })
  // A limit from above: a lower corner gives it more room.
  expect(found.corner!.map((i) => i.part).sort()).toEqual(['C1', 'R1'])
  for (const { perPercent } of found.corner!) expect(perPercent).toBeCloseTo(1591.5494309189535 / 100, 6)
  expect(found['nothing there']).toBeUndefined()
  expect(Object.keys(found)).toContain('cutoff')
})

describe('a tenth-order active filter of bought values', () => {
  const spec = parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order: 10,
    passband: { edges: [20000], ripple: 1 },
    stopband: { edges: [44000], attenuation: 40 },
    requirements: [
      { kind: 'overshoot', limit: 25 },
      { kind: 'gain-at', at: 15000, target: 0, limit: 1 },
      { kind: 'value', id: 'phase', of: { signal: 'out', frequency: 9000, as: 'deg' }, min: -400 },
      { kind: 'value', id: 'rise', of: { measure: 'step.riseTime' }, max: 1 },
    ],
    realization: { family: 'sallen-key' },
  })
  const ideal = idealOf(spec)
  const { circuit, realized } = designedCircuit(designOfSpec('t', spec, 'E24'), ideal)!
  const subject = { promised: { spec, ideal }, circuit, referenceDb: realized!.referenceDb }
  const found = influences(subject)
  const flat = flatten(circuit)
  const margins = (part: string, by: number) => {
    const index = flat.elements.findIndex((e) => e.name === part)
    const element = flat.elements[index]!
    const field = element.kind.mainValue!
    const values = { ...element.values, [field]: element.values[field]! * (1 + by) }
    const equations = formulate({ ...flat, elements: flat.elements.with(index, { ...element, values }) })
    const { transfer } = polesAndZeros(equations)
    const verdicts = ledger(evidenceOf({ ...subject, transfer, equations, whole: equations }))
    return Object.fromEntries(verdicts.map((v) => [v.id, v.margin!]))
  }

  test('every part on every requirement: as the circuit with another value has it', () => {
    expect(Object.keys(found).sort()).toEqual(['gain-at', 'overshoot', 'passband', 'phase', 'rise', 'stopband'])
    const step = 1e-4
    for (const part of ['C1', 'R5', 'C10', 'R8']) {
      const [up, down] = [margins(part, step), margins(part, -step)]
      for (const [id, list] of Object.entries(found)) {
        const wanted = (up[id]! - down[id]!) / (2 * step) / 100
        const own = list.find((i) => i.part === part)?.perPercent ?? 0
        const most = Math.abs(list[0]!.perPercent)
        expect(Math.abs(own - wanted) / most, `${part} on ${id}`).toBeLessThan(1e-4)
      }
    }
  })

  test('where two places are equally near to a limit, it is what happens as the value grows', () => {
    // Exact values of a Chebyshev response touch the ripple at several places at once.
    const equiripple = parseSpec({ ...spec, approximation: 'chebyshev', order: 5, requirements: [] } as never)
    const exact = idealOf(equiripple)
    const made = designedCircuit(designOfSpec('t', equiripple, 'exact'), exact)!
    const { passband } = influences({ promised: { spec: equiripple, ideal: exact }, circuit: made.circuit })
    // Whichever way it goes, it can only get worse.
    expect(passband!.length).toBeGreaterThan(3)
    expect(passband!.filter((i) => i.perPercent < 0).length).toBeGreaterThan(passband!.length / 2)
  })
})
