import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { fourier } from '../../analysis/fourier.js'
import { interpolate } from '../../analysis/interpolate.js'
import { formulate } from '../../analysis/mna.js'
import { NoiseAnalysis } from '../../analysis/noise.js'
import { operatingPoint } from '../../analysis/operatingPoint.js'
import { operatingReport } from '../../analysis/operatingReport.js'
import { polesAndZeros } from '../../analysis/poles.js'
import { smallSignal } from '../../analysis/smallSignal.js'
import { transient } from '../../analysis/transient.js'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { writeNetlist } from '../../format/netlist/writeNetlist.js'
import type { Circuit, Part } from '../circuit.js'
import type { Waveform } from '../waveforms/index.js'
import { partKind } from './index.js'

/** A circuit of parts with a net for every pin, in the order of the kinds' pins. */
function circuit(...parts: [Part, ...string[]][]): Circuit {
  const labels = parts.flatMap(([part, ...nets]) =>
    partKind(part.kind).pins.map((pin, k) => ({ id: `${part.id}${pin}`, name: nets[k], end: { part: part.id, pin } })),
  )
  return { parts: parts.map(([part]) => part), wires: [], junctions: [], labels }
}
const part = (id: string, kind: string, values: Record<string, number>): Part => ({ id, kind, values })
const drive = (bias = 0, waveform?: Waveform): Part => ({
  id: 'V1',
  kind: 'voltage-source',
  values: { bias, acMagnitude: 1 },
  ...(waveform && { waveform }),
})
const resistor = (id: string, resistance: number) => part(id, 'resistor', { resistance })
const response = (c: Circuit, frequency: number, output = 'out', temperature?: number) => {
  const { re, im } = new AcAnalysis(smallSignal(formulate(c, { temperature })), { output }).sweep(
    Float64Array.of(frequency),
  )
  return { re: re[0], im: im[0], size: Math.hypot(re[0], im[0]) }
}
const throughNetlist = (c: Circuit) => readNetlist(writeNetlist(c).text).circuit

describe('real resistors, capacitors and inductors', () => {
  const impedance = (p: Part, f: number, temperature?: number) =>
    response(circuit([drive(), 'in', '0'], [p, 'in', '0']), f, 'z(V1)', temperature)

  // Definitions: tan δ = R·ωC of the series form, Q = ωL/R (IEC 60050, electropedia 151-15-48 and -49, from memory).
  test('a loss factor and a quality factor are met at their frequency', () => {
    const c = impedance(part('C1', 'capacitor', { capacitance: 1e-8, lossFactor: 0.02, lossFrequency: 1e5 }), 1e5)
    expect(-c.re / c.im).toBeCloseTo(0.02, 12)
    const l = impedance(part('L1', 'inductor', { inductance: 1e-3, quality: 80, qualityFrequency: 1e5 }), 1e5)
    expect(l.im / l.re).toBeCloseTo(80, 9)
  })

  test('at its self-resonance a capacitor is its series resistance, an inductor its parallel one', () => {
    const c = part('C1', 'capacitor', { capacitance: 1e-7, selfResonance: 2e6, seriesResistance: 0.05 })
    expect(impedance(c, 2e6).size).toBeCloseTo(0.05, 9)
    const l = part('L1', 'inductor', { inductance: 1e-4, selfResonance: 3e6, parallelResistance: 2e4 })
    expect(impedance(l, 3e6).size / 2e4).toBeCloseTo(1, 9)
  })

  test('a leakage is what is left at DC', () => {
    const c = circuit(
      [drive(1), 'in', '0'],
      [part('C1', 'capacitor', { capacitance: 1e-6, parallelResistance: 1e8 }), 'in', 'out'],
      [resistor('R1', 1e6), 'out', '0'],
    )
    const mna = formulate(c)
    expect(operatingReport(mna, operatingPoint(mna)).nodes.out).toBeCloseTo(1 / 101, 9)
  })

  test('a resistor’s parasitics make the impedance of R + sL beside C', () => {
    const values = { resistance: 1e3, seriesInductance: 1e-6, parallelCapacitance: 1e-12 }
    const w = 2 * Math.PI * 1e8
    const [re, im] = [1e3, w * 1e-6]
    // Y = jωC + 1/(R + jωL)
    const [yr, yi] = [re / (re * re + im * im), w * 1e-12 - im / (re * re + im * im)]
    const z = impedance(part('R1', 'resistor', values), 1e8)
    expect(z.re * yr - z.im * yi).toBeCloseTo(1, 9)
    expect(z.re * yi + z.im * yr).toBeCloseTo(0, 9)
  })

  test('temperature coefficients count from 27 °C', () => {
    const r = part('R1', 'resistor', { resistance: 100, tc1: 3.9e-3, tc2: -1e-6 })
    expect(impedance(r, 1).re).toBeCloseTo(100, 9)
    expect(impedance(r, 1, 300.15 + 50).re).toBeCloseTo(100 * (1 + 3.9e-3 * 50 - 1e-6 * 2500), 9)
  })

  test('a netlist writes what they are made of', () => {
    const c = circuit(
      [drive(), 'in', '0'],
      [part('R1', 'resistor', { resistance: 50, seriesInductance: 1e-8, parallelCapacitance: 1e-13 }), 'in', 'a'],
      [
        part('L1', 'inductor', { inductance: 1e-5, quality: 60, qualityFrequency: 1e6, selfResonance: 2e7 }),
        'a',
        'out',
      ],
      [part('C1', 'capacitor', { capacitance: 1e-9, seriesResistance: 0.1, selfResonance: 5e7 }), 'out', '0'],
      [part('C2', 'capacitor', { capacitance: 1e-9, parallelResistance: 1e6 }), 'out', '0'],
    )
    for (const f of [1e3, 1e6, 3e7, 1e8]) {
      const [a, b] = [response(c, f), response(throughNetlist(c), f)]
      expect(Math.hypot(a.re - b.re, a.im - b.im)).toBeLessThan(1e-12 * a.size)
    }
  })

  test('a figure without its frequency is refused', () => {
    const c = circuit([drive(), 'in', '0'], [part('L1', 'inductor', { inductance: 1, quality: 10 }), 'in', '0'])
    expect(() => formulate(c)).toThrow('qualityFrequency')
  })
})

describe('real operational amplifier', () => {
  const MODEL = { gain: 2e5, gainBandwidth: 1e6, slewRate: 5e5, outputHigh: 13, outputLow: -12 }
  const amplifier = (values: Record<string, number>) => part('U1', 'opamp', values)
  /** Non-inverting, gain 1 + R2/R1; R2 = 0 makes a follower. */
  const stage = (values: Record<string, number>, gain: number, source: Part = drive()) =>
    circuit(
      [source, 'in', '0'],
      [amplifier(values), 'in', 'fb', 'out'],
      [resistor('R1', 1e3), 'fb', '0'],
      [resistor('R2', 1e3 * (gain - 1)), 'out', 'fb'],
    )

  test('closed loop it has gain × bandwidth = gain-bandwidth product, to the first pole’s own share', () => {
    for (const gain of [2, 10, 100]) {
      const [pole] = polesAndZeros(formulate(stage({ gain: 2e5, gainBandwidth: 1e6 }, gain))).transfer.poles
      // ω = 2π·GBW·(1/gain + 1/A₀)
      expect(-pole.re / (2 * Math.PI)).toBeCloseTo(1e6 * (1 / gain + 1 / 2e5), 4)
    }
  })

  test('a second pole at the crossing leaves a follower the damping of two equal corners', () => {
    const c = circuit(
      [drive(), 'in', '0'],
      [amplifier({ gain: 1e6, gainBandwidth: 1e6, secondPole: 1e6 }), 'in', 'out', 'out'],
    )
    const [pole] = polesAndZeros(formulate(c)).transfer.poles
    // s²/(ωt·ω2) + s/ωt + 1 = 0 with ωt = ω2: Q = 1, ω₀ = ωt.
    expect(Math.hypot(pole.re, pole.im) / (2e6 * Math.PI)).toBeCloseTo(1, 5)
    expect(Math.hypot(pole.re, pole.im) / (-2 * pole.re)).toBeCloseTo(1, 5)
  })

  test('a large step climbs at the slew rate', () => {
    const step: Waveform = { kind: 'pulse', low: 0, high: 4, delay: 0, rise: 0, fall: 0 }
    const run = transient(formulate(stage(MODEL, 2, drive(0, step))), { stop: 4e-5, outputs: ['out'] })
    const [a, b] = interpolate(run, 0, Float64Array.of(5e-6, 15e-6))
    expect((b - a) / 1e-5 / 5e5).toBeCloseTo(1, 3)
  })

  test('a sine slower than slew/(2π·amplitude) passes, a faster one becomes a triangle (common practice, no source)', () => {
    const distortion = (frequency: number) => {
      const sine: Waveform = { kind: 'sine', offset: 0, amplitude: 5, frequency, delay: 0, damping: 0, phase: 0 }
      const run = transient(formulate(stage(MODEL, 2, drive(0, sine))), { stop: 5 / frequency, outputs: ['out'] })
      return fourier(run, 0, { frequency, harmonics: 9 })
    }
    // 10 V: 7.96 kHz.
    expect(distortion(1e3).distortionPercent).toBeLessThan(0.05)
    const fast = distortion(4e4)
    // A triangle of slope ±slew: amplitude slew/(4f), fundamental 8/π² of it, third harmonic a ninth.
    expect(fast.harmonics[1].amplitude / (((8 / Math.PI ** 2) * 5e5) / (4 * 4e4))).toBeCloseTo(1, 1)
    expect(fast.harmonics[3].amplitude / fast.harmonics[1].amplitude).toBeCloseTo(1 / 9, 1)
  })

  test('the output stays between its limits, at DC and over time', () => {
    const at = (bias: number) => {
      const mna = formulate(stage(MODEL, 10, drive(bias)))
      return operatingReport(mna, operatingPoint(mna))
    }
    expect(at(0.5).nodes.out).toBeCloseTo(5 / (1 + 10 / 2e5), 6)
    expect(at(0.5).devices.U1.region).toBe('linear')
    expect(at(5).nodes.out).toBeCloseTo(13, 1)
    expect(at(5).devices.U1.region).toBe('high limit')
    expect(at(-5).nodes.out).toBeCloseTo(-12, 1)
    expect(at(-5).devices.U1.region).toBe('low limit')
    const sine: Waveform = { kind: 'sine', offset: 0, amplitude: 2, frequency: 1e3, delay: 0, damping: 0, phase: 0 }
    const run = transient(formulate(stage(MODEL, 10, drive(0, sine))), { stop: 2e-3, outputs: ['out'] })
    expect(Math.max(...run.outputs[0])).toBeCloseTo(13, 1)
    expect(Math.min(...run.outputs[0])).toBeCloseTo(-12, 1)
  })

  test('offset and bias are amplified by the noise gain', () => {
    const c = circuit(
      [drive(), 'in', '0'],
      [amplifier({ gain: 1e8, offset: 1e-3, biasCurrent: 1e-7, biasOffset: 2e-8 }), 'p', 'fb', 'out'],
      [resistor('RS', 1e4), 'in', 'p'],
      [resistor('R1', 1e3), 'fb', '0'],
      [resistor('R2', 9e3), 'out', 'fb'],
    )
    const mna = formulate(c)
    // 10·(Vos − Ib+·RS) + Ib−·R2, the bias flowing into the amplifier.
    const expected = 10 * (1e-3 - 1.1e-7 * 1e4) + 0.9e-7 * 9e3
    expect(operatingReport(mna, operatingPoint(mna)).nodes.out).toBeCloseTo(expected, 8)
  })

  test('its noise: voltage by the noise gain, current by the impedance it meets, both rising below their corners', () => {
    const noisy = {
      gain: 1e8,
      noiseVoltage: 4e-9,
      noiseVoltageCorner: 100,
      noiseCurrent: 2e-12,
      noiseCurrentCorner: 1000,
    }
    const mna = formulate(stage(noisy, 11), { temperature: 1e-3 })
    const noise = new NoiseAnalysis(mna, { range: [1, 1e6] })
    const expected = (f: number) => (11 * 4e-9) ** 2 * (1 + 100 / f) + (1e4 * 2e-12) ** 2 * (1 + 1000 / f)
    for (const f of [1, 100, 1e5]) expect(noise.at(f).output / expected(f)).toBeCloseTo(1, 3)
  })

  test('a netlist carries poles, resistances, offset and bias', () => {
    const values = {
      gain: 1e5,
      gainBandwidth: 3e6,
      secondPole: 8e6,
      inputResistance: 2e6,
      outputResistance: 75,
      offset: 2e-3,
      biasCurrent: 5e-8,
      biasOffset: 1e-8,
    }
    const c = stage(values, 5, drive(0.1))
    const again = throughNetlist(c)
    const dc = (which: Circuit) => operatingReport(formulate(which), operatingPoint(formulate(which))).nodes.out
    expect(dc(again)).toBeCloseTo(dc(c), 10)
    for (const f of [10, 1e5, 1e7]) {
      const [a, b] = [response(c, f), response(again, f)]
      expect(Math.hypot(a.re - b.re, a.im - b.im)).toBeLessThan(1e-10 * a.size)
    }
  })

  test('limits the wrong way round are refused', () => {
    expect(() => formulate(stage({ outputHigh: -1, outputLow: 1 }, 2))).toThrow('not above the lowest')
    expect(() => formulate(stage({ slewRate: 1e6 }, 2))).toThrow('no gain-bandwidth product')
  })

  test('a comparator with hysteresis and an integrator against its limit find their points', () => {
    const trigger = circuit(
      [drive(-2), 'in', '0'],
      [amplifier(MODEL), 'p', 'in', 'out'],
      [resistor('R1', 1e3), 'p', '0'],
      [resistor('R2', 9e3), 'out', 'p'],
    )
    expect(operatingReport(formulate(trigger), operatingPoint(formulate(trigger))).nodes.out).toBeCloseTo(13, 1)
    const integrator = circuit(
      [drive(1), 'in', '0'],
      [amplifier(MODEL), '0', 'x', 'out'],
      [resistor('R1', 1e4), 'in', 'x'],
      [part('C1', 'capacitor', { capacitance: 1e-9 }), 'out', 'x'],
    )
    expect(operatingReport(formulate(integrator), operatingPoint(formulate(integrator))).nodes.out).toBeCloseTo(-12, 1)
  })
})

test('flicker noise crosses the white noise of a junction at its corner', () => {
  // 2q·I = kf·I/f: f = kf/2q.
  const { circuit: c } = readNetlist('t\nI1 0 out DC 1m AC 1\nD1 out 0 d\n.model d d (IS=1e-14 KF=1e-15 AF=1)\n')
  const noise = new NoiseAnalysis(smallSignal(formulate(c)), { input: 'I1', range: [1, 1e9] })
  const corner = 1e-15 / (2 * 1.602176634e-19)
  expect(noise.at(corner).output / noise.at(1e9).output).toBeCloseTo(2, 4)
})
