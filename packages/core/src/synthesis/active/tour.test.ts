import { describe, expect, test } from 'vitest'
import { formulate } from '../../analysis/mna.js'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { approximate } from '../../approximation/approximate.js'
import { checkCircuit } from '../../circuit/checks/index.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { complex } from '../../numeric/complex.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { type FilterSpec, parseSpec } from '../../specification/filterSpec.js'
import { topologies } from '../index.js'
import { realize } from '../realize.js'

/** What is asked for, by kind: of an approximation for each order, of a shape as it is. */
const KINDS: Readonly<Record<string, (order: number) => object>> = {
  lowpass: (order) => ({ response: 'lowpass', approximation: 'butterworth', order, passband: { edges: [1000] } }),
  highpass: (order) => ({ response: 'highpass', approximation: 'butterworth', order, passband: { edges: [1000] } }),
  bandpass: (order) => ({
    response: 'bandpass',
    approximation: 'butterworth',
    order,
    passband: { edges: [900, 1100] },
  }),
  bandstop: (order) => ({
    response: 'bandstop',
    approximation: 'butterworth',
    order,
    passband: { edges: [900, 1100] },
  }),
  'elliptic lowpass': (order) => ({
    ...ELLIPTIC,
    response: 'lowpass',
    order,
    passband: { edges: [1000], ripple: 0.5 },
  }),
  'elliptic highpass': (order) => ({
    ...ELLIPTIC,
    response: 'highpass',
    order,
    passband: { edges: [1000], ripple: 0.5 },
  }),
  'elliptic bandpass': (order) => ({
    ...ELLIPTIC,
    response: 'bandpass',
    order,
    passband: { edges: [900, 1100], ripple: 0.5 },
  }),
  allpass: (order) => ({ response: 'allpass', approximation: 'bessel', order, passband: { edges: [1000] } }),
  notch: () => ({ response: 'notch', shape: { center: 1000, width: 150 } }),
  peaking: () => ({ response: 'peaking', shape: { center: 1000, boost: 9, q: 1.2 } }),
  'low-shelf': () => ({ response: 'low-shelf', shape: { corner: 1000, boost: 9, order: 1 } }),
  'high-shelf': () => ({ response: 'high-shelf', shape: { corner: 1000, boost: -9, order: 1 } }),
  // A low-pass that turns the signal over: who does not says so.
  'free lowpass': () => ({ response: 'free', shape: { poles: FREE, zeros: [], factor: -2.2e11 } }),
  integrator: () => ({ response: 'integrator', shape: { from: 100, to: 10_000, unity: 1000, error: 1 } }),
  differentiator: () => ({ response: 'differentiator', shape: { from: 100, to: 10_000, unity: 1000, error: 1 } }),
}
const FREE = [
  [-3e3, 5e3],
  [-3e3, -5e3],
  [-6e3, 0],
]
const ELLIPTIC = { approximation: 'elliptic', stopband: { attenuation: 45 } }
/** Even orders in the form that a ladder between equal resistances has. */
const ofLadders = (family: string) =>
  ['gyrator-ladder', 'fdnr-ladder', 'leapfrog'].includes(family) ? { evenOrder: 'c' } : {}
const ORDERS = [2, 3, 5, 8]

/** How far simulated and wanted response may lie apart, relative to the greatest level: rounding; drains for DC. */
const NEAR: Readonly<Record<string, number>> = { 'fdnr-ladder': 4e-7, 'gyrator-ladder': 4e-7 }

/** Null where it is made as asked, or the reason why it is not. */
function refusal(spec: FilterSpec): string | null {
  const ideal = approximate(spec)
  let made
  try {
    made = realize(spec, 'exact', ideal)
  } catch (error) {
    if (!(error instanceof VoskelError) || error.code !== 'REALIZATION_IMPOSSIBLE') throw error
    expect(error.remedy).not.toBe('')
    return error.message
  }
  const grid = Float64Array.from({ length: 21 }, (_, k) => 31 * 10 ** (k / 6))
  const { re, im } = new AcAnalysis(formulate(made.circuit)).sweep(grid)
  const sign = made.inverting ? -1 : 1
  grid.forEach((f, k) => {
    const wanted = evaluate(ideal.transfer, complex(0, 2 * Math.PI * f))
    const near = (NEAR[spec.realization!.family] ?? 1e-9) * Math.max(1, Math.hypot(wanted.re, wanted.im))
    const off = Math.hypot(re[k] - sign * wanted.re, im[k] - sign * wanted.im)
    expect(off, `${JSON.stringify(spec)} at ${f} Hz`).toBeLessThan(near)
  })
  return null
}

const BANDS = ['bandpass', 'bandstop', 'highpass', 'lowpass']
const ELLIPTICS = ['elliptic bandpass', 'elliptic highpass', 'elliptic lowpass']
const ANY = ['allpass', ...BANDS, ...ELLIPTICS, 'notch', 'peaking'].sort()
const SLOPES = ['differentiator', 'free lowpass', 'high-shelf', 'integrator', 'low-shelf']
const LOWER = ['bandpass', 'differentiator', 'free lowpass', 'highpass', 'integrator', 'lowpass']
const SECOND = [...ANY, ...SLOPES].sort()
/** By family the kinds that are made at all orders. All others are refused. */
const MADE: Readonly<Record<string, readonly string[]>> = {
  'sallen-key': LOWER,
  'sallen-key equal-parts': LOWER,
  'multiple-feedback': LOWER,
  deliyannis: ['bandpass'],
  'twin-t': ['bandstop', ...ELLIPTICS, 'notch'],
  'bridged-t-notch': ['bandstop', ...ELLIPTICS, 'notch'],
  bainter: ['bandstop', ...ELLIPTICS, 'notch'],
  boctor: ['bandstop', ...ELLIPTICS, 'notch'],
  fliege: SECOND,
  'impedance-converter': SECOND,
  'state-variable': SECOND,
  'two-integrator-loop': SECOND,
  'two-integrator-loop four-amplifier': SECOND,
  'akerberg-mossberg': SECOND,
  'active-allpass': ['allpass'],
  'gyrator-ladder': [...BANDS, ...ELLIPTICS, 'free lowpass', 'integrator'],
  'fdnr-ladder': [...BANDS, ...ELLIPTICS, 'free lowpass', 'integrator'],
  leapfrog: [...BANDS, ...ELLIPTICS, 'free lowpass', 'integrator'],
  'active-integrator': ['integrator'],
  'active-differentiator': ['differentiator'],
  'tone-control': ['high-shelf', 'low-shelf', 'peaking'],
  'differential-multiple-feedback': ['free lowpass', 'integrator', 'lowpass'],
  'active-cascade': SECOND,
}

describe('a tour over families, kinds and orders: what is made, and what is refused', () => {
  test.each(Object.entries(MADE))('%s', { timeout: 60_000 }, (name, wanted) => {
    const [family, variant] = name.split(' ')
    const realization = { family, ...(variant && { variant }) }
    const made = Object.entries(KINDS).filter(([, asked]) => {
      const outcomes = ORDERS.map((order) => {
        const spec: object = asked(order)
        return refusal(
          parseSpec({
            ...spec,
            ...('approximation' in spec && spec.approximation === 'elliptic' && ofLadders(family)),
            realization,
          }),
        )
      })
      // A kind is made at all orders or at none.
      expect(new Set(outcomes.map((o) => o === null)).size, `${name} ${outcomes.join(' · ')}`).toBe(1)
      return outcomes[0] === null
    })
    expect(made.map(([kind]) => kind).sort()).toEqual([...wanted].sort())
  })

  test('no family is scolded for what is normal in it', () => {
    const asked = (family: string) =>
      family === 'akerberg-mossberg' ? KINDS['elliptic lowpass'](5) : { ...KINDS.lowpass(3) }
    for (const family of [
      'akerberg-mossberg',
      'two-integrator-loop',
      'fliege',
      'leapfrog',
      'gyrator-ladder',
      'fdnr-ladder',
    ]) {
      const { circuit } = realize(parseSpec({ ...asked(family), realization: { family } }))
      expect(checkCircuit(circuit, true).map((f) => f.message)).toEqual([])
    }
  })

  test('the list is that of the active families', () => {
    const families = topologies.flatMap((t) => (t.family === 'active' ? [t.id] : []))
    expect([...new Set(Object.keys(MADE).map((name) => name.split(' ')[0]))].sort()).toEqual([...families].sort())
  })
})
