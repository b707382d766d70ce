import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { thermalVoltage, NOMINAL_TEMPERATURE } from '../circuit/devices/constants.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { interpolate, uniformTimes } from './interpolate.js'
import { formulate } from './mna.js'
import { transient } from './transient.js'

/*
 * Waveforms that devices bend, against the circuit's own equation solved here: in one unknown by bisection at every output
 * point, or integrated by the classical Runge–Kutta formula in steps far below the circuit's time constants. Laws of the
 * devices: Ebers and Moll 1954, Shichman and Hodges 1968, with kT/q of 300.15 K.
 */
const VT = thermalVoltage(NOMINAL_TEMPERATURE)

interface Bent {
  readonly lines: readonly string[]
  readonly output: string
  readonly stop: number
  readonly value: (times: Float64Array) => Float64Array
}

/** The root of a function that rises, between two places. */
function root(rising: (x: number) => number, lo: number, hi: number): number {
  for (;;) {
    const middle = (lo + hi) / 2
    if (!(middle > lo && middle < hi)) return middle
    if (rising(middle) > 0) hi = middle
    else lo = middle
  }
}

const at = (value: (t: number) => number) => (times: Float64Array) => times.map(value)

/** y′ = rate(t, y) by Runge and Kutta's formula of order 4 with so many steps between two output points. */
function integrated(y0: number, steps: number, rate: (t: number, y: number) => number) {
  return (times: Float64Array): Float64Array => {
    const y = new Float64Array(times.length)
    y[0] = y0
    for (let k = 1; k < times.length; k++) {
      const h = (times[k] - times[k - 1]) / steps
      let [t, v] = [times[k - 1], y[k - 1]]
      for (let n = 0; n < steps; n++, t += h) {
        const k1 = rate(t, v)
        const k2 = rate(t + h / 2, v + (h / 2) * k1)
        const k3 = rate(t + h / 2, v + (h / 2) * k2)
        const k4 = rate(t + h, v + h * k3)
        v += (h / 6) * (k1 + 2 * k2 + 2 * k3 + k4)
      }
      y[k] = v
    }
    return y
  }
}

const IS = 1e-14
const junction = (v: number) => IS * Math.expm1(v / VT)
const sine = (offset: number, amplitude: number, f: number) => (t: number) =>
  offset + amplitude * Math.sin(2 * Math.PI * f * t)

/** Each with a size that is drawn: 0.3 … 3 times the usual one. */
const bent: Readonly<Record<string, (size: number) => Bent>> = {
  'half wave': (size) => {
    const drive = sine(0, 5 * size, 50)
    return {
      lines: [`V1 in 0 SIN(0 ${5 * size} 50)`, 'D1 in out d', 'R1 out 0 1k', '.model d d(is=1e-14)'],
      output: 'out',
      stop: 40e-3,
      value: at((t) => root((v) => v / 1e3 - junction(drive(t) - v), Math.min(0, drive(t)), Math.max(0, drive(t)))),
    }
  },
  'differential pair': (size) => ({
    lines: [
      `V1 in 0 SIN(0 ${0.5 * size} 1k)`,
      'Vcc vcc 0 10',
      'I1 e 0 1m',
      'Q1 vcc in e q',
      'Q2 out 0 e q',
      'R2 vcc out 1k',
      '.model q npn(is=1e-15 bf=1e9)',
    ],
    output: 'out',
    stop: 4e-3,
    value: at((t) => 10 - 1 / (1 + Math.exp(sine(0, 0.5 * size, 1e3)(t) / VT))),
  }),
  limiter: (size) => {
    const drive = sine(0, 10 * size, 1e3)
    return {
      lines: [`V1 in 0 SIN(0 ${10 * size} 1k)`, 'R1 in out 1k', 'D1 out 0 d', 'D2 0 out d', '.model d d(is=1e-14)'],
      output: 'out',
      stop: 2e-3,
      value: at((t) => root((v) => junction(v) - junction(-v) - (drive(t) - v) / 1e3, -1, 1)),
    }
  },
  'class B': (size) => {
    const drive = sine(0, 2 * size, 1e3)
    return {
      lines: [
        `V1 in 0 SIN(0 ${2 * size} 1k)`,
        'VP p 0 12',
        'VN n 0 -12',
        'Q1 p in out qn',
        'Q2 n in out qp',
        'R1 out 0 100',
        '.model qn npn(is=1e-14 bf=1e9)',
        '.model qp pnp(is=1e-14 bf=1e9)',
      ],
      output: 'out',
      stop: 3e-3,
      value: at((t) => root((v) => v / 100 - junction(drive(t) - v) + junction(v - drive(t)), -7, 7)),
    }
  },
  mixer: (size) => {
    const [rf, lo] = [sine(0, 0.1 * size, 1e3), sine(1e-3, 0.5e-3, 7e3)]
    return {
      lines: [
        `V1 in 0 SIN(0 ${0.1 * size} 1k)`,
        'Vcc vcc 0 10',
        'I1 e 0 SIN(1m 0.5m 7k)',
        'Q1 o1 in e q',
        'Q2 o2 0 e q',
        'R1 vcc o1 1k',
        'R2 vcc o2 1k',
        '.model q npn(is=1e-15 bf=1e9)',
      ],
      output: 'v(o1,o2)',
      stop: 4e-3,
      value: at((t) => -1e3 * lo(t) * Math.tanh(rf(t) / (2 * VT))),
    }
  },
  'overdriven stage': (size) => {
    const drive = sine(0.55, 0.3 * size, 1e3)
    // Collector current less the base–collector junction's, from the supply's resistor.
    return {
      lines: [
        `V1 b 0 SIN(0.55 ${0.3 * size} 1k)`,
        'Vcc vcc 0 10',
        'R1 vcc c 10k',
        'Q1 c b 0 q',
        '.model q npn(is=1e-15 bf=100 br=1)',
      ],
      output: 'c',
      stop: 3e-3,
      value: at((t) => {
        const forward = 1e-15 * Math.expm1(drive(t) / VT)
        return root((v) => forward - 2e-15 * Math.expm1((drive(t) - v) / VT) - (10 - v) / 1e4, -2, 11)
      }),
    }
  },
  'square law into its triode region': (size) => {
    const drive = sine(1.5, 1.4 * size, 1e3)
    return {
      lines: [
        `V1 g 0 SIN(1.5 ${1.4 * size} 1k)`,
        'Vdd d 0 5',
        'R1 d out 10k',
        'M1 out g 0 0 m W=10u L=1u',
        '.model m nmos(vto=0.7 kp=100u)',
      ],
      output: 'out',
      stop: 3e-3,
      value: at((t) => {
        const over = Math.max(0, drive(t) - 0.7)
        const current = (v: number) => 0.5e-3 * 2 * (v < over ? (over - v / 2) * v : (over * over) / 2)
        return root((v) => current(v) - (5 - v) / 1e4, 0, 5)
      }),
    }
  },
  'a small swing on a high rest': (size) => {
    const drive = sine(10, 0.05 * size, 1e3)
    return {
      lines: [
        `V1 in 0 SIN(10 ${0.05 * size} 1k)`,
        'V2 ref 0 9.5',
        'R1 in out 1k',
        'D1 out ref d',
        '.model d d(is=1e-14)',
      ],
      output: 'out',
      stop: 3e-3,
      value: at((t) => root((v) => junction(v - 9.5) - (drive(t) - v) / 1e3, 9, 11)),
    }
  },
  'current through a diode': (size) => {
    const drive = sine(0, 3 * size, 1e3)
    return {
      lines: [`V1 in 0 SIN(0 ${3 * size} 1k)`, 'R1 in a 1k', 'D1 a 0 d', '.model d d(is=1e-14)'],
      output: 'i(D1)',
      stop: 3e-3,
      value: at((t) => (drive(t) - root((v) => junction(v) - (drive(t) - v) / 1e3, -10, 1)) / 1e3),
    }
  },
  'a limiter before a capacitor': (size) => {
    const drive = sine(0, 10 * size, 1e3)
    const bend = (t: number) => root((v) => junction(v) - junction(-v) - (drive(t) - v) / 1e3, -1, 1)
    return {
      lines: [
        `V1 in 0 SIN(0 ${10 * size} 1k)`,
        'R1 in a 1k',
        'D1 a 0 d',
        'D2 0 a d',
        'E1 b 0 a 0 1',
        'R2 b out 1k',
        'C2 out 0 100n',
        '.model d d(is=1e-14)',
      ],
      output: 'out',
      stop: 2e-3,
      value: integrated(0, 4, (t, v) => (bend(t) - v) / 1e-4),
    }
  },
  'peak rectifier': (size) => {
    const drive = sine(0, 5 * size, 50)
    return {
      lines: [`V1 in 0 SIN(0 ${5 * size} 50)`, 'D1 in out d', 'R1 out 0 10k', 'C1 out 0 10u', '.model d d(is=1e-14)'],
      output: 'out',
      stop: 60e-3,
      value: integrated(0, 100, (t, v) => (junction(drive(t) - v) - v / 1e4) / 10e-6),
    }
  },
  'clipper with a capacitor': (size) => {
    const drive = sine(0, 10 * size, 1e3)
    return {
      lines: [
        `V1 in 0 SIN(0 ${10 * size} 1k)`,
        'R1 in out 1k',
        'C1 out 0 100n',
        'D1 out 0 d',
        'D2 0 out d',
        '.model d d(is=1e-14)',
      ],
      output: 'out',
      stop: 3e-3,
      value: integrated(0, 40, (t, v) => ((drive(t) - v) / 1e3 - junction(v) + junction(-v)) / 100e-9),
    }
  },
  'inverter with a capacitor': (size) => {
    const drive = sine(2, 2 * size, 1e3)
    const current = (g: number, v: number) => {
      const over = Math.max(0, g - 0.7)
      return 1e-3 * (v < over ? (over - v / 2) * v : (over * over) / 2)
    }
    const rest = root((v) => current(2, v) - (5 - v) / 1e4, 0, 5)
    return {
      lines: [
        `V1 g 0 SIN(2 ${2 * size} 1k)`,
        'Vdd d 0 5',
        'R1 d out 10k',
        'M1 out g 0 0 m W=10u L=1u',
        'C1 out 0 2n',
        '.model m nmos(vto=0.7 kp=100u)',
      ],
      output: 'out',
      stop: 3e-3,
      value: integrated(rest, 20, (t, v) => ((5 - v) / 1e4 - current(drive(t), v)) / 2e-9),
    }
  },
}

const POINTS = 4001

/** The largest error at an output point, against the swing of the signal itself. */
function missed({ lines, output, stop, value }: Bent, reltol?: number): number {
  const mna = formulate(readNetlist(['bent', ...lines, ''].join('\n')).circuit)
  const times = uniformTimes(stop, POINTS)
  const run = transient(mna, { stop, outputs: [output], ...(reltol !== undefined && { reltol }) })
  const found = interpolate(run, 0, times)
  const wanted = value(times)
  const swing = wanted.reduce((a, b) => Math.max(a, b)) - wanted.reduce((a, b) => Math.min(a, b))
  return found.reduce((most, v, k) => Math.max(most, Math.abs(v - wanted[k])), 0) / swing
}

describe.each(Object.entries(bent))('%s', (_, circuit) => {
  const size = fc.double({ min: Math.log(0.3), max: Math.log(3), noNaN: true }).map(Math.exp)

  test('every output point is right to 1e-4 of the swing at the default', () => {
    fc.assert(
      fc.property(size, (s) => {
        expect(missed(circuit(s))).toBeLessThan(1e-4)
      }),
      { numRuns: 4, examples: [[1]] },
    )
  })

  test.each([1e-3, 1e-6, 1e-8])('and follows a tolerance of %d', (reltol) => {
    expect(missed(circuit(1), reltol)).toBeLessThan(reltol)
  })
})
