import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { formulate } from '../analysis/mna.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { logarithmicGrid } from '../analysis/sweeps.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { gaussian } from '../numeric/random.js'
import { refusalOf } from '../testing/refusals.js'
import { deviationFrom } from './deviation.js'
import { fit, fitting, type FitOptions } from './fit.js'
import type { Samples } from './Samples.js'

const read = (...lines: string[]) => readNetlist(['test', ...lines, ''].join('\n')).circuit

interface Reference {
  readonly names: readonly string[]
  readonly start: readonly number[]
  readonly values: readonly number[]
  readonly half: readonly number[]
  readonly correlation: readonly (readonly number[])[]
  readonly rms: number
}
// scipy.optimize.least_squares on responses by chain matrices; see fixtures/make_fits.py.
const references = JSON.parse(readFileSync(new URL('./fixtures/fits.json', import.meta.url), 'utf8')) as Record<
  string,
  Reference & Record<string, number[]>
>

const array = (values: number[]) => Float64Array.from(values)

/** The samples of a circuit itself. */
function samplesOf(netlist: readonly string[], x: Float64Array, output = 'out', noise = 0): Samples {
  const mna = smallSignal(formulate(read(...netlist)))
  const { re, im } = new AcAnalysis(mna, { output }).sweep(x)
  const add = (v: number, k: number) => v + noise * gaussian(7, k)
  return { over: 'frequency', x, re: re.map(add), im: im.map((v, k) => add(v, k + x.length)) }
}

const levels = ({ x, re, im }: Samples & { re: Float64Array; im: Float64Array }): Samples => ({
  over: 'frequency',
  x,
  db: re.map((v, k) => 20 * Math.log10(Math.hypot(v, im[k]))),
  phase: re.map((v, k) => (180 / Math.PI) * Math.atan2(im[k], v)),
})

describe('values, intervals and correlation agree with a reference library', () => {
  const [l1, c1, c2] = references.complex.start
  const ladder = read('V1 in 0 AC 1', 'R1 in a 100', `L1 a b ${l1}`, `C1 b 0 ${c1}`, 'R2 b out 150', `C2 out 0 ${c2}`)
  const pair = read(
    'V1 in 0 PULSE(0 1 0 0 0)',
    'R1 in a 1k',
    `C1 a 0 ${references.course.start[0]}`,
    'R2 a out 10k',
    `C2 out 0 ${references.course.start[1]}`,
  )
  const { complex, levels: both, course } = references
  // The reference ends where its sum no longer falls, which is half of the digits of the values.
  const cases: [string, Reference, Samples, typeof ladder, number][] = [
    [
      'complex',
      complex,
      { over: 'frequency', x: array(complex.frequency), re: array(complex.re), im: array(complex.im) },
      ladder,
      1e-6,
    ],
    [
      'levels and phases',
      both,
      { over: 'frequency', x: array(both.frequency), db: array(both.db), phase: array(both.phase) },
      ladder,
      1e-6,
    ],
    // Slopes over time are differences of a run with its own tolerance.
    ['course in time', course, { over: 'time', x: array(course.time), value: array(course.value) }, pair, 1e-4],
  ]
  test.each(cases)('%s', (_, reference, samples, circuit, tolerance) => {
    const found = fit(circuit, samples, { vary: reference.names, output: 'out' })
    found.values.forEach(({ name, value, confidence95 }, k) => {
      expect(name).toBe(reference.names[k])
      expect(Math.abs(value - reference.values[k])).toBeLessThan(tolerance * reference.half[k])
      const half = (confidence95![1] - confidence95![0]) / 2
      // The reference's own slopes are differences, too.
      expect(Math.abs(half / reference.half[k] - 1)).toBeLessThan(10 * tolerance)
      expect((confidence95![0] + confidence95![1]) / 2 / value - 1).toBeCloseTo(0, 12)
      reference.correlation[k].forEach((c, j) =>
        expect(found.correlation[k][j]).toBeCloseTo(c, tolerance < 1e-5 ? 6 : 3),
      )
    })
    expect(found.rms / reference.rms - 1).toBeCloseTo(0, tolerance < 1e-5 ? 9 : 5)
    expect(found.samples).toBe(samples.x.length)
  })
})

describe('a circuit finds its own values again', () => {
  const x = logarithmicGrid(100, 1e6, 20)
  const cases: [string, string[], string, string[], Record<string, number>][] = [
    ['a voltage', ['V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 100n'], 'out', ['C1'], { C1: 68e-9 }],
    ['a current', ['V1 in 0 AC 1', 'R1 in a 50', 'L1 a b 1m', 'C1 b 0 10n'], 'i(R1)', ['R1', 'L1', 'C1'], { R1: 70, L1: 1.4e-3, C1: 8e-9 }],
    ['an impedance', ['V1 in 0 AC 1', 'R1 in 0 2k', 'L1 in 0 1m', 'C1 in 0 10n'], 'z(V1)', ['R1', 'L1', 'C1'], { R1: 3e3, L1: 0.8e-3, C1: 14e-9 }],
    ['a quotient', ['V1 in 0 AC 1', 'R1 in a 1k', 'C1 a 0 10n', 'R2 a out 2k', 'C2 out 0 4n'], 'v(out)/v(a)', ['R2'], { R2: 3e3 }],
    ['a difference', ['V1 in 0 AC 1', 'R1 in a 1k', 'C1 a 0 10n', 'C2 in b 10n', 'R2 b 0 1k'], 'a-b', ['R1', 'C2'], { R1: 1.5e3, C2: 7e-9 }],
    ['a negative gain', ['V1 in 0 AC 1', 'E1 a 0 in 0 -2', 'R1 a out 1k', 'C1 out 0 10n'], 'out', ['E1', 'C1'], { E1: -5, C1: 12e-9 }],
    ['coupled coils', ['V1 in 0 AC 1', 'R1 in a 50', 'L1 a 0 1m', 'L2 out 0 2m', 'K1 L1 L2 0.5', 'R2 out 0 200'], 'out', ['K1', 'R2'], { K1: 0.8, R2: 120 }],
    ['a parameter', ['.param tau=1u', 'V1 in 0 AC 1', 'R1 in out {tau/1n}', 'C1 out 0 1n', 'R2 out 0 10k'], 'out', ['tau'], { tau: 1.7e-6 }],
    ['inside a block', ['.subckt rc a b', 'R1 a b 1k', 'C1 b 0 10n', '.ends', 'V1 in 0 AC 1', 'X1 in out rc'], 'out', ['X1.C1'], { 'X1.C1': 4e-9 }],
    ['an amplifier with a transistor', ['V1 in 0 DC 0.7 AC 1', 'R1 in b 1k', 'Q1 c b 0 m', 'RC s c 1k', 'VS s 0 5', 'C1 c 0 1n', '.model m NPN (BF=100 IS=1e-16)'], 'c', ['RC', 'C1'], { RC: 1.3e3, C1: 2e-9 }],
    ['a value that is zero in the circuit', ['V1 in 0 AC 1', 'L1 in a 1m', 'L2 out 0 1m', 'K1 L1 L2 0', 'R1 a 0 100', 'R2 out 0 100'], 'out', ['K1'], { K1: 0.3 }],
  ] // prettier-ignore
  const changed = (lines: string[], values: Record<string, number>) =>
    lines.map((line) => {
      const name = Object.keys(values).find((n) => {
        const own = n.includes('.') ? n.split('.')[1] : n
        return line.startsWith(`${own} `) || line.startsWith(`.param ${own}=`)
      })
      if (!name) return line
      return line.startsWith('.param')
        ? line.replace(/=.*/, `=${values[name]}`)
        : line.replace(/\S+$/, String(values[name]))
    })
  test.each(cases)('%s', (_, lines, output, vary, truth) => {
    const samples = samplesOf(changed(lines, truth), x, output) as Samples & { re: Float64Array; im: Float64Array }
    for (const given of [
      samples,
      ...(output === 'out' && !vary.some((v) => read(...lines).parts.some((p) => p.id === v && p.values.coupling === 0))
        ? [levels(samples)]
        : []),
    ]) {
      const found = fit(read(...lines), given, { vary, output })
      for (const { name, value } of found.values) expect(value / truth[name] - 1).toBeCloseTo(0, 9)
      expect(found.rms).toBeLessThan(1e-6)
    }
  })

  test('a power, in its 10 dB a decade', () => {
    const lines = ['V1 in 0 AC 1', 'R1 in a 50', 'C1 a 0 10n']
    const mna = formulate(read(...changed(lines, { C1: 20e-9 })))
    const { re, im } = new AcAnalysis(mna, { output: 'p(R1)' }).sweep(x)
    const db = re.map((v, k) => 10 * Math.log10(Math.hypot(v, im[k])))
    const [{ value }] = fit(read(...lines), { over: 'frequency', x, db }, { vary: ['C1'], output: 'p(R1)' }).values
    expect(value / 20e-9 - 1).toBeCloseTo(0, 9)
  })

  test('a sharp resonance from values that are far off', () => {
    const lines = ['V1 in 0 AC 1', 'R1 in out 100k', 'L1 out 0 1m', 'C1 out 0 10n']
    const truth = { L1: 0.35e-3, C1: 4.1e-9 }
    const fine = logarithmicGrid(1e3, 1e6, 100)
    const found = fit(read(...lines), samplesOf(changed(lines, truth), fine), { vary: ['L1', 'C1'], output: 'out' })
    for (const { name, value } of found.values) expect(value / truth[name as 'L1'] - 1).toBeCloseTo(0, 8)
  })

  test('a part of one ohm, whose conductance is a whole number', () => {
    const lines = ['V1 in 0 AC 1', 'R1 in out 1', 'C1 out 0 1']
    const slow = logarithmicGrid(0.01, 10, 50)
    const found = fit(read(...lines), samplesOf(changed(lines, { R1: 1.3 }), slow), { vary: ['R1'], output: 'out' })
    expect(found.values[0].value).toBeCloseTo(1.3, 9)
  })
})

describe('bounds', () => {
  const lines = ['V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 10n']
  const x = logarithmicGrid(1e3, 1e6, 20)
  const samples = samplesOf(['V1 in 0 AC 1', 'R1 in out 2k', 'C1 out 0 10n'], x)
  const options = (bounds: FitOptions['bounds']): FitOptions => ({ vary: ['R1'], output: 'out', bounds })

  test('hold a value that would leave them, and say so', () => {
    const [r1] = fit(read(...lines), samples, options({ r1: [500, 1500] })).values
    expect(r1.value).toBeCloseTo(1500, 9)
    expect(r1.atBound).toBe(true)
  })

  test('that hold the value do nothing', () => {
    const [r1] = fit(read(...lines), samples, options({ R1: [-1e6, 1e6] })).values
    expect(r1.value).toBeCloseTo(2e3, 6)
    expect(r1.atBound).toBe(false)
  })

  test('that make no sense are refused', () => {
    expect(refusalOf(() => fit(read(...lines), samples, options({ R1: [2e3, 1e3] })))).toContain('are empty')
    expect(refusalOf(() => fit(read(...lines), samples, options({ R1: [-2, -1] })))).toContain('no value of that sign')
    expect(refusalOf(() => fit(read(...lines), samples, options({ R7: [1, 2] })))).toContain('which is not varied')
  })
})

describe('what cannot be found is said', () => {
  const x = logarithmicGrid(1e3, 1e6, 10)
  const lines = ['V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 10n', 'R9 in 0 50']

  test('values of which only the product counts', () => {
    const message = refusalOf(() => fit(read(...lines), samplesOf(lines, x), { vary: ['R1', 'C1'], output: 'out' }))
    expect(message).toMatch(
      /^FIT_UNDETERMINED: What was measured does not tell R1, C1 apart: R1 [+−]1 % with C1 [+−]1 % changes nothing/,
    )
  })

  test('a value without influence', () => {
    expect(refusalOf(() => fit(read(...lines), samplesOf(lines, x), { vary: ['R9', 'C1'], output: 'out' }))).toContain(
      'R9 has no influence on what was measured',
    )
  })

  test('more values than were measured', () => {
    const one: Samples = { over: 'frequency', x: Float64Array.of(1e4), db: Float64Array.of(-3) }
    expect(refusalOf(() => fit(read(...lines), one, { vary: ['R1', 'C1'], output: 'out' }))).toContain(
      '1 number was measured',
    )
  })

  test('as many values as numbers have no interval', () => {
    const one: Samples = { over: 'frequency', x: Float64Array.of(1e4), db: Float64Array.of(-3) }
    const found = fit(read(...lines), one, { vary: ['C1'], output: 'out' })
    // |H|² = 1/(1 + (ωRC)²) = 10^(−0.3)
    expect(found.values[0].value * 2e4 * Math.PI * 1e3).toBeCloseTo(Math.sqrt(10 ** 0.3 - 1), 9)
    expect(found.values[0].confidence95).toBeNull()
  })

  test.each([
    ['R7', 'There is no part or parameter "R7"'],
    ['R1.colour', 'R1 has no value "colour"'],
  ])('a name that is none: %s', (name, said) => {
    expect(refusalOf(() => fit(read(...lines), samplesOf(lines, x), { vary: [name], output: 'out' }))).toContain(said)
  })

  test('a value that follows a formula, a name given twice, none at all', () => {
    const formula = ['.param r=1k', 'V1 in 0 AC 1', 'R1 in out {2*r}', 'C1 out 0 10n']
    const of = (vary: string[]) =>
      refusalOf(() => fit(read(...formula), samplesOf(formula, x), { vary, output: 'out' }))
    expect(of(['R1'])).toContain('R1 follows the formula')
    expect(of(['C1', 'c1'])).toContain('named twice')
    expect(of([])).toContain('No value is named')
  })

  test('an output that is nothing has no level', () => {
    const dead = [...lines, 'R3 dead 0 1k']
    const db: Samples = { over: 'frequency', x, db: new Float64Array(x.length) }
    expect(refusalOf(() => fit(read(...dead), db, { vary: ['C1'], output: 'dead' }))).toContain(
      'no level to compare with',
    )
  })
})

test('progress is told step by step, and the same beginning gives the same numbers', () => {
  const x = logarithmicGrid(1e3, 1e6, 20)
  const lines = ['V1 in 0 AC 1', 'R1 in out 1k', 'C1 out 0 10n']
  const samples = samplesOf(['V1 in 0 AC 1', 'R1 in out 2k', 'C1 out 0 10n'], x, 'out', 1e-3)
  const run = () => {
    const steps = [...fitting(read(...lines), samples, { vary: ['R1'], output: 'out' })]
    const { values } = fit(read(...lines), samples, { vary: ['R1'], output: 'out' })
    return { steps, value: values[0].value }
  }
  const [first, second] = [run(), run()]
  expect(first).toEqual(second)
  expect(first.steps.length).toBeGreaterThan(2)
  first.steps.forEach((s, k) => k > 0 && expect(s.rms).toBeLessThanOrEqual(first.steps[k - 1].rms * (1 + 1e-12)))
})

describe('how far a circuit is from samples', () => {
  const rc = read('V1 in 0 AC 1 PULSE(0 1)', 'R1 in out 1k', 'C1 out 0 100n')
  const x = logarithmicGrid(10, 1e5, 10)
  // |H|² = 1/(1 + (ωRC)²), phase −atan ωRC.
  const wrc = x.map((f) => 2 * Math.PI * f * 1e-4)
  const db = wrc.map((w) => -10 * Math.log10(1 + w * w))
  const phase = wrc.map((w) => (-Math.atan(w) * 180) / Math.PI)

  test('over frequency: rms and worst of what was added to the closed form, whole turns apart', () => {
    const off = db.map((_, k) => (k % 2 ? 0.3 : -0.1) + (k === 7 ? 1 : 0))
    const measured = {
      over: 'frequency' as const,
      x,
      db: db.map((v, k) => v + off[k]),
      phase: phase.map((v) => v + 358),
    }
    const found = deviationFrom(rc, measured, { output: 'out' })
    expect(found.rms.db).toBeCloseTo(Math.sqrt(off.reduce((s, v) => s + v * v, 0) / off.length), 9)
    expect(found.rms.phase).toBeCloseTo(2, 9)
    expect(found.worst).toEqual({ at: x[7], by: expect.closeTo(-1.3, 9) as number, unit: 'dB' })
    expect(found.samples).toBe(41)
  })

  test('over time, from the begin on', () => {
    const time = Float64Array.from({ length: 101 }, (_, k) => (k - 10) * 1e-5)
    const value = time.map((t) => (t < 0 ? 0 : 1 - Math.exp(-t / 1e-4)) + 0.01)
    const found = deviationFrom(rc, { over: 'time', x: time, value }, { output: 'out' })
    expect(found.rms.value).toBeCloseTo(0.01, 5)
    expect(found.samples).toBe(91)
  })

  test('there is none where nothing can be compared', () => {
    const before = { over: 'time' as const, x: Float64Array.of(-2, -1), value: Float64Array.of(0, 0) }
    expect(refusalOf(() => deviationFrom(rc, before, { output: 'out' }))).toContain('no sample that can be compared')
  })
})

describe('what cannot be told is said by name, and what can be told twice is told twice', () => {
  test('a value that runs away is named, not left blank', () => {
    // Phase alone, far above a resonance that a large resistor makes: nothing holds the resistor at any value.
    const circuit = readNetlist('t\nV1 in 0 AC 1\nR1 in out 10k\nL1 out 0 1m\nC1 out 0 50n\nR2 out 0 100k\n').circuit
    const x = Float64Array.from({ length: 21 }, (_, k) => 6e3 * 1.1 ** k)
    const phase = x.map((f) => (f < 22508 ? 90 : -90))
    const run = () => fit(circuit, { over: 'frequency', x, phase }, { vary: ['R1', 'L1', 'C1'], output: 'out' })
    expect(run).toThrow(/R1|L1|C1/)
    expect(run).not.toThrow(/tell {2}apart|with changes/)
  })

  test('two sections in a chain that may trade places give both solutions', () => {
    const text = (r1: number, r2: number) =>
      `t\nV1 in 0 AC 1\nR1 in a ${r1}\nC1 a 0 1n\nE1 b 0 a 0 1\nR2 b out ${r2}\nC2 out 0 1n\n`
    const x = Float64Array.from({ length: 31 }, (_, k) => 1e3 * 10 ** (k / 10))
    // Two poles at 1/(2πRC) each, by hand.
    const h = x.map(
      (f) => -10 * Math.log10((1 + (2e-9 * Math.PI * f * 1e3) ** 2) * (1 + (2e-9 * Math.PI * f * 5e3) ** 2)),
    )
    const found = fit(
      readNetlist(text(800, 7e3)).circuit,
      { over: 'frequency', x, db: h },
      { vary: ['R1', 'R2'], output: 'out' },
    )
    const values = found.values.map((v) => v.value)
    expect(values.map((v) => Math.round(v))).toEqual([1000, 5000])
    expect(found.alternatives.map((other) => other.map((v) => Math.round(v)))).toEqual([[5000, 1000]])
  })

  test('one that is alone is alone', () => {
    const circuit = readNetlist('t\nV1 in 0 AC 1\nR1 in out 900\nR2 out 0 3k\nC1 out 0 1n\n').circuit
    const x = Float64Array.from({ length: 31 }, (_, k) => 1e3 * 10 ** (k / 10))
    // 1 kΩ and 2 kΩ: level 2/3, corner at 1/(2π·666.7 Ω·1 nF).
    const db = x.map((f) => 20 * Math.log10(2 / 3) - 10 * Math.log10(1 + (2e-9 * Math.PI * f * (2e3 / 3)) ** 2))
    const found = fit(circuit, { over: 'frequency', x, db }, { vary: ['R1', 'R2'], output: 'out' })
    expect(found.values.map((v) => Math.round(v.value))).toEqual([1000, 2000])
    expect(found.alternatives).toEqual([])
  })
})
