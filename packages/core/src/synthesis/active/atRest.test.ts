import { describe, expect, test } from 'vitest'
import { formulate } from '../../analysis/mna.js'
import { operatingPoint } from '../../analysis/operatingPoint.js'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { polesAndZeros } from '../../analysis/poles.js'
import { smallSignal } from '../../analysis/smallSignal.js'
import type { Circuit } from '../../circuit/circuit.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { topologies } from '../index.js'
import { realize } from '../realize.js'

const LOWPASS = { response: 'lowpass', approximation: 'chebyshev', order: 3, passband: { edges: [1000], ripple: 1 } }
const BANDS = { passband: { edges: [900, 1100], ripple: 1 }, approximation: 'butterworth', order: 2 }
const SLOPE = { shape: { from: 100, to: 1e4, unity: 1000, error: 1 } }
const ANY: readonly object[] = [
  LOWPASS,
  { ...LOWPASS, approximation: 'elliptic', stopband: { attenuation: 40 } },
  { ...LOWPASS, response: 'highpass' },
  { ...BANDS, response: 'bandpass' },
  { ...BANDS, response: 'bandstop' },
]
const ASKED: Readonly<Record<string, readonly object[]>> = {
  'active-allpass': [{ ...LOWPASS, response: 'allpass', approximation: 'bessel' }],
  'active-integrator': [{ response: 'integrator', ...SLOPE }],
  'active-differentiator': [{ response: 'differentiator', ...SLOPE }],
  'tone-control': [
    { response: 'low-shelf', shape: { corner: 1000, boost: 9, order: 1 } },
    { response: 'high-shelf', shape: { corner: 1000, boost: -9, order: 1 } },
    { response: 'peaking', shape: { center: 1000, boost: 9, q: 1 } },
  ],
}
const AMPLIFIERS = ['ideal', { gain: 1e5 }, 'general', 'audio', 'precise', 'fast', 'low-power'] as const

/** What is at rest at nets. */
function atRest(circuit: Circuit, ...nets: string[]): number[] {
  const mna = formulate(circuit)
  const { x } = operatingPoint(mna)
  return nets.map((net) => x[mna.unknowns.indexOf(`v(${net})`)])
}

const maybeMade = (asked: object, realization: object): Circuit | null => {
  try {
    return realize(parseSpec({ ...asked, realization })).circuit
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

describe('every active circuit comes to rest where it should, whatever its amplifiers', () => {
  test.each(topologies.filter((t) => t.family === 'active').map((t) => t.id))('%s', (family) => {
    let made = 0
    for (const asked of ASKED[family] ?? ANY) {
      for (const amplifier of AMPLIFIERS) {
        const split = maybeMade(asked, { family, amplifier })
        const single = maybeMade(asked, { family, amplifier, supply: 'single', load: 1e4 })
        const what = `${JSON.stringify(asked)} ${JSON.stringify(amplifier)}`
        if (split) expect(Math.abs(atRest(split, 'out')[0]), what).toBeLessThan(1e-9)
        if (!single) continue
        const [out, mid] = atRest(single, 'out', 'mid')
        expect(mid, what).toBeGreaterThan(2.4)
        // Nothing but the load's current through a finite gain moves it.
        expect(Math.abs(out - mid) / mid, what).toBeLessThan(1e-6)
        made++
      }
    }
    if (family !== 'differential-multiple-feedback') expect(made).toBeGreaterThan(0)
  })
})

test('what it rests at takes nothing of an amplifier’s bandwidth', () => {
  // 6 V of 1300 are 4.6 mV, a quarter of what a stage of 0.1 V/µs and 1 MHz takes before it is limited.
  const amplifier = { gain: 1300, bandwidth: 1e6, slew: 1e5 }
  const transferOf = (supply: string) => {
    const { circuit } = realize(parseSpec({ ...LOWPASS, realization: { family: 'sallen-key', amplifier, supply } }))
    return new AcAnalysis(smallSignal(formulate(circuit)))
  }
  const [split, single] = [transferOf('split'), transferOf('single')]
  // The split one's amplifiers rest at 0; the single one's input and output are coupled by capacitors, which pass by then.
  for (const f of [2e4, 1e5, 1e6]) {
    const [a, b] = [split.at({ re: 0, im: 2 * Math.PI * f }), single.at({ re: 0, im: 2 * Math.PI * f })]
    expect(Math.hypot(a.re - b.re, a.im - b.im) / Math.hypot(a.re, a.im)).toBeLessThan(1e-3)
  }
})

describe('with amplifiers a thousand times as fast as the filter every active circuit is stable', () => {
  const FAST = { gain: 1e5, bandwidth: 1e6 }
  test.each(topologies.filter((t) => t.family === 'active').map((t) => t.id))('%s', (family) => {
    for (const asked of ASKED[family] ?? ANY) {
      for (const order of [2, 3]) {
        const evenOrder = order === 2 && family.includes('ladder') ? { evenOrder: 'c' } : {}
        const shaped = 'shape' in asked ? {} : { order, ...evenOrder }
        const circuit = maybeMade({ ...asked, ...shaped }, { family, amplifier: FAST })
        if (!circuit) continue
        const { transfer, hidden } = polesAndZeros(smallSignal(formulate(circuit)))
        const unstable = [...transfer.poles, ...hidden].filter((p) => p.re >= 0)
        expect(unstable, `${JSON.stringify(asked)} of order ${order}`).toEqual([])
      }
    }
  })
})
