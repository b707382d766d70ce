import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { exactTransient } from './exactTransient.js'
import { formulate } from './mna.js'
import { interpolate, uniformTimes } from './interpolate.js'
import { transient } from './transient.js'

const circuit = (...lines: string[]) => formulate(readNetlist(['test', ...lines, ''].join('\n')).circuit)

describe('exact transients against closed forms', () => {
  test('an RC answers a sine: forced part and decaying part', () => {
    const mna = circuit('V1 in 0 SIN(0 1 1k)', 'R1 in out 1k', 'C1 out 0 100n')
    const [out] = exactTransient(mna, { stop: 2e-3, points: 201, outputs: ['out'] })!
    const w = 2 * Math.PI * 1e3
    const a = 1e4
    uniformTimes(2e-3, 201).forEach((t, k) => {
      // y′ = a(u − y): y = a/(a² + w²)·(a sin wt − w cos wt + w e^(−at))
      const exact = (a / (a * a + w * w)) * (a * Math.sin(w * t) - w * Math.cos(w * t) + w * Math.exp(-a * t))
      expect(Math.abs(out[k] - exact)).toBeLessThan(1e-13)
    })
  })

  test('an integrator turns a square wave into a triangle', () => {
    // 1 A into 1 F: slope ±1 V/s
    const mna = circuit('I1 0 out PULSE(-1 1 0 0 0 1 2)', 'C1 out 0 1')
    const [out] = exactTransient(mna, { stop: 4, points: 9, outputs: ['out'], start: 'zero' })!
    expect(Array.from(out, (v) => Number(v.toFixed(12)))).toEqual([0, 0.5, 1, 0.5, 0, 0.5, 1, 0.5, 0])
  })

  test('from the operating point nothing moves until a source does', () => {
    const mna = circuit('V1 in 0 PULSE(2 5 1m)', 'V2 b 0 1', 'R1 in out 1k', 'R2 b out 1k', 'C1 out 0 1u')
    const [out] = exactTransient(mna, { stop: 2e-3, points: 21, outputs: ['out'] })!
    for (let k = 0; k < 10; k++) expect(out[k]).toBeCloseTo(1.5, 12)
    expect(out[20]).toBeCloseTo(3 - 1.5 * Math.exp(-1e-3 / 0.5e-3), 12)
  })

  test('devices and differentiated sources are left to stepping', () => {
    expect(
      exactTransient(circuit('V1 in 0 1', 'R1 in out 1', 'D1 out 0 d', '.model d d (is=1e-14)'), {
        stop: 1,
        points: 3,
        outputs: ['out'],
      }),
    ).toBeNull()
    expect(
      exactTransient(circuit('V1 in 0 PULSE(0 1 0.1 0.1)', 'C1 in 0 1', 'R1 in out 1', 'R2 out 0 1'), {
        stop: 1,
        points: 3,
        outputs: ['i(C1)'],
      }),
    ).toBeNull()
  })

  test('resonance builds up: a tank driven at its own frequency, v = t·sin(t)/2', () => {
    const tank = circuit('I1 0 out SIN(0 1 0.15915494309189535)', 'C1 out 0 1', 'L1 out 0 1', 'R1 out 0 1e15')
    const [out] = exactTransient(tank, { stop: 100, points: 101, outputs: ['out'], start: 'zero' })!
    // The frequency is written to 16 digits: 100 rad carry them to 1e-13 of 50 V.
    out.forEach((v, t) => expect(v).toBeCloseTo((t * Math.sin(t)) / 2, 10))
  })

  test('a resonator of Q = 1e6 at its resonance: Q·(1 − e^(−ωt/2Q)) over 80,000 periods', () => {
    const driven = circuit('V1 in 0 SIN(0 1 159154.94309189535)', 'R1 in a 1m', 'L1 a out 1m', 'C1 out 0 1n')
    const stop = 0.5
    const [out] = exactTransient(driven, { stop, points: 501, outputs: ['out'] })!
    out.forEach((v, k) => {
      const t = (stop * k) / 500
      // Between forced and free part the phase moves by ω·t/8Q² = 6e-8; ω0 is written to 16 digits.
      const expected = -1e6 * (1 - Math.exp(-t / 2)) * Math.cos(1e6 * t)
      expect(Math.abs(v - expected)).toBeLessThan(2e-6 * 1e6)
    })
  })

  test('close to resonance two roads agree: H·e^(sτ) less the free modes, and what builds up', () => {
    // On either side of the border between the two the beat is smooth in frequency.
    const at = (f: number) =>
      exactTransient(circuit(`V1 in 0 SIN(0 1 ${f})`, 'R1 in a 10', 'L1 a out 1m', 'C1 out 0 1n'), {
        stop: 2e-4,
        points: 201,
        outputs: ['out'],
      })![0]
    const border = 159154.9430918953 * 1.01
    const [below, above] = [at(border * (1 - 1e-9)), at(border * (1 + 1e-9))]
    const peak = Math.max(...above.map(Math.abs))
    below.forEach((v, k) => expect(Math.abs(v - above[k])).toBeLessThan(1e-6 * peak))
  })
})

describe('exact and stepped transients agree', () => {
  const waveformArb = fc.constantFrom(
    'PULSE(0 1 0.3)',
    'PULSE(-1 2 0.2 0.1 0.3 0.7 1.9)',
    'SIN(0.5 1 0.7 0.4 0.3 30)',
    'EXP(0 1 0.2 0.5 1.5 0.3)',
    'PWL(0 0 0.5 1 0.5 -1 2 0.3)',
  )
  const value = fc.double({ min: 0.2, max: 3, noNaN: true })

  test('random ladders, waveforms and starts', () => {
    fc.assert(
      fc.property(
        waveformArb,
        fc.array(value, { minLength: 6, maxLength: 6 }),
        fc.constantFrom('op' as const, 'zero' as const),
        (waveform, v, start) => {
          const mna = circuit(
            `V1 in 0 ${waveform}`,
            `R1 in a ${v[0]}`,
            `C1 a 0 ${v[1]}`,
            `L1 a out ${v[2]}`,
            `C2 out 0 ${v[3]}`,
            `R2 out 0 ${v[4]}`,
            `C3 a out ${v[5] / 10}`,
          )
          const exact = exactTransient(mna, { stop: 5, points: 101, outputs: ['out', 'i(L1)'], start })
          fc.pre(exact !== null)
          const run = transient(mna, { stop: 5, outputs: ['out', 'i(L1)'], start, reltol: 1e-6 })
          exact!.forEach((values, k) => {
            const stepped = interpolate(run, k, uniformTimes(5, 101))
            const peak = Math.max(...values.map(Math.abs))
            // Stepping keeps 1e-6 of the peak over the run, interpolation between steps somewhat less.
            values.forEach((y, j) => expect(Math.abs(y - stepped[j])).toBeLessThan(2e-5 * peak))
          })
        },
      ),
      { numRuns: 60 },
    )
  })
})
