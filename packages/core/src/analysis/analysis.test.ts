import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { groupDelay, magnitudeDb, phase } from '../numeric/transferFunction.js'
import { AcAnalysis } from './signalAnalysis.js'
import { linearGrid, logarithmicGrid, magnitudesDb, phasesDeg } from './sweeps.js'
import { adaptiveSweep } from './adaptiveGrid.js'
import { formulate } from './mna.js'
import { polesAndZeros } from './poles.js'

const circuit = (...lines: string[]) => formulate(readNetlist(['test', ...lines, ''].join('\n')).circuit)
const rc = circuit('V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n')
const at = (ac: AcAnalysis, hz: number) => {
  const { re, im, delay } = ac.sweep(Float64Array.of(hz))
  return { magnitude: Math.hypot(re[0], im[0]), degrees: (Math.atan2(im[0], re[0]) * 180) / Math.PI, delay: delay[0] }
}

describe('AC: facts of the trade (common practice, no source)', () => {
  test('first order: at 1/(2πRC) the loss is 3.01 dB and the phase −45°', () => {
    const cutoff = 1 / (2 * Math.PI * 1e3 * 100e-9)
    expect(cutoff).toBeCloseTo(1591.5, 1)
    const { magnitude, degrees, delay } = at(new AcAnalysis(rc), cutoff)
    expect(magnitude).toBeCloseTo(Math.SQRT1_2, 13)
    expect(degrees).toBeCloseTo(-45, 11)
    // τ/(1 + (ωτ)²) = τ/2 at the cutoff
    expect(delay).toBeCloseTo(50e-6, 16)
  })

  test('180 Ω and 2.2 µF at 500 Hz: gain 0.627, output lags by 51.2°', () => {
    const ac = new AcAnalysis(circuit('V1 in 0 AC 1', 'R1 in out 180', 'C1 out 0 2.2u'))
    const { magnitude, degrees } = at(ac, 500)
    expect(magnitude).toBeCloseTo(0.627, 3)
    expect(degrees).toBeCloseTo(-51.2, 1)
    // The lag as time: 284.5 µs
    expect(((-degrees / 360) * 1e6) / 500).toBeCloseTo(284.5, 0)
  })

  test('series resonance of 10 nH and 3 pF at 918.9 MHz: impedance is the 50 Ω alone, and 10 mA flow', () => {
    const f0 = 1 / (2 * Math.PI * Math.sqrt(10e-9 * 3e-12))
    expect(f0 / 1e6).toBeCloseTo(918.9, 1)
    const lines = ['V1 in 0 AC 1', 'RS in a 50', 'L1 a b 10n', 'C1 b c 3p', 'RB c 0 50']
    const z = at(new AcAnalysis(circuit(...lines), { output: 'z(V1)' }), f0)
    expect(z.magnitude).toBeCloseTo(100, 8)
    const i = at(new AcAnalysis(circuit(...lines), { output: 'i(L1)' }), f0)
    expect(i.magnitude).toBeCloseTo(10e-3, 12)
    expect(i.magnitude ** 2 * 50).toBeCloseTo(5e-3, 12)
    // Below resonance the branch is capacitive, above inductive.
    const below = at(new AcAnalysis(circuit('I1 0 a AC 1', 'L1 a b 10n', 'C1 b 0 3p'), { output: 'z(I1)' }), f0 / 2)
    const above = at(new AcAnalysis(circuit('I1 0 a AC 1', 'L1 a b 10n', 'C1 b 0 3p'), { output: 'z(I1)' }), f0 * 2)
    expect(below.degrees).toBeCloseTo(-90, 9)
    expect(above.degrees).toBeCloseTo(90, 9)
  })

  test('a divider of two 10 kΩ resistors loads an RC like 5 kΩ', () => {
    const ac = new AcAnalysis(circuit('V1 in 0 AC 1', 'R1 in out 10k', 'R2 out 0 10k', 'C1 out 0 10n'))
    expect(at(ac, 1 / (2 * Math.PI * 5e3 * 10e-9)).magnitude).toBeCloseTo(0.5 * Math.SQRT1_2, 13)
  })

  test('only the input drives, whatever AC values stand in the circuit; differences and currents are outputs', () => {
    const mna = circuit('V1 a 0 AC 5 30', 'V2 b 0 AC 7', 'R1 a out 1k', 'R2 out b 1k')
    expect(at(new AcAnalysis(mna), 1).magnitude).toBeCloseTo(0.5, 14)
    expect(at(new AcAnalysis(mna, { input: 'v2' }), 1).magnitude).toBeCloseTo(0.5, 14)
    expect(at(new AcAnalysis(mna, { output: 'a-out' }), 1).magnitude).toBeCloseTo(0.5, 14)
    expect(at(new AcAnalysis(mna, { output: 'i(R1)' }), 1)).toMatchObject({ magnitude: 1 / 2000, degrees: 0 })
    expect(at(new AcAnalysis(mna, { output: 'i(V1)' }), 1).degrees).toBeCloseTo(180, 9)
  })
})

describe('grids', () => {
  test('a logarithmic grid has round(N·decades) + 1 points and exact ends', () => {
    const grid = logarithmicGrid(20, 20e3, 7)
    expect(grid).toHaveLength(22)
    expect([grid[0], grid.at(-1)]).toEqual([20, 20e3])
    expect(Array.from(linearGrid(1, 2, 3))).toEqual([1, 1.5, 2])
  })

  test('the adaptive grid misses no resonance of Q 1000, and straight lines between its points are true', () => {
    // L = 1/(2π·1e4)², C = 1 F scaled; Q = √(L/C)/R
    const w0 = 2 * Math.PI * 12345
    const mna = circuit('V1 in 0 AC 1', `R1 in a ${1e3 / 1000}`, `L1 a out ${1e3 / w0}`, `C1 out 0 ${1 / (1e3 * w0)}`)
    const ac = new AcAnalysis(mna)
    const sweep = adaptiveSweep(ac, 10, 1e6, polesAndZeros(mna).transfer.poles)
    const db = magnitudesDb(sweep)
    expect(Math.max(...db)).toBeCloseTo(60, 2)
    let worst = 0
    for (let k = 0; k + 1 < db.length; k++) {
      for (const part of [0.25, 0.6]) {
        const f = sweep.frequency[k] ** (1 - part) * sweep.frequency[k + 1] ** part
        const exact = 20 * Math.log10(at(ac, f).magnitude)
        worst = Math.max(worst, Math.abs(exact - (db[k] * (1 - part) + db[k + 1] * part)))
      }
    }
    expect(worst).toBeLessThan(0.025)
    expect(db.length).toBeLessThan(600)
    expect(phasesDeg(sweep).at(-1)).toBeCloseTo(-180, 1)
  })
})

describe('poles and zeros', () => {
  test('an RC low-pass has its pole at −1/RC, a high-pass a zero at the origin', () => {
    expect(polesAndZeros(rc).transfer.poles[0].re).toBeCloseTo(-1e4, 8)
    const high = polesAndZeros(circuit('V1 in 0', 'C1 in out 10u', 'R1 out 0 10k')).transfer
    expect(high).toEqual({
      poles: [{ re: expect.closeTo(-10, 11), im: 0 }],
      zeros: [{ re: 0, im: 0 }],
      gain: expect.closeTo(1, 12),
    })
  })

  test('a loop of capacitors holds one state less, with no spurious pole far away', () => {
    // C1, C2, C3 around a loop: two states. Pole of the parallel notch arm between R's by hand: see the AC below.
    const mna = circuit('V1 in 0', 'R1 in a 1', 'C1 a 0 1', 'C2 a out 0.5', 'L2 a out 1', 'C3 out 0 1', 'R2 out 0 1')
    const { transfer } = polesAndZeros(mna)
    expect(transfer.poles).toHaveLength(3)
    expect(transfer.zeros.map((z) => Math.abs(z.im))).toEqual([
      expect.closeTo(Math.SQRT2, 12),
      expect.closeTo(Math.SQRT2, 12),
    ])
    expect(transfer.zeros[0].re).toBeCloseTo(0, 13)
    const ac = new AcAnalysis(mna)
    for (const f of [0.01, 0.1, 0.2, 1]) {
      const point = at(ac, f)
      expect(20 * Math.log10(point.magnitude)).toBeCloseTo(magnitudeDb(transfer, 2 * Math.PI * f), 9)
      expect(Math.cos((point.degrees * Math.PI) / 180)).toBeCloseTo(Math.cos(phase(transfer, 2 * Math.PI * f)), 9)
      expect(point.delay).toBeCloseTo(groupDelay(transfer, 2 * Math.PI * f), 8)
    }
  })

  test('a capacitor across a voltage source and an inductor beside a current source carry no pole', () => {
    expect(
      polesAndZeros(circuit('V1 in 0', 'C9 in 0 1u', 'R1 in out 1k', 'C1 out 0 100n')).transfer.poles,
    ).toHaveLength(1)
    expect(
      polesAndZeros(circuit('I1 0 in', 'L9 in out 1m', 'R1 out 0 1k', 'C1 out 0 100n'), { input: 'I1' }).transfer.poles,
    ).toHaveLength(1)
  })

  test('natural frequencies that cancel in the transfer are hidden', () => {
    // A second RC hangs on the source alone.
    const { transfer, hidden } = polesAndZeros(
      circuit('V1 in 0', 'R1 in out 1k', 'C1 out 0 100n', 'R2 in x 1k', 'C2 x 0 10n'),
    )
    expect(transfer.poles).toHaveLength(1)
    expect(hidden.map((p) => p.re)).toEqual([expect.closeTo(-1e5, 6)])
  })

  test('several zeros at the origin are exactly there', () => {
    const { transfer } = polesAndZeros(
      circuit(
        'V1 in 0',
        'C1 in a 1u',
        'L1 a 0 1m',
        'C2 a b 2u',
        'L2 b 0 3m',
        'C3 b out 1u',
        'R1 out 0 50',
        'R0 a 0 75',
      ),
    )
    expect(transfer.zeros).toEqual(Array.from({ length: 5 }, () => ({ re: 0, im: 0 })))
    expect(transfer.poles).toHaveLength(5)
    expect(transfer.gain).toBeCloseTo(1, 9)
  })

  test('the current of a capacitor and the impedance of a tank', () => {
    const i = polesAndZeros(rc, { output: 'i(C1)' }).transfer
    expect(i.zeros).toEqual([{ re: 0, im: 0 }])
    expect(i.gain).toBeCloseTo(1e-3, 15)
    // Z = s/C / (s² + s/RC + 1/LC)
    const z = polesAndZeros(circuit('I1 0 out', 'L1 out 0 1m', 'C1 out 0 1n', 'R1 out 0 1Meg'), {
      output: 'z(I1)',
    }).transfer
    expect(z.zeros).toEqual([{ re: 0, im: 0 }])
    expect(z.gain).toBeCloseTo(1e9, 0)
    expect(Math.hypot(z.poles[0].re, z.poles[0].im)).toBeCloseTo(1e6, 5)
    expect(z.poles[0].re).toBeCloseTo(-500, 7)
  })

  test.each([
    [['V1 in 0', 'R1 in 0 1', 'C1 out 0 1u', 'R2 out 0 1'], 'no connection|does not depend'],
    [['V1 out 0 1', 'V2 out 0 2', 'R1 out 0 1'], 'cannot be solved|not determined|form a loop'],
    [['V1 in 0', 'C1 in out 1u', 'I1 out 0 1'], 'x'],
  ])('%j', (lines, message) => {
    if (message === 'x') expect(polesAndZeros(circuit(...lines)).transfer.poles).toEqual([])
    else expect(() => polesAndZeros(circuit(...lines))).toThrow(new RegExp(message))
  })
})
