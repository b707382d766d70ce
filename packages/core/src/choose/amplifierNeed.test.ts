import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { magnitudeDb, phase } from '../numeric/transferFunction.js'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { idealOf } from '../verdict/leastOrder.js'
import { amplifierNeed, amplifierNeedText } from './amplifierNeed.js'

const EDGE = 1000

/** Digits: a gain of 1e8 at DC is itself off by 1e-7 dB, a millionth of what is allowed. */
const OF_GAIN = 5

function asked(realization: object, more: object = {}) {
  const spec = parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order: 1,
    passband: { edges: [EDGE] },
    ...more,
    realization,
  })
  const ideal = idealOf(spec)
  const { circuit } = realize(spec, 'exact', ideal)
  return { spec, ideal, need: amplifierNeed(circuit, { promised: { spec, ideal }, transfer: ideal.transfer }) }
}

/** The response of the same design with amplifiers of a gain × bandwidth, by its roots. */
function withBandwidth(spec: ReturnType<typeof asked>['spec'], bandwidth: number) {
  const realization = { ...spec.realization!, amplifier: { bandwidth } }
  return polesAndZeros(formulate(realize({ ...spec, realization }).circuit)).transfer
}

describe('what amplifiers have to be', () => {
  test('a follower is a pole at its gain × bandwidth B: 10·log10(1 + (f/B)²) dB at the edge', () => {
    const { need } = asked({ family: 'sallen-key' })
    expect(need!.bandwidth / (EDGE / Math.sqrt(10 ** 0.01 - 1))).toBeCloseTo(1, OF_GAIN)
    expect(need!.at).toBeCloseTo(EDGE, 6)
    expect(amplifierNeedText(need!)).toMatch(
      /bandwidth of 6.55\skHz for an error below 0.1 dB; less shows first at 1.00\skHz/,
    )
  })

  test('an amplifier of gain K is one at B/K: with a follower behind it (1 + K²x)·(1 + x) = 10^0.01, x = (f/B)²', () => {
    const { need } = asked({ family: 'sallen-key', variant: 'equal-parts' }, { gain: 20 })
    const [a, b, c] = [100, 101, 1 - 10 ** 0.01]
    const x = (-b + Math.sqrt(b * b - 4 * a * c)) / (2 * a)
    expect(need!.bandwidth / (EDGE / Math.sqrt(x))).toBeCloseTo(1, OF_GAIN)
  })

  const NARROW = { response: 'bandpass', passband: { edges: [950, 1050] } }
  test.each([
    ['sallen-key', { order: 5 }],
    ['multiple-feedback', { order: 4 }],
    ['fliege', NARROW],
    ['deliyannis', NARROW],
    ['akerberg-mossberg', { order: 3 }],
    ['leapfrog', { order: 5 }],
    ['sallen-key', { order: 3, response: 'highpass' }],
  ])('%s %j: by its roots such a design is off by 0.1 dB there, and by less with faster ones', (family, more) => {
    const { spec, ideal, need } = asked({ family }, more)
    const w = 2 * Math.PI * need!.at
    const error = (bandwidth: number, at = w) =>
      Math.abs(magnitudeDb(withBandwidth(spec, bandwidth), at) - magnitudeDb(ideal.transfer, at))
    // Eight digits of the error are those of roots whose distance from the ideal ones makes it.
    expect(error(need!.bandwidth)).toBeCloseTo(0.1, 6)
    expect(error(1.25 * need!.bandwidth)).toBeLessThan(0.1)
    expect(error(0.8 * need!.bandwidth)).toBeGreaterThan(0.1)
    // Nowhere in the passband is it more.
    const [[from, to]] = ideal.passbands
    const points = Array.from({ length: 50 }, (_, k) => {
      const [a, b] = [from || to / 100, Number.isFinite(to) ? to : 10 * from]
      return a * (b / a) ** (k / 49)
    })
    for (const f of points) expect(error(need!.bandwidth, 2 * Math.PI * f)).toBeLessThan(0.1 * (1 + 1e-5))
  })

  test('of an all-pass it is the phase that counts, 1°', () => {
    const { spec, ideal, need } = asked(
      { family: 'active-allpass' },
      { response: 'allpass', approximation: 'bessel', order: 2 },
    )
    const w = 2 * Math.PI * need!.at
    const off = phase(withBandwidth(spec, need!.bandwidth), w) - phase(ideal.transfer, w)
    // Turned over it is off by half a turn besides.
    const degrees = Math.abs((off * 180) / Math.PI) % 180
    expect(Math.min(degrees, 180 - degrees)).toBeCloseTo(1, 6)
    expect(need!.error).toEqual({ size: 1, unit: '°' })
  })

  test('an integrator is looked at over its own band: there it is off by 0.1 dB where that is said, and nowhere by more', () => {
    const spec = parseSpec({
      response: 'integrator',
      shape: { from: 100, to: 10_000, unity: 1000, error: 1 },
      realization: { family: 'active-integrator' },
    })
    const ideal = idealOf(spec)
    const need = amplifierNeed(realize(spec).circuit, { promised: { spec, ideal }, transfer: ideal.transfer })!
    const real = withBandwidth(spec, need.bandwidth)
    const error = (f: number) =>
      Math.abs(magnitudeDb(real, 2 * Math.PI * f) - magnitudeDb(ideal.transfer, 2 * Math.PI * f))
    expect(need.at).toBeGreaterThanOrEqual(100 * (1 - 1e-9))
    expect(need.at).toBeLessThanOrEqual(10_000 * (1 + 1e-9))
    expect(error(need.at)).toBeCloseTo(0.1, 6)
    for (let k = 0; k <= 40; k++) expect(error(100 * 100 ** (k / 40))).toBeLessThan(0.1 * (1 + 1e-5))
  })

  test('coils need none', () => {
    expect(asked({ family: 'lc-ladder' }).need).toBeNull()
  })
})
