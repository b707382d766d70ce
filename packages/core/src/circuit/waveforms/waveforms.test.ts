import { describe, expect, test } from 'vitest'
import { exactTransient } from '../../analysis/exactTransient.js'
import { fourier } from '../../analysis/fourier.js'
import { formulate } from '../../analysis/mna.js'
import { interpolate, uniformTimes } from '../../analysis/interpolate.js'
import { transient } from '../../analysis/transient.js'
import { writeNetlist } from '../../format/netlist/writeNetlist.js'
import { gaussian, uniform } from '../../numeric/random.js'
import type { Circuit } from '../circuit.js'
import { type Waveform, waveformKind, WaveformSchema } from './index.js'

const at = (waveform: Waveform, t: number) => waveformKind(waveform).at(waveform, t)
const parse = (given: object) => WaveformSchema.parse(given)

/** A source over an RC of 1 s, or another time. */
function rc(waveform: Waveform, tau = 1): Circuit {
  const label = (name: string, part: string, pin: string) => ({ id: `${part}${pin}`, name, end: { part, pin } })
  return {
    parts: [
      { id: 'V1', kind: 'voltage-source', values: {}, waveform },
      { id: 'R1', kind: 'resistor', values: { resistance: 1 } },
      { id: 'C1', kind: 'capacitor', values: { capacitance: tau } },
    ],
    wires: [],
    junctions: [],
    labels: [
      label('in', 'V1', 'plus'),
      label('0', 'V1', 'minus'),
      label('in', 'R1', 'a'),
      label('out', 'R1', 'b'),
      label('out', 'C1', 'a'),
      label('0', 'C1', 'b'),
    ],
  }
}

describe('shapes', () => {
  test('square, triangle and sawtooth', () => {
    const shape = (s: string) => parse({ kind: 'periodic', shape: s, amplitude: 2, frequency: 1, offset: 1 })
    expect([0, 0.25, 0.5, 0.75, 1].map((t) => at(shape('square'), t))).toEqual([3, 3, -1, -1, 3])
    expect([0, 0.25, 0.5, 0.75].map((t) => at(shape('triangle'), t))).toEqual([-1, 1, 3, 1])
    expect([0, 0.25, 0.75].map((t) => at(shape('sawtooth'), t))).toEqual([-1, 0, 2])
  })

  test('a burst of two periods, repeated', () => {
    const burst = parse({ kind: 'burst', amplitude: 1, frequency: 1, cycles: 2, delay: 1, repeat: 4 })
    expect([0.5, 1.25, 2.25, 3.25, 5.25].map((t) => Number(at(burst, t).toFixed(12)))).toEqual([0, 1, 1, 0, 1])
  })

  test('a chirp’s frequency moves from one value to the other', () => {
    const chirp = parse({ kind: 'chirp', amplitude: 1, from: 1, to: 100, duration: 1 })
    // Cycles in the first second: (100 − 1)/ln 100.
    const cycles = 99 / Math.log(100)
    expect(at(chirp, 1)).toBeCloseTo(Math.sin(2 * Math.PI * cycles), 9)
  })

  test('a formula knows t alone', () => {
    expect(at(parse({ kind: 'formula', expression: '2*exp(-t)', detail: 0.1 }), 1)).toBeCloseTo(2 / Math.E, 14)
    expect(() => at(parse({ kind: 'formula', expression: 'x+1', detail: 0.1 }), 1)).toThrow('knows t alone')
  })
})

describe('noise', () => {
  test('the same seed gives the same numbers, with the moments of a normal distribution', () => {
    expect(gaussian(7, 12)).toBe(gaussian(7, 12))
    expect(gaussian(7, 12)).not.toBe(gaussian(8, 12))
    const n = 20000
    const values = Array.from({ length: n }, (_, k) => gaussian(3, k))
    const mean = values.reduce((s, v) => s + v, 0) / n
    const square = values.reduce((s, v) => s + v * v, 0) / n
    const fourth = values.reduce((s, v) => s + v ** 4, 0) / n
    // Three standard errors: 1/√n, √(2/n), √(96/n).
    expect(Math.abs(mean)).toBeLessThan(3 / Math.sqrt(n))
    expect(Math.abs(square - 1)).toBeLessThan(3 * Math.sqrt(2 / n))
    expect(Math.abs(fourth - 3)).toBeLessThan(3 * Math.sqrt(96 / n))
    expect(Math.abs(values.slice(1).reduce((s, v, k) => s + v * values[k], 0) / n)).toBeLessThan(3 / Math.sqrt(n))
    expect(uniform(1, 1)).toBeGreaterThan(0)
  })
})

describe('through a circuit', () => {
  test.each([
    { kind: 'periodic', shape: 'triangle', amplitude: 1, frequency: 0.7, duty: 0.3 },
    { kind: 'burst', amplitude: 1, frequency: 2, cycles: 3, delay: 0.5, repeat: 2.2 },
    { kind: 'noise', rms: 1, bandwidth: 5, seed: 4 },
    {
      kind: 'sum',
      terms: [
        { kind: 'sine', amplitude: 1, frequency: 0.5 },
        { kind: 'pulse', low: 0, high: 1, delay: 1 },
        { kind: 'sine', amplitude: 0.1, frequency: 5, delay: 2 },
      ],
    },
  ])('exact and stepped answers to $kind agree', (given) => {
    const mna = formulate(rc(parse(given)))
    const exact = exactTransient(mna, { stop: 5, points: 101, outputs: ['out'] })![0]
    const run = transient(mna, { stop: 5, outputs: ['out'], reltol: 1e-6 })
    const peak = Math.max(...exact.map(Math.abs))
    interpolate(run, 0, uniformTimes(5, 101)).forEach((v, k) =>
      expect(Math.abs(v - exact[k])).toBeLessThan(2e-5 * peak),
    )
  })

  // Periods and widths whose sums round to either side of a corner.
  const trains = [
    [1e-6, 2.5e-7], [1e-6, 5e-7], [1e-6, 1e-7], [2e-6, 6e-7], [3e-7, 1e-7], [7e-7, 3e-7], [1e-3 / 3, 1e-4], [0.1, 0.03],
    [1.1, 0.7], [1 / 7, 1 / 14], [1e-9, 3e-10], [1e-5, 9e-6], [0.7, 0.1],
  ] as const // prettier-ignore

  test.each(trains)('a square train of period %d s and width %d s stays square', (period, width) => {
    const tau = period
    const points = 100 * 60 + 1
    const stop = 100 * period
    const square = { kind: 'pulse' as const, low: 0, high: 1, delay: 0, rise: 0, fall: 0, width, period }
    const mna = formulate(rc(square, tau))
    const [input, output] = exactTransient(mna, { stop, points, outputs: ['in', 'out'] })!
    // Periodic answer of a first order to a square train, from nothing stored (common practice, no source).
    let [wrong, worst] = [0, 0]
    for (let k = 0; k < points; k++) {
      const cycle = Math.floor(k / 60)
      const local = ((k % 60) / 60) * period
      const onCorner = Math.abs(local - width) < 1e-9 * period
      if (!onCorner && input![k] !== (local < width ? 1 : 0)) wrong++
      // v at the begin of a cycle: a geometric sum of what each pulse before has left.
      const [e, w] = [Math.exp(-period / tau), Math.exp(-width / tau)]
      const begin = ((1 - w) * (e / w) * (1 - e ** cycle)) / (1 - e)
      const top = 1 - (1 - begin) * w
      const wanted = local < width ? 1 - (1 - begin) * Math.exp(-local / tau) : top * Math.exp(-(local - width) / tau)
      worst = Math.max(worst, Math.abs(output![k]! - wanted))
    }
    expect(wrong).toBe(0)
    expect(worst).toBeLessThan(1e-9)
  })

  test('a corner belongs to what follows it, in every kind and however often it has come', () => {
    const kinds = [
      { kind: 'pulse', low: 0, high: 1, width: 0.03, period: 0.1, delay: 0.01 },
      { kind: 'periodic', shape: 'square', amplitude: 1, frequency: 10, duty: 0.3, delay: 0.01 },
      { kind: 'pulse', low: 0, high: 1, width: 1e-7, period: 3e-7 },
      { kind: 'periodic', shape: 'square', amplitude: 1, frequency: 1e7 / 3, duty: 1 / 3 },
    ].map(parse)
    for (const w of kinds) {
      const kind = waveformKind(w)
      const corners = kind.corners(w, 1000 * kind.span(w))
      expect(corners.length).toBeGreaterThan(1000)
      corners.forEach((t, k) => {
        const next = corners[k + 1]
        if (next !== undefined) expect(kind.at(w, t)).toBe(kind.at(w, t + (next - t) / 2))
      })
    }
  })

  test('a chirp and a formula are stepped', () => {
    const same = { kind: 'formula', expression: 'sin(2*pi*3*t)', detail: 1 / 60 }
    const mna = formulate(rc(parse(same)))
    expect(exactTransient(mna, { stop: 5, points: 3, outputs: ['out'] })).toBeNull()
    const run = transient(mna, { stop: 20, outputs: ['out'] })
    // |1/(1 + jω)| at ω = 6π
    expect(fourier(run, 0, { frequency: 3, harmonics: 2 }).harmonics[1].amplitude).toBeCloseTo(
      1 / Math.hypot(1, 6 * Math.PI),
      4,
    )
  })

  test('a netlist that has no word for a waveform says so', () => {
    expect(() => writeNetlist(rc(parse({ kind: 'noise', rms: 1, bandwidth: 5, seed: 4 })))).toThrow(
      'no word for the waveform of V1',
    )
  })
})
