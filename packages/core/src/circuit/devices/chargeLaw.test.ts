import { describe, expect, test } from 'vitest'
import { interpolate } from '../../analysis/interpolate.js'
import { formulate } from '../../analysis/mna.js'
import { NoiseAnalysis } from '../../analysis/noise.js'
import { operatingPoint } from '../../analysis/operatingPoint.js'
import { operatingReport } from '../../analysis/operatingReport.js'
import { polesAndZeros } from '../../analysis/poles.js'
import { smallSignal } from '../../analysis/smallSignal.js'
import { transient } from '../../analysis/transient.js'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { acMeasures } from '../../measure/acMeasures.js'
import { uniform } from '../../numeric/random.js'
import { nmos, pmos } from '../parts/mosfets.js'
import { CHARGE, thermalVoltage } from './constants.js'
import { mos, mosModel } from './mos.js'

const TEMPERATURE = 300.15
const VT = thermalVoltage(TEMPERATURE)
const at = (lines: string[]) => formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)
const report = (lines: string[]) => {
  const mna = at(lines)
  return operatingReport(mna, operatingPoint(mna))
}
const device = (id: string, lines: string[]) => report(lines).devices[id] as Record<string, number>

/** The law as it is printed, without a thought for digits or overflow. */
function printed(
  { kp, ratio, vto, n, lambda }: { kp: number; ratio: number; vto: number; n: number; lambda: number },
  { g, d, s, b }: { g: number; d: number; s: number; b: number },
) {
  const F = (v: number) => Math.log(1 + Math.exp(v / (2 * VT))) ** 2
  const vp = (g - b - vto) / n
  return 2 * n * kp * ratio * VT * VT * (F(vp - (s - b)) - F(vp - (d - b))) * (1 + lambda * Math.abs(d - s))
}

// C. C. Enz, F. Krummenacher, E. A. Vittoz, Analog Integrated Circuits and Signal Processing 8, 1995, 83–114.
describe('the charge-based law', () => {
  const law = { kp: 200e-6, ratio: 10, vto: 0.5, n: 1.35, lambda: 0.05 }
  const model = (type: string, vto: number) => `.model m ${type} (VTO=${vto} KP=200u N=1.35 LAMBDA=0.05)`

  test('is the printed one in every corner, of both types', () => {
    let place = 0
    const draw = () => 1.6 * uniform(3, place++) - 0.3
    for (let k = 0; k < 40; k++) {
      const [g, d, s] = [draw(), draw(), draw()]
      const lines = (sign: 1 | -1) => [
        `VG g 0 ${sign * g}`,
        `VD d 0 ${sign * d}`,
        `VS s 0 ${sign * s}`,
        `VB b 0 ${sign * -0.4}`,
        'M1 d g s b m W=10u L=1u',
        model(sign > 0 ? 'nmos' : 'pmos', sign * 0.5),
      ]
      const wanted = printed(law, { g, d, s, b: -0.4 })
      for (const sign of [1, -1] as const) {
        const { id } = device('M1', lines(sign))
        expect(sign * id! - wanted).toBeLessThan(1e-9 * Math.abs(wanted) + 1e-15)
        expect(wanted - sign * id!).toBeLessThan(1e-9 * Math.abs(wanted) + 1e-15)
      }
    }
  })

  test('gm/I is q/(n·kT) in weak inversion and 2/(VGS − VT) in strong', () => {
    const made = (vgs: number) =>
      device('M1', [`VG g 0 ${vgs}`, 'VD d 0 3', 'M1 d g 0 0 m W=10u L=1u', '.model m nmos (VTO=0.5 KP=200u N=1.35)'])
    const weak = made(0.1)
    expect((weak.gm! / weak.id!) * 1.35 * VT).toBeCloseTo(1, 2)
    expect(weak).toMatchObject({ region: 'saturation', inversion: 'weak' })
    // Two volts above: the logarithm's tail is e^(−28) of it.
    const strong = made(2.5)
    expect((strong.gm! / strong.id!) * 2).toBeCloseTo(2, 9)
    expect(strong).toMatchObject({ inversion: 'strong' })
    expect(strong.vth).toBeCloseTo(0.5, 12)
  })

  test('currents and charges have the derivatives that are said, everywhere', () => {
    const values = Object.fromEntries(nmos.values.map((f) => [f.id, f.default]))
    let place = 0
    for (const polarity of [1, -1] as const) {
      const p = { ...values, vto: polarity * 0.5, kp: 2e-4, tox: 1e-8, w: 1e-5, l: 1e-6, n: 1.3, lambda: 0.1 }
      const made = mosModel(p, polarity, TEMPERATURE)
      const one = mos(made, polarity, [0, 1, 2, 3])
      const state = () => ({
        current: new Float64Array(6),
        charge: new Float64Array(6),
        conductance: new Float64Array(24),
        capacitance: new Float64Array(24),
      })
      for (let trial = 0; trial < 100; trial++) {
        // Voltages of the nets, so that the controls agree with each other.
        const v = [0, 1, 2, 3].map((k) => polarity * (k === 3 ? -0.5 : 2.4 * uniform(11, place++) - 0.8))
        const u = (w: readonly number[]) => Float64Array.from(one.controls, ([plus, minus]) => w[plus]! - w[minus]!)
        const s = state()
        one.evaluate(u(v), s)
        const h = 1e-5
        for (let m = 0; m < 4; m++) {
          const [up, down] = [h, -h].map((by) => {
            const t = state()
            one.evaluate(u(v.map((x, k) => (k === m ? x + by : x))), t)
            return t
          })
          for (let flow = 0; flow < 4; flow++) {
            const by = (derivatives: Float64Array) =>
              one.controls.reduce(
                (sum, [plus, minus], k) =>
                  sum + derivatives[flow * 4 + k]! * (Number(plus === m) - Number(minus === m)),
                0,
              )
            const g = (up!.current[flow]! - down!.current[flow]!) / (2 * h)
            const c = (up!.charge[flow]! - down!.charge[flow]!) / (2 * h)
            // Central differences of h = 10 µV against kT/q = 26 mV: (h/VT)² and rounding.
            expect(Math.abs(g - by(s.conductance))).toBeLessThan(1e-6 * made.beta)
            expect(Math.abs(c - by(s.capacitance))).toBeLessThan(1e-6 * made.cox)
          }
        }
      }
    }
  })

  test('takes source and drain for the same: turned round, current and charges change places', () => {
    const values = Object.fromEntries(pmos.values.map((f) => [f.id, f.default]))
    const one = mos(mosModel({ ...values, vto: -0.5, kp: 2e-4, tox: 1e-8, n: 1.3 }, -1, TEMPERATURE), -1, [0, 1, 2, 3])
    const run = ([d, g, s, b]: readonly number[]) => {
      const v = [d!, g!, s!, b!]
      const state = {
        current: new Float64Array(6),
        charge: new Float64Array(6),
        conductance: new Float64Array(24),
        capacitance: new Float64Array(24),
      }
      one.evaluate(
        Float64Array.from(one.controls, ([plus, minus]) => v[plus]! - v[minus]!),
        state,
      )
      return state
    }
    const [a, b] = [run([0.3, -0.9, 0.1, 0.4]), run([0.1, -0.9, 0.3, 0.4])]
    expect(a.current[0]).toBeCloseTo(-b.current[0]!, 18)
    expect([a.charge[1], a.charge[2], a.charge[3]]).toEqual([b.charge[2], b.charge[1], b.charge[3]])
  })

  // The long channel's shares: Y. Tsividis, "Operation and Modeling of the MOS Transistor", 2nd ed. 1999, ch. 7; from memory.
  test('its charge is split 60 : 40 in saturation and evenly without a drain voltage, and is 2/3 of the oxide’s', () => {
    const values = Object.fromEntries(nmos.values.map((f) => [f.id, f.default]))
    const made = mosModel({ ...values, vto: 0, kp: 1e-4, tox: 1e-8, n: 1 }, 1, TEMPERATURE)
    const one = mos(made, 1, [0, 1, 2, 3])
    const shares = (vgs: number, vgd: number) => {
      const state = {
        current: new Float64Array(6),
        charge: new Float64Array(6),
        conductance: new Float64Array(24),
        capacitance: new Float64Array(24),
      }
      one.evaluate(Float64Array.of(vgs, vgd, 0, vgd - vgs), state)
      return { source: state.charge[1]!, drain: state.charge[2]! }
    }
    // So far above threshold that kT/q is nothing.
    const [saturated, even] = [shares(400, -100), shares(400, 400)]
    expect(saturated.drain / (saturated.source + saturated.drain)).toBeCloseTo(0.4, 3)
    expect((saturated.source + saturated.drain) / (made.cox * 400)).toBeCloseTo(2 / 3, 3)
    expect(even.source).toBeCloseTo(even.drain, 20)
    expect((even.source + even.drain) / (made.cox * 400)).toBeCloseTo(1, 3)
  })

  test('its noise is the shot noise of its current in weak inversion and 4kT·(2/3)·n·gm in strong', () => {
    const density = (vgs: number) => {
      const lines = [
        `VG g 0 ${vgs} AC 1`,
        'VD vdd 0 3',
        'R1 vdd out 1',
        'M1 out g 0 0 m W=10u L=1u',
        '.model m nmos (VTO=0.5 KP=200u N=1.35)',
      ]
      const mna = at(lines)
      const { output } = new NoiseAnalysis(smallSignal(mna), { output: 'out', input: 'VG', range: [1, 1e6] }).at(1000)
      const { gm, id } = device('M1', lines) as { gm: number; id: number }
      // Less what the resistor of 1 Ω gives, 4kT/R.
      return { gm, id, density: output - 4 * VT * CHARGE }
    }
    const weak = density(0.2)
    expect(weak.density / (2 * CHARGE * weak.id)).toBeCloseTo(1, 1)
    const strong = density(2.5)
    expect(strong.density / (4 * VT * CHARGE * (2 / 3) * 1.35 * strong.gm)).toBeCloseTo(1, 1)
  })

  test('a follower keeps gm/I below q/(n·kT) from 2 nA to 20 µA, and its bandwidth grows with the current and then its root', () => {
    const bandwidth = [2e-9, 2e-8, 2e-7, 2e-6, 2e-5].map((ampere) => {
      const lines = [
        'VDD vdd 0 3',
        'V1 in 0 1.5 AC 1',
        'M1 vdd in out 0 m W=10u L=2u',
        `I1 out 0 ${ampere}`,
        'C1 out 0 2p',
        '.model m nmos (VTO=0.5 KP=100u N=1.4)',
      ]
      const { gm, id } = device('M1', lines) as { gm: number; id: number }
      // The bulk's junction leaks 10 fA.
      expect(id / ampere).toBeCloseTo(1, 4)
      // gm·n·VT/I = (1 − e^(−√IC))/√IC, as the source has it.
      const root = Math.sqrt(id / (2 * 1.4 * 100e-6 * 5 * VT ** 2))
      expect((gm * 1.4 * VT) / id).toBeCloseTo(-Math.expm1(-root) / root, 4)
      expect(gm / id).toBeLessThan(1 / (1.4 * VT))
      const linear = smallSignal(at(lines))
      const [cutoff] = acMeasures(polesAndZeros(linear, { output: 'out' }).transfer).cutoffs
      // From the gate: gm over gm + gmb = n·gm, with C behind it.
      expect(cutoff! / ((1.4 * gm) / (2 * Math.PI * 2e-12))).toBeCloseTo(1, 3)
      return cutoff!
    })
    const steps = bandwidth.slice(1).map((f, k) => f / bandwidth[k]!)
    // Ten times the current is ten times the bandwidth in weak inversion and √10 in strong, always falling between.
    expect(steps[0]).toBeGreaterThan(9.5)
    expect(steps.at(-1)).toBeGreaterThan(Math.sqrt(10))
    expect(steps.at(-1)).toBeLessThan(5)
    expect(steps).toEqual(steps.toSorted((a, b) => b - a))
  })

  test('a slope factor below 1 is refused with what would be right', () => {
    expect(() => at(['M1 d g 0 0 m', 'VD d 0 1', 'VG g 0 1', '.model m nmos (N=0.7)'])).toThrowError(
      /slope factor of 0.7/,
    )
  })

  test('a step through weak inversion ends at the operating point of its end', () => {
    const lines = (input: string) => [
      'VDD vdd 0 3',
      `V1 in 0 ${input}`,
      'M1 vdd in out 0 m W=10u L=2u',
      'I1 out 0 1u',
      'C1 out 0 2p',
      '.model m nmos (VTO=0.5 KP=100u N=1.4 TOX=10n)',
    ]
    const stop = 2e-4
    const run = transient(at(lines('PULSE(0.7 1.5 0 1u 1u 1 2)')), { stop, outputs: ['out'] })
    const [end] = interpolate(run, 0, Float64Array.of(stop))
    expect(end).toBeCloseTo(report(lines('1.5')).nodes.out!, 4)
  })
})
