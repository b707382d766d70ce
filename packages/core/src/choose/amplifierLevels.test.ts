import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { NetMap } from '../circuit/NetMap.js'
import { parseSpec } from '../specification/filterSpec.js'
import { topologies } from '../synthesis/index.js'
import { realize } from '../synthesis/realize.js'
import { idealOf } from '../verdict/leastOrder.js'
import { demandLimits, demandStep, signalDemand } from './amplifierLevels.js'

const LOWPASS = { response: 'lowpass', approximation: 'chebyshev', order: 2, passband: { edges: [1000], ripple: 1 } }

function demand(realization: object, asked: object = LOWPASS) {
  const spec = parseSpec({ ...asked, realization })
  const ideal = idealOf(spec)
  const { circuit } = realize(spec, 'exact', ideal)
  return { spec, ideal, circuit, found: signalDemand(spec, circuit, ideal.transfer)! }
}

describe('what a signal asks of amplifiers', () => {
  test('a Chebyshev low-pass of order 2 swings to the signal where T₂ is zero, at cos 45° of its edge', () => {
    const { found, ideal } = demand({ family: 'sallen-key', signal: 2 })
    expect(found.levels.map((l) => l.part)).toEqual(['U1'])
    const [{ swing, slew }] = found.levels
    expect(swing.value).toBeCloseTo(2, 9)
    expect(swing.at / 1000).toBeCloseTo(Math.SQRT1_2, 6)
    // ω·|H| = ω·w0²/|w0² − ω² + jω·w0/Q| is greatest at ω0, w0²·Q/w0.
    const [{ re, im }] = ideal.transfer.poles
    const w0 = Math.hypot(re, im)
    const atDc = 10 ** (-1 / 20)
    expect(slew.value / (2 * atDc * w0 * (w0 / (-2 * re)))).toBeCloseTo(1, 9)
    expect((2 * Math.PI * slew.at) / w0).toBeCloseTo(1, 6)
  })

  test('a band-pass is to be followed up to its passband’s edge, which lies beyond its highest pole', () => {
    const edges = [1000, 1400]
    const asked = { response: 'bandpass', approximation: 'butterworth', order: 1, passband: { edges } }
    const { found, circuit, ideal } = demand({ family: 'multiple-feedback', signal: 1 }, asked)
    const net = NetMap.of(circuit).netOf('U1', 'out')!
    const grid = Float64Array.from({ length: 2001 }, (_, k) => 10 + ((edges[1] - 10) * k) / 2000)
    const { re, im } = new AcAnalysis(formulate(circuit), { output: { op: 'v', of: [net] } }).sweep(grid)
    const most = Math.max(...Array.from(re, (x, k) => 2 * Math.PI * grid[k] * Math.hypot(x, im[k])))
    expect(found.levels[0].slew.value / most).toBeCloseTo(1, 5)
    expect(Math.hypot(ideal.transfer.poles[0].re, ideal.transfer.poles[0].im) / (2 * Math.PI)).toBeLessThan(1200)
    expect(found.levels[0].slew.at).toBeGreaterThan(1200)
  })

  test('every amplifier of every active family: no frequency of a dense sweep has more', () => {
    const asked: Readonly<Record<string, object>> = {
      deliyannis: { response: 'bandpass', approximation: 'butterworth', order: 2, passband: { edges: [900, 1100] } },
      'active-allpass': { response: 'allpass', approximation: 'bessel', order: 3, passband: { edges: [1000] } },
      'active-integrator': { response: 'integrator', shape: { from: 100, to: 1e4, unity: 1000, error: 1 } },
      'active-differentiator': { response: 'differentiator', shape: { from: 100, to: 1e4, unity: 1000, error: 1 } },
      'tone-control': { response: 'peaking', shape: { center: 1000, boost: 9, q: 1.2 } },
    }
    const elliptic = { ...LOWPASS, approximation: 'elliptic', order: 3, stopband: { attenuation: 40 } }
    const notched = ['twin-t', 'bridged-t-notch', 'bainter', 'boctor']
    for (const { id } of topologies.filter((t) => t.family === 'active')) {
      const response = asked[id] ?? (notched.includes(id) ? elliptic : { ...LOWPASS, order: 3 })
      const { circuit, found } = demand({ family: id, signal: 0.5 }, response)
      const amplifiers = circuit.parts.filter((p) => p.kind === 'opamp').map((p) => p.id)
      expect(found.levels.map((l) => l.part)).toEqual(amplifiers)
      // A slope's signal lies in its band.
      const [from, decades] = id.endsWith('tor') ? [100, 2] : [0.1, 7]
      const grid = Float64Array.from({ length: 80 * decades + 1 }, (_, k) => from * 10 ** (k / 80))
      for (const { part, swing } of found.levels) {
        const net = NetMap.of(circuit).netOf(part, 'out')!
        const { re, im } = new AcAnalysis(formulate(circuit), { output: { op: 'v', of: [net] } }).sweep(grid)
        const most = Math.max(...Array.from(re, (x, k) => 0.5 * Math.hypot(x, im[k])))
        expect(most, `${id} ${part}`).toBeLessThanOrEqual(swing.value * (1 + 1e-6))
        expect(most, `${id} ${part}`).toBeGreaterThan(swing.value * 0.97)
      }
    }
  })

  test('what its amplifiers cannot do is said', () => {
    const { found } = demand({ family: 'multiple-feedback', signal: 2, amplifier: { swing: 1.9, slew: 1e3 } })
    expect(found.remarks).toEqual([
      expect.stringMatching(/^U1 would swing to 2\.00\sV where outputs end at 1\.90\sV\.$/),
      expect.stringMatching(/^U1 would need \S+\skV\/s where amplifiers are limited to 1\.00\skV\/s\.$/),
    ])
    expect(demandStep(found).lines).toHaveLength(3)
    expect(demandLimits(found).map((l) => l.id)).toEqual(['swing-U1', 'slew-U1'])
    const chain = demand({ family: 'multiple-feedback', signal: 2, amplifier: { swing: 1 } }, { ...LOWPASS, order: 4 })
    expect(chain.found.remarks.join()).toMatch(/^U\d would swing to .*; beyond that, too: U\d\.$/)
    // What it is made of changes nothing of what is asked.
    expect(demand({ family: 'multiple-feedback', signal: 2 }).found.remarks).toEqual([])
  })

  test('no signal, no demand', () => {
    expect(demand({ family: 'multiple-feedback' }).found).toBeNull()
  })
})
