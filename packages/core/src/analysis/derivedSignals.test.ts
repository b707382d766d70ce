import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { complex } from '../numeric/complex.js'
import { SIGNAL_FUNCTIONS } from '../quantity/signalFunctions.js'
import { exactTransient } from './exactTransient.js'
import { interpolate, uniformTimes } from './interpolate.js'
import { formulate } from './mna.js'
import { sensitivity } from './sensitivity.js'
import { AcAnalysis } from './signalAnalysis.js'
import { bindSignals } from './signals.js'
import { transient } from './transient.js'

const read = (...lines: string[]) => formulate(readNetlist(['test', ...lines, ''].join('\n')).circuit)

// A first-order low-pass: H = 1/(1 + jωRC), RC = 100 µs (common practice, no source).
const RC = 1e-4
const lowpass = read('.param k=3 limit={k*0.5}', 'V1 in 0 AC 1 SIN(0 1 1k)', 'R1 in out 1k', 'C1 out 0 100n')
const at = (output: string, f: number, mna = lowpass) => new AcAnalysis(mna, { output }).at(complex(0, 2 * Math.PI * f))

describe('functions over frequency, against their closed forms', () => {
  const f = 2345
  const x = 2 * Math.PI * f * RC
  test.each<[string, number, number?]>([
    ['db(v(out)/v(in))', -10 * Math.log10(1 + x * x)],
    ['deg(v(out))', (-Math.atan(x) * 180) / Math.PI],
    ['abs(v(out))', 1 / Math.sqrt(1 + x * x)],
    ['re(v(out))', 1 / (1 + x * x)],
    ['im(v(out))', -x / (1 + x * x)],
    ['conj(v(out))', 1 / (1 + x * x), x / (1 + x * x)],
    ['delay(v(out))', RC / (1 + x * x)],
    // d/df of 1/√(1 + x²), where dx/df = 2π·RC
    ['derivative(abs(v(out)))', (-x / (1 + x * x) ** 1.5) * 2 * Math.PI * RC],
    // d/df of −10·log₁₀(1 + x²)
    ['derivative(db(v(out)))', ((-20 / Math.LN10) * x * 2 * Math.PI * RC) / (1 + x * x)],
    ['sqrt(v(out))^2', 1 / (1 + x * x), -x / (1 + x * x)],
    ['exp(ln(v(out)/1V))', 1 / (1 + x * x), -x / (1 + x * x)],
    ['log10(v(in)/v(out))', Math.log10(1 + x * x) / 2, Math.atan(x) / Math.LN10],
    ['v(out)^-2', 1 - x * x, 2 * x],
    [
      '(v(out)/v(in))^(k/2)',
      (1 + x * x) ** -0.75 * Math.cos(1.5 * Math.atan(x)),
      -((1 + x * x) ** -0.75) * Math.sin(1.5 * Math.atan(x)),
    ],
    ['abs(v(out))^2/re(z(V1))', 1 / (1 + x * x) / 1000],
    ['k*v(in)+limit', 4.5],
    ['pi*v(in)', Math.PI],
    // 10·log₁₀ of a power: |i|²·R over 1 W
    ['db(p(R1))', 10 * Math.log10((x * x) / (1 + x * x) / 1000)],
    ['db(v(out))+3', 3 - 10 * Math.log10(1 + x * x)],
  ])('%s', (text, re, im = 0) => {
    const value = at(text, f)
    expect(value.re).toBeCloseTo(re, 11)
    expect(value.im).toBeCloseTo(im, 11)
  })

  test('a delay of a derived curve comes from its own slope', () => {
    const { delay } = new AcAnalysis(lowpass, { output: '(v(out)/v(in))^2' }).sweep(Float64Array.of(f))
    expect(delay[0]).toBeCloseTo((2 * RC) / (1 + x * x), 15)
  })

  test.each([
    ['v(out)/i(R1)', 'Ω'],
    ['i(R1)/v(out)', 'S'],
    ['v(out)^2/z(V1)', 'W'],
    ['sqrt(p(R1)*z(V1))', 'V'],
    ['db(v(out))', 'dB'],
    ['deg(v(out)/v(in))', '°'],
    ['delay(v(out))*v(out)/v(out)', 's'],
    ['i(R1)*1s/v(out)', 'F'],
    ['derivative(v(out))', 'Vs'],
    ['v(out)^2', 'V²'],
    ['v(out)/v(in)', ''],
    ['k*v(out)', 'V'],
  ])('%s is in %s', (text, unit) => {
    expect(bindSignals(lowpass, [text], 'V1').signals[0].unit).toBe(unit)
  })

  test.each([
    ['v(out)+2', 'V and a number do not add: write the number with its unit, as 2V'],
    ['v(out)+i(R1)', 'V and A do not add'],
    ['ln(v(out))', 'ln takes a plain number, not one in V: divide it by 1 V'],
    ['v(out)^v(in)', 'an exponent is a plain number, not in V'],
    ['v(out)^(v(in)/v(out))', 'a quantity in V is raised to a plain number alone'],
    ['mean(v(out))', 'mean has no meaning over frequency'],
    ['db(delay(v(out)))', 'a delay or a derivative can be no part of a function'],
    ['gain*v(out)', 'there is no parameter of that name; there are k, limit'],
  ])('%s is refused: %s', (text, problem) => {
    expect(() => at(text, f)).toThrow(problem)
  })

  test('a bare name in a document is a parameter, and says so of a net', () => {
    const signal = {
      op: '*',
      args: [
        { op: 'number', value: 2 },
        { op: 'name', name: 'out' },
      ],
    } as const
    expect(() => bindSignals(lowpass, [signal])).toThrow('a bare name is a parameter; the net is v(out)')
  })

  test('its sensitivity is that of the value, and there is none of a delay', () => {
    // |H| = 1/√(1 + x²): d ln|H|/d ln R = −x²/(1 + x²), and twice that of the square
    const { components } = sensitivity(lowpass, [f], { output: 'abs(v(out))^2' })
    expect(components.R1!.magnitude[0]).toBeCloseTo((-2 * x * x) / (1 + x * x), 10)
    expect(() => sensitivity(lowpass, [f], { output: 'delay(v(out))' })).toThrow('no sensitivities')
  })
})

describe('functions over time', () => {
  const outputs = ['v(out)', 'derivative(v(out))', '(v(in)-v(out))/100us', 'mean(v(in))', 'abs(v(in))', 'db(v(in)/1V)']

  test('a derivative is what the capacitor says, a running mean the integral over its time', () => {
    const [stop, points] = [3e-3, 3001]
    const exact = exactTransient(lowpass, { stop, points, outputs })!
    const run = transient(lowpass, { stop, outputs, reltol: 1e-6 })
    const time = uniformTimes(stop, points)
    const stepped = outputs.map((_, k) => interpolate(run, k, time))
    const w = 2000 * Math.PI
    for (let k = 100; k < points; k += 100) {
      // The first differences of 1 µs are right to (w·h)² of the amplitude.
      expect(Math.abs(exact[1]![k] - exact[2]![k])).toBeLessThan(w * (w * 1e-6) ** 2 + 1e-6)
      expect(Math.abs(stepped[1]![k] - exact[2]![k])).toBeLessThan(0.02 * w)
      const mean = (1 - Math.cos(w * time[k])) / (w * time[k])
      expect(exact[3]![k]).toBeCloseTo(mean, 5)
      expect(exact[4]![k]).toBeCloseTo(Math.abs(Math.sin(w * time[k])), 9)
    }
  })

  test.each(['deg(v(out))', 'delay(v(out))'])('%s has no meaning there', (text) => {
    expect(() => transient(lowpass, { stop: 1e-3, outputs: [text] })).toThrow('has no meaning over time')
  })
})

test('every function means something over frequency or over time', () => {
  for (const name of Object.keys(SIGNAL_FUNCTIONS)) {
    const tried = [lowpass].flatMap((mna) =>
      ['V1', null].map((input) => {
        try {
          return bindSignals(mna, [`${name}(v(out)/v(in))`], input).signals.length
        } catch {
          return 0
        }
      }),
    )
    expect(Math.max(...tried), name).toBe(1)
  }
})
