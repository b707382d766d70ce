import { describe, expect, test } from 'vitest'
import { formulate } from '../../analysis/mna.js'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { smallSignal } from '../../analysis/smallSignal.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { complex } from '../../numeric/complex.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { idealOf } from '../../verdict/leastOrder.js'
import { topologies } from '../index.js'
import { realize } from '../realize.js'

const LOWPASS = { response: 'lowpass', approximation: 'chebyshev', order: 3, passband: { edges: [1000], ripple: 1 } }
const ELLIPTIC = { ...LOWPASS, approximation: 'elliptic', stopband: { attenuation: 40 } }
const BANDPASS = { ...LOWPASS, response: 'bandpass', order: 2, passband: { edges: [900, 1100], ripple: 1 } }
const SLOPE = { shape: { from: 100, to: 1e4, unity: 1000, error: 1 } }
/** What is asked of families that make no low-pass. */
const ASKED: Readonly<Record<string, object>> = {
  deliyannis: BANDPASS,
  'twin-t': ELLIPTIC,
  'bridged-t-notch': ELLIPTIC,
  bainter: ELLIPTIC,
  boctor: ELLIPTIC,
  'active-allpass': { response: 'allpass', approximation: 'bessel', order: 3, passband: { edges: [1000] } },
  'active-integrator': { response: 'integrator', ...SLOPE },
  'active-differentiator': { response: 'differentiator', ...SLOPE },
  'tone-control': { response: 'high-shelf', shape: { corner: 1000, boost: 9, order: 1 } },
}

/** One thing that may be said each, of cli.md's common fields and those of some. */
const SAID: readonly object[] = [
  {},
  { capacitor: 4.7e-9 },
  { level: 33e3 },
  { source: 600 },
  { load: 2000 },
  { buffer: true },
  { buffer: true, load: 50 },
  { supply: 'single' },
  { supply: 'single', source: 50, load: 1e4 },
  { pairing: 'noise' },
  { pairing: 'sensitivity' },
  { pairing: 'as-listed' },
  { signal: 1 },
  { amplifier: { gain: 1e12 } },
]

/** What a family does not take: each ladder has its own ends, one section has no order, two halves have a middle. */
const REFUSED: Readonly<Record<string, readonly string[]>> = {
  ...Object.fromEntries(
    ['gyrator-ladder', 'fdnr-ladder', 'leapfrog'].map((id) => [id, ['buffer', 'buffer load', 'pairing']]),
  ),
  'active-integrator': ['pairing'],
  'active-differentiator': ['pairing'],
  'tone-control': ['pairing'],
  'differential-multiple-feedback': ['buffer', 'buffer load', 'supply', 'supply source load'],
}

/** Relative to the greatest level: an amplifier of 1e12; resistances for DC of 1 TΩ at most, between ends 200 times apart. */
const NEAR: Readonly<Record<string, number>> = { 'fdnr-ladder': 1e-5, 'gyrator-ladder': 4e-7 }

describe('whatever is said of a realization, its circuit has the response, or it is refused', () => {
  test.each(topologies.filter((t) => t.family === 'active').map((t) => t.id))('%s', (family) => {
    const refused = new Set<string>()
    for (const said of SAID) {
      const spec = parseSpec({ ...(ASKED[family] ?? LOWPASS), realization: { family, ...said } })
      const ideal = idealOf(spec)
      let made
      try {
        made = realize(spec, 'exact', ideal)
      } catch (error) {
        if (!(error instanceof VoskelError)) throw error
        expect(['SPEC_INVALID', 'REALIZATION_IMPOSSIBLE']).toContain(error.code)
        expect(error.place.path).toMatch(/^realization\./)
        refused.add(Object.keys(said).join(' '))
        continue
      }
      const grid = Float64Array.from({ length: 16 }, (_, k) => 31 * 10 ** (k / 5))
      const { re, im } = new AcAnalysis(smallSignal(formulate(made.circuit))).sweep(grid)
      const level = 10 ** (made.referenceDb / 20) * (made.inverting ? -1 : 1)
      grid.forEach((f, k) => {
        const wanted = evaluate(ideal.transfer, complex(0, 2 * Math.PI * f))
        const off = Math.hypot(re[k] - level * wanted.re, im[k] - level * wanted.im)
        const most = (NEAR[family] ?? 1e-9) * Math.max(1, Math.hypot(wanted.re, wanted.im))
        expect(off, `${JSON.stringify(said)} at ${f} Hz`).toBeLessThan(most)
      })
    }
    expect([...refused].sort()).toEqual([...(REFUSED[family] ?? [])].sort())
  })
})
