import { describe, expect, test } from 'vitest'
import { mos, mosModel } from '../circuit/devices/mos.js'
import { nmos } from '../circuit/parts/mosfets.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { uniform } from '../numeric/random.js'
import { interpolate, uniformTimes } from './interpolate.js'
import { formulate } from './mna.js'
import { operatingPoint } from './operatingPoint.js'
import { transient } from './transient.js'

const N = '.model n NMOS (VTO=0.6 KP=1e-4 TOX=2e-8 LAMBDA=0.03)'
const P = '.model p PMOS (VTO=-0.6 KP=5e-5 TOX=2e-8 LAMBDA=0.03)'
const circuit = (...lines: string[]) => formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)

describe('charges of a MOS transistor with oxide', () => {
  const values = Object.fromEntries(nmos.values.map((f) => [f.id, f.default]))
  const made = (gamma: number) => {
    const model = mosModel({ ...values, vto: 0.6, kp: 1e-4, tox: 2e-8, w: 5e-6, l: 1e-6, gamma }, 1, 300.15)
    return { model, device: mos(model, 1, [0, 1, 2, 3]) }
  }
  const { model, device: plain } = made(0)
  const { controls, flows } = plain
  const state = () => ({
    current: new Float64Array(flows.length),
    charge: new Float64Array(flows.length),
    conductance: new Float64Array(flows.length * controls.length),
    capacitance: new Float64Array(flows.length * controls.length),
  })
  /** Charges and capacitances at voltages of drain, gate, source, bulk. */
  const at = (v: readonly number[], device = plain) => {
    const s = state()
    device.evaluate(
      Float64Array.from(controls, ([plus, minus]) => v[plus]! - v[minus]!),
      s,
    )
    return s
  }
  /** Charge and capacitances by net: of each net, and of each net by each net. */
  const byNet = (v: readonly number[], device = plain) => {
    const s = at(v, device)
    const q = [0, 0, 0, 0]
    const c = [0, 1, 2, 3].map(() => [0, 0, 0, 0])
    flows.forEach(([from, to], f) => {
      q[from]! += s.charge[f]!
      q[to]! -= s.charge[f]!
      controls.forEach(([plus, minus], k) => {
        const value = s.capacitance[f * controls.length + k]!
        for (const [row, sign] of [
          [from, 1],
          [to, -1],
        ] as const) {
          c[row]![plus]! += sign * value
          c[row]![minus]! -= sign * value
        }
      })
    })
    return { q, c }
  }
  const cox = model.cox

  test('charge and capacitance are continuous along any way through the regions', () => {
    let place = 0
    const draw = () => 4 * uniform(5, place++) - 2
    let [charge, capacitance] = [0, 0]
    for (let trial = 0; trial < 100; trial++) {
      const [a, b] = [0, 1].map(() => [draw(), draw(), draw(), 0.2 * draw() - 1.5])
      const steps = 2000
      let last = byNet(a!)
      for (let k = 1; k <= steps; k++) {
        const here = byNet(a!.map((v, j) => v + ((b![j]! - v) * k) / steps))
        for (let n = 0; n < 4; n++) {
          charge = Math.max(charge, Math.abs(here.q[n]! - last.q[n]!))
          for (let m = 0; m < 4; m++) capacitance = Math.max(capacitance, Math.abs(here.c[n]![m]! - last.c[n]![m]!))
        }
        last = here
      }
    }
    // A step of some millivolts moves a charge by no more than the oxide's capacitance can hold of it,
    expect(charge / cox).toBeLessThan(0.02)
    // and a capacitance by little of it: there is no jump. Beside vds = 0 in the onset it turns fastest.
    expect(capacitance / cox).toBeLessThan(0.12)
  })

  test('capacitances are the derivatives of the charges', () => {
    let place = 0
    for (let trial = 0; trial < 500; trial++) {
      const v = [0, 1, 2, 3].map((n) => (n === 3 ? -1 : 3 * uniform(9, place++) - 0.5))
      const { device } = made(trial % 2 === 0 ? 0 : 0.4)
      const { c } = byNet(v, device)
      const h = 1e-6
      for (let m = 0; m < 4; m++) {
        const [up, down] = [h, -h].map(
          (d) =>
            byNet(
              v.map((x, n) => (n === m ? x + d : x)),
              device,
            ).q,
        )
        for (let n = 0; n < 4; n++) expect((up![n]! - down![n]!) / (2 * h) / cox).toBeCloseTo(c[n]![m]! / cox, 4)
      }
    }
  })

  test('in saturation and at vds = 0 they are those of J. E. Meyer, RCA Review 32, 1971, 42–63', () => {
    const s = state()
    plain.evaluate(Float64Array.from([2, -1, 0, -3]), s)
    const share = (control: number) => (s.capacitance[1 * 4 + control]! + s.capacitance[2 * 4 + control]!) / cox
    expect(share(0)).toBeCloseTo(2 / 3, 12)
    expect(share(1)).toBeCloseTo(0, 12)
    plain.evaluate(Float64Array.from([2, 2, 0, 0]), s)
    expect(share(0)).toBeCloseTo(1 / 2, 12)
    expect(share(1)).toBeCloseTo(1 / 2, 12)
  })
})

describe('circuits with oxide capacitance, driven by ideal sources', () => {
  const course = (lines: string[], stop: number, output: string, reltol?: number) => {
    const run = transient(circuit(...lines), { stop, outputs: [output], ...(reltol && { reltol }) })
    return interpolate(run, 0, uniformTimes(stop, 401))
  }
  const greatest = (a: Float64Array, b: Float64Array) =>
    a.reduce((most, v, k) => Math.max(most, Math.abs(v - b[k]!)), 0)

  const stage = (edge: string) => [
    'VDD vdd 0 3',
    `V1 in 0 PULSE(0 3 0 ${edge} ${edge} 9n 20n)`,
    'M1 out in 0 0 n W=5u L=1u',
    'R1 vdd out 10k',
    N,
  ]
  const inverter = [
    'VDD vdd 0 3',
    'V1 in 0 PULSE(0 3 1n 0.5n 0.5n 4n 10n)',
    'MP out in vdd vdd p W=10u L=1u',
    'MN out in 0 0 n W=5u L=1u',
    'C1 out 0 50f',
    N,
    P,
  ]
  const follower = [
    'VDD vdd 0 3',
    'V1 in 0 SIN(2 0.8 50meg)',
    'M1 vdd in out 0 n W=20u L=1u',
    'R1 out 0 5k',
    'C1 out 0 0.1p',
    N,
  ]
  const sampler = [
    'V1 in 0 SIN(1 0.5 10meg)',
    'V2 g 0 PULSE(0 3 0 1n 1n 40n 100n)',
    'M1 in g out 0 n W=10u L=1u',
    'C1 out 0 1p',
    N,
  ]

  test.each([
    ['a stage', stage('1n'), 60e-9],
    ['an inverter', inverter, 30e-9],
    ['a follower', follower, 60e-9],
    ['a sampler', sampler, 400e-9],
  ])('%s runs, and a tenth of the tolerance gives the same', (_, lines, stop) => {
    const [usual, tight] = [course(lines, stop, 'out'), course(lines, stop, 'out', 1e-5)]
    // Beside an edge of a nanosecond the curves may be off by a few picoseconds.
    expect(greatest(usual, tight)).toBeLessThan(5e-3 * 3)
  })

  test('the current of a source at a gate runs at the usual tolerance', () => {
    expect(Math.max(...course(sampler, 400e-9, 'i(V2)', 1e-3).map(Math.abs))).toBeGreaterThan(1e-6)
  })

  // A gate's current jumps where its capacitance bends: steps that hold it to a millionth shrink until none is left.
  test.fails('the current of a source at a gate runs at a millionth', () => {
    course(sampler, 400e-9, 'i(V2)', 1e-6)
  })

  test('a slow edge follows the static curve', () => {
    const slow = course(stage('1n').with(1, 'V1 in 0 PWL(0 0 1m 3)'), 1e-3, 'out')
    for (const k of [0, 50, 100, 150, 200, 300, 400]) {
      const static_ = circuit(...stage('1n').with(1, `V1 in 0 ${(3 * k) / 400}`))
      const { x } = operatingPoint(static_)
      expect(slow[k]).toBeCloseTo(x[static_.circuit.nodes.indexOf('out')]!, 3)
    }
  })

  test('a ring of three rings on, at a frequency that the tolerance does not move', () => {
    const ring = [0, 1, 2].flatMap((k) => [
      `MP${k} n${(k + 1) % 3} n${k} vdd vdd p W=10u L=1u`,
      `MN${k} n${(k + 1) % 3} n${k} 0 0 n W=5u L=1u`,
      `C${k} n${k} 0 20f`,
    ])
    const periodOf = (reltol: number) => {
      const run = transient(circuit('VDD vdd 0 3', ...ring, '.ic v(n0)=0.1', N, P), {
        stop: 3e-9,
        outputs: ['n0'],
        reltol,
      })
      const rises: number[] = []
      const [v, t] = [run.outputs[0]!, run.time]
      for (let k = 1; k < t.length; k++)
        if (v[k - 1]! < 1.5 && v[k]! >= 1.5)
          rises.push(t[k - 1]! + ((1.5 - v[k - 1]!) / (v[k]! - v[k - 1]!)) * (t[k]! - t[k - 1]!))
      expect(rises.length).toBeGreaterThan(5)
      return (rises.at(-1)! - rises.at(-4)!) / 3
    }
    expect(periodOf(1e-3) / periodOf(1e-4)).toBeCloseTo(1, 3)
  })

  test('what has no course is refused at once, by name', () => {
    // Two diodes back to back with a current forced through them from a net without capacitance.
    const lines = ['I1 0 a PULSE(0 1 1u)', 'D1 b a d', 'D2 b 0 d', '.model d D (IS=1e-14)']
    const began = Date.now()
    expect(() => transient(circuit(...lines), { stop: 1e-5, outputs: ['a'] })).toThrow()
    expect(Date.now() - began).toBeLessThan(20_000)
  })
})
