import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { AcAnalysis } from './signalAnalysis.js'
import { fourier } from './fourier.js'
import { largeSignalResponse } from './largeSignal.js'
import { LoopGain } from './loopGain.js'
import { formulate } from './mna.js'
import { naturalFrequenciesOf } from './poles.js'
import { smallSignal } from './smallSignal.js'
import { transient } from './transient.js'

const read = (...lines: string[]) => readNetlist(['test', ...lines, ''].join('\n')).circuit

describe('spectrum of a settled transient', () => {
  test('a square wave has 4/(πk) at odd harmonics and nothing at even ones (Fourier series)', () => {
    const run = transient(formulate(read('V1 out 0 PULSE(-1 1 0 1n 1n 0.499999m 1m)', 'R1 out 0 1')), {
      stop: 3e-3,
      outputs: ['out'],
    })
    const { harmonics, distortionPercent } = fourier(run, 0, { frequency: 1e3, harmonics: 9 })
    // 288 samples of a jump: the staircase adds some tenths of a percent.
    for (const k of [1, 3, 5]) expect(harmonics[k].amplitude * Math.PI * k).toBeCloseTo(4, 1)
    for (const k of [0, 2, 4]) expect(harmonics[k].amplitude).toBeLessThan(0.01)
    // Up to the 9th: √(1/9 + 1/25 + 1/49 + 1/81) = 42.88 %
    expect(distortionPercent).toBeCloseTo(42.88, 0)
  })

  test('a square-law device makes half the overdrive ratio of second harmonic', () => {
    // i = K/2·(V + a·sin)²: second harmonic over first = a/(4V).
    const lines = ['V1 in 0 SIN(1.7 0.2 1k)', 'VD d 0 5', 'M1 d in 0 0 m W=10u L=1u', '.model m nmos (VTO=0.7 KP=100u)']
    const run = transient(formulate(read(...lines)), { stop: 2e-3, outputs: ['i(M1)'] })
    expect(fourier(run, 0, { frequency: 1e3, harmonics: 5 }).distortionPercent).toBeCloseTo((100 * 0.2) / 4, 2)
  })
})

describe('large-signal response', () => {
  test('of a linear circuit it is the AC response', () => {
    const circuit = read('V1 in 0', 'R1 in out 1k', 'C1 out 0 100n')
    const [point] = largeSignalResponse(circuit, { amplitude: 3, frequencies: [2e3] })
    const { re, im } = new AcAnalysis(formulate(circuit)).sweep(Float64Array.of(2e3))
    expect(point.gain).toBeCloseTo(Math.hypot(re[0], im[0]), 3)
    expect(point.phase).toBeCloseTo((Math.atan2(im[0], re[0]) * 180) / Math.PI, 1)
    expect(point.settled).toBe(true)
    expect(point.distortionPercent).toBeLessThan(0.05)
  })

  // i = K/2·(V + a·sin ωt)², as long as V > a: the fundamental is K·V·a whatever the amplitude, the second harmonic K·a²/4, and nothing
  // else but the mean. Into R with C beside it: gain K·V·R/√(1 + (ωRC)²) and phase 180° − atan ωRC, exactly the small signal's; the second
  // harmonic is less by √((1 + (ωRC)²)/(1 + (2ωRC)²)) of a/(4V).
  test.each([0.05, 0.3, 0.6])(
    'of a square-law stage the gain does not depend on the amplitude of %f V, the distortion does',
    (a) => {
      const [overdrive, k, r, c] = [0.8, 1e-3, 1e3, 10e-9]
      const circuit = read(
        `V1 g 0 ${0.7 + overdrive}`,
        'VDD v 0 10',
        `RD v d ${r}`,
        `C1 d 0 ${c}`,
        'M1 d g 0 0 m W=10u L=1u',
        '.model m nmos (VTO=0.7 KP=100u)',
      )
      const frequencies = [1e3, 1 / (2 * Math.PI * r * c), 60e3]
      const found = largeSignalResponse(circuit, { output: 'd', amplitude: a, frequencies })
      found.forEach(({ gain, phase, distortionPercent, settled }, n) => {
        const wrc = 2 * Math.PI * frequencies[n] * r * c
        expect(settled).toBe(true)
        expect(gain / ((k * overdrive * r) / Math.hypot(1, wrc))).toBeCloseTo(1, 3)
        expect(Math.abs(phase)).toBeCloseTo(180 - (Math.atan(wrc) * 180) / Math.PI, 1)
        const second = (a / (4 * overdrive)) * Math.sqrt((1 + wrc ** 2) / (1 + 4 * wrc ** 2))
        expect(distortionPercent / (100 * second)).toBeCloseTo(1, 2)
      })
    },
  )

  test('two diodes limit a large signal and let a small one through', () => {
    const circuit = read('V1 in 0', 'R1 in out 1k', 'D1 out 0 d', 'D2 0 out d', '.model d d (IS=1e-14)')
    const at = (amplitude: number) => largeSignalResponse(circuit, { amplitude, frequencies: [1e3] })[0]
    expect(at(0.01).gain).toBeCloseTo(1, 4)
    // At 10 V the output is nearly a square of one junction: 4/π·0.75 V of 10.
    expect(at(10).gain).toBeGreaterThan(0.08)
    expect(at(10).gain).toBeLessThan(0.1)
  })
})

describe('loop gain', () => {
  test('a follower of a one-pole amplifier: T is the amplifier’s gain, 90° of margin', () => {
    // A = 1e5/(1 + s/(2π·10)): unity at 1 MHz.
    const mna = formulate(
      read(
        'V1 in 0 AC 1',
        'G1 0 p in m 1m',
        'R1 p 0 100Meg',
        'C1 p 0 159.154943091895p',
        'E1 out 0 p 0 1',
        'VL out m 0',
        'RL out 0 1k',
      ),
    )
    const loop = new LoopGain(mna, 'VL', [1, 1e9])
    expect(loop.at(0.01).re).toBeCloseTo(1e5, 0)
    const { gainCrossing, phaseMarginDeg, phaseCrossing } = loop.margins()
    expect(gainCrossing! / 1e6).toBeCloseTo(1, 6)
    expect(phaseMarginDeg).toBeCloseTo(90 + (Math.atan(1e-5) * 180) / Math.PI, 6)
    expect(phaseCrossing).toBeNull()
  })

  test('three equal poles oscillate at √3 of their frequency: gain margin 8/T₀ (common practice, no source)', () => {
    const stage = (k: number, from: string, to: string) => [
      `G${k} 0 ${to} ${from} 0 1`,
      `R${k} ${to} 0 1`,
      `C${k} ${to} 0 1`,
    ]
    const lines = [
      'G0 a 0 y 0 4',
      'R0 a 0 1',
      'C0 a 0 1',
      ...stage(1, 'a', 'b'),
      ...stage(2, 'b', 'x'),
      'VL x y 0',
      'V1 in 0 1',
      'R9 in 0 1',
      'R8 y 0 1k',
    ]
    // The marker sits between a resistive output and a resistive input: both loading parts count.
    const loop = new LoopGain(formulate(read(...lines)), 'VL', [1e-3, 1e3])
    const { phaseCrossing, gainMarginDb } = loop.margins()
    expect(phaseCrossing! * 2 * Math.PI).toBeCloseTo(Math.sqrt(3), 2)
    expect(gainMarginDb).toBeCloseTo(20 * Math.log10(2), 1)
  })

  // One pole, and a narrow resonance far beyond its crossing that lifts the loop's gain to −3 or to 3: the one is unstable.
  test.each([
    [30, -1],
    [1e3, -1],
    [1e5, -1],
    [1e3, 1],
  ])('a resonance of Q %d is met, however narrow (its sign: %d)', (q, sign) => {
    const [f0, l] = [31_234.5, 1e-3]
    const w0 = 2 * Math.PI * f0
    const resistance = q * w0 * l
    const tank = sign < 0 ? '0 t' : 't 0'
    const lines = [
      'G1 a 0 y 0 1',
      'R1 a 0 100',
      `C1 a 0 ${1 / (2 * Math.PI * 10 * 100)}`,
      `G2 ${tank} y 0 ${3 / resistance}`,
      `L2 t 0 ${l}`,
      `C2 t 0 ${1 / (w0 * w0 * l)}`,
      `R2 t 0 ${resistance}`,
      'E1 s 0 a 0 1',
      'E2 x s t 0 1',
      'VL x y 0',
      'V1 in 0 1',
      'R9 in 0 1',
    ]
    const mna = formulate(read(...lines))
    const found = new LoopGain(mna, 'VL', [1, 1e6]).margins()
    // By a second road: an unstable circuit has a natural frequency in the right half plane.
    expect(naturalFrequenciesOf(mna).some((p) => p.re > 0)).toBe(sign < 0)
    expect(found.phaseMarginDeg! < 0).toBe(sign < 0)
    expect(Math.abs(found.gainCrossing! / f0 - 1)).toBeLessThan(3 / q)
  })

  test('the place of the marker does not matter', () => {
    const amplifier = (first: string[], second: string[]) =>
      smallSignal(
        formulate(
          read(
            'V1 in 0 AC 1',
            'R1 in m 1k',
            ...first,
            'G1 0 p 0 m2 1m',
            'R3 p 0 1Meg',
            'C3 p 0 10p',
            'R4 p out 100',
            ...second,
            'C4 out 0 50p',
          ),
        ),
      )
    const atInput = amplifier(['R2 out m 10k', 'VL m m2 0'], [])
    const inFeedback = amplifier(['R2 f m 10k', 'VX m m2 0'], ['VL out f 0'])
    for (const f of [1e3, 1e6, 1e8]) {
      const [a, b] = [new LoopGain(atInput, 'VL', [1, 1e9]).at(f), new LoopGain(inFeedback, 'VL', [1, 1e9]).at(f)]
      expect(Math.hypot(a.re - b.re, a.im - b.im)).toBeLessThan(1e-9 * Math.hypot(a.re, a.im))
    }
  })
})
