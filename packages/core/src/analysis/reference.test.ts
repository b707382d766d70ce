import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { complex } from '../numeric/complex.js'
import { AcAnalysis } from './signalAnalysis.js'
import { DeviceSet } from './deviceSet.js'
import reference from './fixtures/reference.json' with { type: 'json' }
import { formulate, type Mna } from './mna.js'
import { NoiseAnalysis } from './noise.js'
import { operatingPoint } from './operatingPoint.js'
import { operatingReport } from './operatingReport.js'
import { polesAndZeros } from './poles.js'
import { sensitivity } from './sensitivity.js'
import { ValueSweep } from './valueSweep.js'
import { smallSignal } from './smallSignal.js'
import { interpolate } from './interpolate.js'
import { transient } from './transient.js'

const circuit = (...lines: string[]) => formulate(readNetlist(['test', ...lines, ''].join('\n')).circuit)
const report = (mna: Mna) => operatingReport(mna, operatingPoint(mna))

const TWO_STAGE = [
  'VDD vdd 0 2.5',
  'VSS vss 0 -2.5',
  'VP inp 0 DC 0 AC 1',
  'VN inn 0 DC 0',
  'IB vdd nb 30u',
  'M8 nb nb vss vss NCH W=30u L=2u',
  'M5 tail nb vss vss NCH W=30u L=2u',
  'M1 d1 inn tail vss NCH W=20u L=2u',
  'M2 d2 inp tail vss NCH W=20u L=2u',
  'M3 d1 d1 vdd vdd PCH W=40u L=2u',
  'M4 d2 d1 vdd vdd PCH W=40u L=2u',
  'M6 out d2 vdd vdd PCH W=160u L=2u',
  'M7 out nb vss vss NCH W=60u L=2u',
  'CC d2 out 2p',
  'CL out 0 5p',
  // Junctions without leakage: the reference has none.
  '.model NCH NMOS (VTO=0.7 KP=110u GAMMA=0.4 PHI=0.7 LAMBDA=0.04 IS=1e-40)',
  '.model PCH PMOS (VTO=-0.7 KP=50u GAMMA=0.57 PHI=0.8 LAMBDA=0.05 IS=1e-40)',
]

describe('AC against dense solutions with 40 digits (mpmath; fixtures/make_reference.py)', () => {
  test.each(reference.responses.map((r, k) => [k, r] as const))(
    'random circuit %i, 1e-3 to 1e12 Hz',
    (_, { netlist, points }) => {
      const ac = new AcAnalysis(formulate(readNetlist(netlist).circuit), {
        range: [2 * Math.PI * 1e-3, 2 * Math.PI * 1e12],
      })
      for (const [f, re, im] of points) {
        const h = ac.at(complex(0, 2 * Math.PI * f))
        // Each point against its own size, however far down: 1e-9 is asked, doubles give more.
        expect(Math.hypot(h.re - re, h.im - im)).toBeLessThanOrEqual(1e-9 * Math.hypot(re, im))
      }
    },
  )
})

test('values up to 100 times away from those that the pivots were chosen for, 1e-3 to 1e12 Hz', () => {
  const nominal = formulate(
    readNetlist(
      ['nominal', 'V1 in 0 AC 1', 'RS in n3 50']
        .concat(
          [0, 1, 2, 3].flatMap((k) => [
            `L${k} n${3 + k} ${k < 3 ? `n${4 + k}` : 'out'} 1u`,
            `C${k} ${k < 3 ? `n${4 + k}` : 'out'} 0 1n`,
          ]),
        )
        .concat('RL out 0 50', '')
        .join('\n'),
    ).circuit,
  )
  const frequency = Float64Array.from(reference.spreads[0].points, ([f]) => f)
  const sweep = new ValueSweep(nominal, {}, frequency)
  for (const { netlist, points } of reference.spreads) {
    const { re, im } = sweep.run(formulate(readNetlist(netlist).circuit))
    points.forEach(([, r, i], k) => {
      expect(Math.hypot(re[k] - r, im[k] - i)).toBeLessThanOrEqual(1e-9 * Math.hypot(r, i))
    })
  }
})

describe('sensitivities against differences with 40 digits (mpmath)', () => {
  test.each(reference.sensitivities.map((r, k) => [k, r] as const))(
    'random circuit %i',
    (_, { netlist, frequency, parts }) => {
      const { components } = sensitivity(formulate(readNetlist(netlist).circuit), [frequency])
      expect(Object.keys(components).sort()).toEqual(Object.keys(parts).sort())
      for (const [name, [magnitude, phase]] of Object.entries(parts)) {
        const size = Math.max(1e-3, Math.hypot(magnitude, phase))
        expect(Math.abs(components[name].magnitude[0] - magnitude)).toBeLessThan(1e-8 * size)
        expect(Math.abs(components[name].phase[0] - phase)).toBeLessThan(1e-8 * size)
      }
    },
  )

  test('every impedance scaled alike changes no voltage transfer', () => {
    // R and L up, C and G down: the sum of their sensitivities vanishes (impedance-scaling invariance).
    for (const { netlist } of reference.sensitivities) {
      const { components } = sensitivity(formulate(readNetlist(netlist).circuit), [1e4])
      let sum = 0
      for (const [name, { magnitude }] of Object.entries(components)) {
        if (/^[RL]/.test(name)) sum += magnitude[0]
        else if (/^[CG]/.test(name)) sum -= magnitude[0]
      }
      expect(sum).toBeCloseTo(0, 9)
    }
  })
})

describe('operating points against the equations solved with 40 digits (mpmath)', () => {
  test('a diode with series resistance', () => {
    const { devices } = report(circuit('V1 in 0 5', 'R1 in a 1k', 'D1 a 0 d', '.model d d (IS=1e-14 N=1.05 RS=10)'))
    expect(devices.D1.i).toBeCloseTo(reference.diode.current, 13)
    expect(devices.D1.v).toBeCloseTo(reference.diode.junction, 11)
  })

  test('a common-emitter stage', () => {
    const lines = ['VCC vcc 0 12', 'R1 vcc b 100k', 'R2 b 0 22k', 'RC vcc out 4.7k', 'RE e 0 1k']
    const { nodes, devices } = report(
      circuit(...lines, 'Q1 out b e QN', '.model QN NPN (IS=1e-14 BF=200 VAF=80 RB=100 IKF=0.1)'),
    )
    const wanted = reference.bipolar
    expect(nodes.b).toBeCloseTo(wanted.b, 9)
    expect(nodes.out).toBeCloseTo(wanted.out, 8)
    expect(nodes.e).toBeCloseTo(wanted.e, 9)
    expect(devices.Q1.region).toBe('active')
    expect(Number(devices.Q1.ib) / wanted.ib).toBeCloseTo(1, 7)
    expect(Number(devices.Q1.gm) / wanted.gm).toBeCloseTo(1, 9)
    // The same stage turned over with a PNP.
    const over = ['VCC vcc 0 -12', 'R1 vcc b 100k', 'R2 b 0 22k', 'RC vcc out 4.7k', 'RE e 0 1k']
    const pnp = report(circuit(...over, 'Q1 out b e QP', '.model QP PNP (IS=1e-14 BF=200 VAF=80 RB=100 IKF=0.1)'))
    expect(pnp.nodes.out).toBeCloseTo(-wanted.out, 8)
    expect(pnp.currents.Q1).toBeCloseTo(-wanted.ic, 10)
  })

  test('a two-stage MOS amplifier', () => {
    const { nodes, devices } = report(circuit(...TWO_STAGE))
    const wanted = reference.twoStage
    for (const net of ['nb', 'tail', 'd1', 'd2', 'out'] as const) expect(nodes[net]).toBeCloseTo(wanted[net], 7)
    expect(devices.M1.region).toBe('saturation')
    expect(Number(devices.M1.gm) / wanted.gm1).toBeCloseTo(1, 8)
    expect(Number(devices.M1.gds) / wanted.gds1).toBeCloseTo(1, 7)
    expect(Number(devices.M1.gmb) / wanted.gmb1).toBeCloseTo(1, 8)
  })

  test('where plain Newton steps fail, the remedies find it: a chain of diodes, a latch', () => {
    const chain = [
      'V1 in 0 200',
      'R1 in n0 1',
      ...Array.from({ length: 12 }, (_, k) => `D${k} n${k} n${k + 1} d`),
      'R2 n12 0 1m',
    ]
    const { nodes } = report(circuit(...chain, '.model d d (IS=1e-16)'))
    expect(nodes.n0 - nodes.n12).toBeGreaterThan(12 * 0.9)
    const latch = [
      'VCC v 0 5',
      'RA v a 1k',
      'RB v b 1k',
      'Q1 a bb 0 q',
      'Q2 b ba 0 q',
      'R1 b bb 10k',
      'R2 a ba 10k',
      '.model q npn',
    ]
    const both = report(circuit(...latch)).nodes
    expect(both.a).toBeCloseTo(both.b, 6)
  })
})

describe('transients of devices against an implicit integration at 1e-11 (SciPy, Radau)', () => {
  test.each([
    ['rectifier', ['V1 in 0 SIN(0 10 50)', 'D1 in out d', 'R1 out 0 1k', 'C1 out 0 10u', '.model d d (IS=1e-14)']],
    [
      'stage',
      [
        'V1 in 0 SIN(1.2 0.4 5k)',
        'VDD vdd 0 5',
        'R1 vdd out 10k',
        'C1 out 0 1n',
        'M1 out in 0 0 n W=10u L=1u',
        '.model n nmos (VTO=0.7 KP=110u GAMMA=0.4 PHI=0.7 LAMBDA=0.04)',
      ],
    ],
  ] as const)('%s: within 2e-4 of the peak', (name, lines) => {
    const { times, out } = reference[name]
    const run = transient(circuit(...lines), { stop: times.at(-1)!, outputs: ['out'] })
    const found = interpolate(run, 0, Float64Array.from(times))
    const peak = Math.max(...out.map(Math.abs))
    out.forEach((v, k) => expect(Math.abs(found[k] - v)).toBeLessThan(2e-4 * peak))
  })
})

describe('small signals', () => {
  const amplifier = smallSignal(circuit(...TWO_STAGE))
  const { devices } = report(circuit(...TWO_STAGE))
  const d = (name: string, value: string) => Number(devices[name][value])

  test('two-stage amplifier: gain, unity-gain frequency and tail current by the textbook’s formulas', () => {
    // Common practice, no source: A = gm1·gm6/((gds2 + gds4)(gds6 + gds7)), f_u ≈ gm1/(2π·CC), I_tail = I_B·(W/L ratio).
    const gain =
      (d('M1', 'gm') * d('M6', 'gm')) / ((d('M2', 'gds') + d('M4', 'gds')) * (d('M6', 'gds') + d('M7', 'gds')))
    const ac = new AcAnalysis(amplifier, { input: 'VP', range: [1, 1e9] })
    const dc = ac.at(complex(0, 2 * Math.PI * 0.01))
    // The mirror's finite conductance costs a little: the formula is good to some percent.
    expect(Math.hypot(dc.re, dc.im) / gain).toBeGreaterThan(0.95)
    expect(Math.hypot(dc.re, dc.im) / gain).toBeLessThan(1.05)
    expect(d('M5', 'id') / 30e-6).toBeCloseTo(1.02, 2)
    const unity = d('M1', 'gm') / (2 * Math.PI * 2e-12)
    const there = ac.at(complex(0, 2 * Math.PI * unity))
    expect(Math.hypot(there.re, there.im)).toBeGreaterThan(0.6)
    expect(Math.hypot(there.re, there.im)).toBeLessThan(1.1)
  })

  test('a small sine through the transient grows by the small-signal gain', () => {
    const lines = TWO_STAGE.map((l) => l.replace('VP inp 0 DC 0 AC 1', 'VP inp 0 DC 0 AC 1 SIN(0 1u 10k)'))
    const run = transient(circuit(...lines), { stop: 1e-3, outputs: ['out'], reltol: 1e-6 })
    const times = Float64Array.from({ length: 200 }, (_, k) => 0.9e-3 + (k * 1e-4) / 200)
    const v = interpolate(run, 0, times)
    let re = 0
    let im = 0
    v.forEach((y, k) => {
      re += (y * Math.sin(2 * Math.PI * 1e4 * times[k]) * 2) / 200
      im += (y * Math.cos(2 * Math.PI * 1e4 * times[k]) * 2) / 200
    })
    const h = new AcAnalysis(amplifier, { input: 'VP', range: [1, 1e9] }).at(complex(0, 2 * Math.PI * 1e4))
    expect(Math.hypot(re, im) / 1e-6 / Math.hypot(h.re, h.im)).toBeCloseTo(1, 2)
  })

  test('poles of the linearised amplifier give its AC', () => {
    const { transfer } = polesAndZeros(amplifier, { input: 'VP' })
    expect(transfer.poles.every((p) => p.re < 0)).toBe(true)
    // The dominant pole: (gds2 + gds4)(gds6 + gds7)/(gm6·CC), to the Miller approximation.
    const miller = ((d('M2', 'gds') + d('M4', 'gds')) * (d('M6', 'gds') + d('M7', 'gds'))) / (d('M6', 'gm') * 2e-12)
    const dominant = Math.min(...transfer.poles.map((p) => Math.hypot(p.re, p.im)))
    expect(dominant / miller).toBeGreaterThan(0.9)
    expect(dominant / miller).toBeLessThan(1.05)
  })
})

describe('noise', () => {
  test('the total over an RC is kT/C, whatever the resistance (H. Nyquist, Phys. Rev. 32, 1928)', () => {
    for (const r of [50, 1e4, 1e7]) {
      const mna = circuit('V1 in 0 1', `R1 in out ${r}`, 'C1 out 0 100p')
      const corner = 1 / (2 * Math.PI * r * 100e-12)
      const noise = new NoiseAnalysis(mna, { range: [corner * 1e-6, corner * 1e8] })
      const power = noise.power(corner * 1e-6, corner * 1e8, [corner])
      // What lies beyond 1e8 corners is 2/π·1e-8 of the whole, and as much below is left out with 1e-6.
      expect((power * 100e-12) / (1.380649e-23 * 300.15)).toBeCloseTo(1, 5)
    }
  })

  test('a diode’s shot noise meets half its thermal counterpart: 2qI against 4kT·gd', () => {
    const mna = smallSignal(circuit('V1 b 0 1', 'I1 0 a 1m', 'D1 a 0 d', '.model d d (IS=1e-14)'))
    const noise = new NoiseAnalysis(mna, { input: 'I1', output: 'a', range: [1, 10] })
    const rd = (1.380649e-23 * 300.15) / 1.602176634e-19 / 1e-3
    // v² = 2qI·rd² = 2kT·rd
    expect(noise.at(1).output / (2 * 1.380649e-23 * 300.15 * rd)).toBeCloseTo(1, 9)
    expect(noise.shares(1)[0].name).toBe('D1')
  })
})

describe('laws that no circuit escapes', () => {
  const netlistArb = fc
    .record({
      values: fc.array(fc.double({ min: 0.1, max: 10, noNaN: true }), { minLength: 6, maxLength: 6 }),
      bias: fc.double({ min: -3, max: 3, noNaN: true }),
    })
    .map(({ values: v, bias }) => [
      `V1 in 0 ${bias}`,
      `R1 in a ${v[0]}k`,
      'D1 a b d',
      `R2 b 0 ${v[1]}k`,
      `Q1 c a 0 q`,
      `R3 in c ${v[2]}k`,
      `M1 e c 0 0 m W=${v[3]}u L=1u`,
      `R4 in e ${v[4]}k`,
      `C1 e b ${v[5]}n`,
      '.model d d (IS=1e-14 CJO=2p TT=1n RS=3)',
      '.model q npn (IS=1e-15 BF=80 VAF=60 CJE=1p CJC=1p TF=1n RC=5)',
      '.model m nmos (VTO=0.5 KP=50u LAMBDA=0.02 TOX=20n CGSO=100p GAMMA=0.3)',
    ])

  test('Tellegen: the powers of all parts at an operating point sum to zero', () => {
    fc.assert(
      fc.property(netlistArb, (lines) => {
        const mna = circuit(...lines)
        const point = operatingPoint(mna)
        // Kirchhoff's currents at every net, devices included, against the largest that meet there.
        const residual = new Float64Array(mna.size)
        const size = new Float64Array(mna.size)
        mna.pattern.rows.forEach((row, e) => {
          const term = mna.g[e] * point.x[mna.pattern.cols[e]]
          residual[row] += term
          size[row] += Math.abs(term)
        })
        const devices = new DeviceSet(mna)
        devices.evaluate(point.x, false)
        for (const { placed, state } of devices.active) {
          placed.device.flows.forEach(([from, to], f) => {
            if (from >= 0) residual[from] += state.current[f]
            if (to >= 0) residual[to] -= state.current[f]
          })
        }
        for (const { row, sign, element } of mna.sources)
          residual[row] -= sign * mna.circuit.elements[element].values.bias
        const power = residual.reduce((sum, i, k) => sum + i * point.x[k], 0)
        const scale = size.reduce((sum, i, k) => sum + i * Math.abs(point.x[k]), 1e-15)
        expect(Math.abs(power)).toBeLessThan(1e-9 * scale)
      }),
      { numRuns: 60 },
    )
  })

  test('derivatives of every device are those of its currents and charges', () => {
    fc.assert(
      fc.property(
        netlistArb,
        fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 20, maxLength: 20 }),
        (lines, random) => {
          const mna = circuit(...lines)
          for (const { device } of mna.devices) {
            const controls = device.controls.length
            const flows = device.flows.length
            const make = () => ({
              current: new Float64Array(flows),
              charge: new Float64Array(flows),
              conductance: new Float64Array(flows * controls),
              capacitance: new Float64Array(flows * controls),
            })
            // Away from the symmetric point, where source and drain change places.
            const u = Float64Array.from({ length: controls }, (_, j) => 0.7 * random[j] + 0.01 * (j + 1))
            const here = make()
            device.evaluate(u, here)
            for (let j = 0; j < controls; j++) {
              const h = 1e-6
              const [up, down] = [make(), make()]
              device.evaluate(
                u.map((v, k) => v + (k === j ? h : 0)),
                up,
              )
              device.evaluate(
                u.map((v, k) => v - (k === j ? h : 0)),
                down,
              )
              for (let f = 0; f < flows; f++) {
                const e = f * controls + j
                const di = (up.current[f] - down.current[f]) / (2 * h)
                const dq = (up.charge[f] - down.charge[f]) / (2 * h)
                // Central differences of a curve with corners in its second derivative: first order in h at the worst.
                const tolerance = (d: number, of: Float64Array) =>
                  1e-4 * Math.max(Math.abs(d), ...of.map(Math.abs)) + 1e-22
                expect(Math.abs(here.conductance[e] - di)).toBeLessThan(tolerance(di, here.conductance))
                expect(Math.abs(here.capacitance[e] - dq)).toBeLessThan(tolerance(dq, here.capacitance))
              }
            }
          }
        },
      ),
      { numRuns: 80 },
    )
  })
})
