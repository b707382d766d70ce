import { describe, expect, test } from 'vitest'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { topologies } from '../synthesis/index.js'
import { verify } from '../verdict/verify.js'
import { circuitCandidates } from './circuits.js'
import { ranked, USUAL_WEIGHTS, WEIGHED } from './ranking.js'

const ASKED = {
  response: 'lowpass',
  approximation: 'bessel',
  passband: { edges: [1000], ripple: 0.5 },
  stopband: { edges: [2500], attenuation: 40 },
  realization: { family: 'sallen-key' },
}
const asked = (more: object = {}) => parseSpec({ ...ASKED, ...more })
const familyOf = (id: string | null) => topologies.find((t) => t.id === id)!.family

describe('circuits for a specification', () => {
  const all = [...circuitCandidates(asked())]

  test('passive and active ones, each with what its own circuit has and does', () => {
    expect(new Set(all.map((c) => familyOf(c.family)))).toEqual(new Set(['passive', 'active']))
    for (const c of all) {
      const { circuit } = realize(c.specification)
      expect(c.figures.amplifiers).toBe(circuit.parts.filter((p) => p.kind === 'opamp').length)
      expect(c.figures.coils).toBe(circuit.parts.filter((p) => p.kind === 'inductor').length)
      const own = verify(c.specification, circuit)
      expect(c.met, `${c.approximation} ${c.family} ${own.map((v) => `${v.id} ${v.margin}`).join()}`).toBe(
        own.every((v) => v.met),
      )
    }
  })

  test('each approximation at the least order that keeps the stop band, by the closed form of Butterworth’s', () => {
    const least = Math.log(Math.sqrt((1e4 - 1) / (10 ** 0.05 - 1))) / Math.log(2.5)
    const orders = new Set(all.filter((c) => c.approximation === 'butterworth').map((c) => c.order))
    expect([...orders]).toEqual([Math.ceil(least)])
  })

  test('a chain of the same sections stands there once, different circuits of one response each', () => {
    const chains = all.flatMap((c) => (c.sections ? [`${c.approximation} ${c.order} ${c.sections.join()}`] : []))
    expect(new Set(chains).size).toBe(chains.length)
    // Its parts are those of the two-integrator loop; amplifiers that are not ideal tell them apart.
    const ofButterworth = all.filter((c) => c.approximation === 'butterworth').map((c) => c.family)
    expect(ofButterworth).toEqual(expect.arrayContaining(['two-integrator-loop', 'akerberg-mossberg']))
    // These know no approximation.
    expect(all.filter((c) => c.family === 'image-sections').length).toBeLessThanOrEqual(1)
  })

  test('what is only near to a response comes last', () => {
    const near = all.map((c) => topologies.find((t) => t.id === c.family)!.near !== undefined)
    expect(near.slice(near.indexOf(true))).not.toContain(false)
    expect(near).toContain(true)
  })

  test('a response of its own values has one for each family that makes it', () => {
    const notch = parseSpec({ response: 'notch', shape: { center: 50, width: 5 } })
    const families = [...circuitCandidates(notch)].map((c) => c.family)
    expect(families).toContain('twin-t')
    expect(families).toContain('bainter')
    expect(new Set(families).size).toBe(families.length)
  })

  test('what keeps every promise stands first, and what is weighed decides among these', () => {
    const order = ranked(all, USUAL_WEIGHTS)
    const firstMissing = order.findIndex((c) => !c.met)
    expect(order.slice(firstMissing).every((c) => !c.met)).toBe(true)
    const none = Object.fromEntries(WEIGHED.map((w) => [w.id, 0])) as typeof USUAL_WEIGHTS
    const fewest = ranked(all, { ...none, parts: 1 }).filter((c) => c.met)
    const counts = fewest.map((c) => c.figures.parts!)
    expect(counts).toEqual([...counts].sort((a, b) => a - b))
    expect(ranked(all, { ...none, coils: 1 })[0].figures.coils).toBe(0)
    expect(ranked(all, { ...none, amplifiers: 1 })[0].figures.amplifiers).toBe(0)
    const steadiest = ranked(all, { ...none, delayPeriods: 1 })[0].figures
    expect(steadiest.delayRipple).toBe(Math.min(...all.flatMap((c) => (c.met ? [c.figures.delayRipple!] : []))))
    expect(steadiest.delayPeriods).toBeCloseTo(steadiest.delayRipple! * 1000, 12)
  })
})
