import {
  type Cursor,
  DEFAULT_DIAGRAMS,
  type Diagram,
  designOfCircuit,
  designOfSpec,
  askedSpec,
  parseSpec,
  readNetlist,
  type Design,
} from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { extentOf, type Mark } from '../../diagram/plot'
import { computed } from '../../testing/computed'
import type { Computed } from './Over'
import { overFrequency } from './overFrequency'
import { overTime } from './overTime'
import { answerToSine, cellsAt, cursorMarks, differences, idealPlaces, measuresOf, othersAt, shownAt } from './reading'
import { rootsOf } from './roots'
import { asymptotes } from './asymptotes'
import { freeRoots, withRootAt } from './freeRoots'
import { spectraOf } from './timeViews'
import { maskMarks, violations } from '../maskMarks'

const [MAGNITUDE, PHASE, STEP] = DEFAULT_DIAGRAMS as [Diagram, Diagram, Diagram]

function known(design: Design): Computed {
  const { answers } = computed(design)
  return {
    ...answers,
    verdicts: answers.verdicts.verdicts,
    spec: askedSpec(design),
    output: 'v(out)',
    range: answers.ideal?.range ?? answers.frequency!.range,
    window: answers.time?.window ?? 1,
  }
}

const bandpass = designOfSpec(
  'T',
  parseSpec({
    response: 'bandpass',
    approximation: 'elliptic',
    order: 3,
    passband: { edges: [110e3, 150e3], ripple: 0.1 },
    stopband: { attenuation: 60 },
    realization: { family: 'lc-ladder', source: 600, load: 600 },
  }),
  'exact',
)
const texts = (marks: readonly Mark[]) => marks.flatMap((m) => (m.kind === 'text' ? [m.text] : []))

describe('over frequency', () => {
  const subject = known(bandpass)

  test('both cutoffs of a band-pass are marked in every diagram, with their frequencies where the magnitude is', () => {
    const { marks } = overFrequency.plot(MAGNITUDE, subject)
    expect(texts(marks)).toEqual([
      expect.stringMatching(/^cutoff 10\d\.\d\skHz$/),
      expect.stringMatching(/^cutoff 15\d\.\d\skHz$/),
    ])
    expect(marks.filter((m) => m.kind === 'point')).toHaveLength(2)
    const lines = overFrequency.plot(PHASE, subject).marks
    expect(lines.map((m) => m.kind)).toEqual(['line', 'line'])
  })

  test('a ripple that could not be seen has a lens, at the level of the circuit, as dense as it is drawn', () => {
    const { lens, y, curves } = overFrequency.plot(MAGNITUDE, subject)
    const level = 20 * Math.log10(0.5)
    expect(lens!.y[0]).toBeCloseTo(level - 0.2, 6)
    expect(lens!.y[1]).toBeCloseTo(level + 0.1, 6)
    expect([lens!.x[0] < 110e3, lens!.x[1] > 150e3]).toEqual([true, true])
    expect(y.max - y.min).toBeGreaterThan(60)
    for (const { x } of curves) expect(x.filter((f) => f > 110e3 && f < 150e3).length).toBeGreaterThan(20)
    expect(overFrequency.plot({ ...MAGNITUDE, lens: false }, subject).lens).toBeNull()
  })

  test('one that can be seen has none unless it is asked for', () => {
    const wide = known({
      ...bandpass,
      specification: { ...bandpass.specification!, passband: { edges: [110e3, 150e3], ripple: 6 } } as never,
    })
    expect(overFrequency.plot(MAGNITUDE, wide).lens).toBeNull()
    expect(overFrequency.plot({ ...MAGNITUDE, lens: true }, wide).lens).not.toBeNull()
  })

  test('the circuit lies on the ideal response at its level', () => {
    const [ideal, circuit] = overFrequency.plot(MAGNITUDE, subject).curves
    expect([ideal!.label, circuit!.label]).toEqual(['ideal', 'circuit'])
    expect(extentOf(ideal!.y)![1]).toBeCloseTo(extentOf(circuit!.y)![1], 4)
  })

  test('phase is marked in whole steps around it, wrapped between ±180°; a zero has none', () => {
    const { y, curves } = overFrequency.plot(PHASE, subject)
    expect([y.min % 180, y.max % 180]).toEqual([-0, 0])
    const wrapped = overFrequency.plot({ ...PHASE, wrapped: true }, subject)
    expect(
      extentOf(...wrapped.curves.map((c) => c.y))!
        .map(Math.abs)
        .every((d) => d <= 180),
    ).toBe(true)
    // Between one point and the next nothing turns by more than a zero's half turn.
    const own = curves[1]!.y.filter(Number.isFinite)
    own.forEach((p, k) => k > 0 && expect(Math.abs(p - own[k - 1]!)).toBeLessThan(185))
  })

  test('delay beside a zero is passed by, and does not stretch the axis', () => {
    const { y, curves } = overFrequency.plot({ ...PHASE, view: 'delay' }, subject)
    expect(y.max).toBeLessThan(1e-3)
    expect(extentOf(curves[1]!.y)![1]).toBeLessThanOrEqual(30 * y.max)
  })

  test('a linear axis shows the passband and as much again', () => {
    const { x } = overFrequency.plot({ ...MAGNITUDE, linear: true }, subject)
    expect([x.log, x.min]).toEqual([undefined, 0])
    expect(x.max).toBeGreaterThan(300e3)
    expect(x.max).toBeLessThan(1e6)
  })

  test('the read-out is the circuit’s own value', () => {
    expect(overFrequency.readOut(subject, 130e3)).toMatch(/^at 130\.0\skHz: −6\.\d+\sdB/)
    expect(overFrequency.readOut({ ...subject, roots: null, ideal: null }, 130e3)).toMatch(
      /^at 130\.0\skHz: −6\.\d+\sdB/,
    )
    expect(overFrequency.readOut({ ...subject, roots: null, ideal: null, frequency: null }, 1)).toBeNull()
  })

  test('several signals are drawn apart from each other, what cannot be had is told', () => {
    const signals = ['v(out)', 'i(RS)', 'z(V1)', 'v(nowhere)']
    const own = known({ ...bandpass, diagrams: [{ ...MAGNITUDE, signals }] })
    const { curves } = overFrequency.plot({ ...MAGNITUDE, signals }, own)
    expect(curves.map((c) => c.label)).toEqual(['ideal', 'circuit', 'i(RS)', 'z(V1)'])
    expect(new Set(curves.map((c) => `${c.color}${c.dash}`)).size).toBe(4)
    expect(Object.keys(own.frequency!.failures)).toEqual(['v(nowhere)'])
    expect(own.frequency!.curves.map((c) => c.unit)).toEqual(['V', 'A', 'Ω'])
    // One grid suits all.
    expect(new Set(own.frequency!.curves.map((c) => c.frequency)).size).toBe(1)
  })
})

describe('over time', () => {
  test('a step’s measures are marked, and its crests are as high as they are', () => {
    const lowpass = designOfSpec(
      'T',
      parseSpec({
        response: 'lowpass',
        approximation: 'chebyshev',
        order: 5,
        passband: { edges: [1000], ripple: 1 },
        realization: { family: 'lc-ladder', source: 50, load: 50 },
      }),
      'exact',
    )
    const subject = known(lowpass)
    const { marks, curves, y } = overTime.plot(STEP, subject)
    expect(texts(marks).map((t) => t.split(' ')[0])).toEqual(['settled', '50', 'overshoot'])
    const peak = subject.roots!.step.peak!
    for (const { y } of curves) expect(extentOf(y)![1] / peak).toBeGreaterThan(0.9988)
    expect([y.min, y.max > peak]).toEqual([0, true])
    expect(overTime.readOut(subject, 1)).toContain('100.0')
  })

  test('a waveform of a thousand periods has all its crests', () => {
    const design = designOfCircuit(
      readNetlist('t\nV1 in 0 SIN(0 1 1Meg)\nR1 in out 1k\nD1 out 0 D\nC1 out 0 1u\n.model D D').circuit,
    )
    const subject = known(design)
    const [course] = subject.time!.curves
    expect(subject.time!.drive).toBe('waveform')
    const periods = subject.window * 1e6
    expect(course!.time.length).toBeGreaterThan(Math.min(400_000, 40 * periods))
    expect(overTime.figures(subject)).toEqual([])
    expect(overTime.plot(STEP, subject).marks).toEqual([])
  })
})

// R = 10 kΩ, C = 10 nF: f₀ = 1/(2π·RC), one pole at −1/(RC).
const rcDesign = designOfCircuit(readNetlist('t\nV1 in 0 AC 1\nR1 in out 10k\nC1 out 0 10n\n').circuit)
const rc = known(rcDesign)
const F0 = 1e4 / (2 * Math.PI)
const at = (x: Float64Array, y: Float64Array, f: number) => y[x.findIndex((v) => v >= f)]!

describe('what is in Hz, dB and degrees is read in other units', () => {
  test('ω = 2π·f, and back', () => {
    const diagram = { ...MAGNITUDE, angular: true }
    const scales = overFrequency.scales(diagram, rc)
    expect(scales.x(1)).toBeCloseTo(2 * Math.PI, 12)
    expect(scales.backX(scales.x(123))).toBeCloseTo(123, 12)
    const [plain, angular] = [MAGNITUDE, diagram].map((d) => overFrequency.plot(d, rc))
    expect(angular!.x.min / plain!.x.min).toBeCloseTo(2 * Math.PI, 12)
    expect(angular!.curves[0]!.x[7]! / plain!.curves[0]!.x[7]!).toBeCloseTo(2 * Math.PI, 12)
    expect(angular!.curves[0]!.y).toBe(plain!.curves[0]!.y)
    // The cutoff's mark stands at 1/(RC).
    const [line] = angular!.marks as Extract<Mark, { kind: 'line' }>[]
    expect(line!.from[0]).toBeCloseTo(1e4, 6)
  })

  test.each([
    // At f₀ a first-order low-pass is 1/√2.
    ['factor', Math.SQRT1_2],
    ['percent', 100 * Math.SQRT1_2],
    ['db-relative', -10 * Math.log10(2)],
  ] as const)('%s', (scale, wanted) => {
    const { curves, y, marks } = overFrequency.plot({ ...MAGNITUDE, scale }, rc)
    const { x, y: values } = curves[0]!
    expect(at(x, values, F0) / wanted).toBeCloseTo(1, 1)
    expect([y.min <= values.at(-1)!, y.max > values[0]!]).toEqual([true, true])
    // The cutoff's point lies on the curve, what reaches to the ends of the axis still does.
    const point = marks.find((m) => m.kind === 'point') as Extract<Mark, { kind: 'point' }>
    expect(point.at[1] / wanted).toBeCloseTo(1, 9)
    expect((marks[0] as { to: readonly number[] }).to[1]).toBe(Infinity)
  })

  test('radians of a phase; a delay stays as it is', () => {
    expect(overFrequency.scales({ ...PHASE, radians: true }, rc).y(180)).toBeCloseTo(Math.PI, 12)
    expect(overFrequency.scales({ ...PHASE, view: 'delay', radians: true }, rc).y(1e-3)).toBe(1e-3)
    const { y } = overFrequency.plot({ ...PHASE, radians: true }, rc)
    expect([y.title, y.min]).toEqual(['Phase, rad', expect.closeTo(-Math.PI, 12)])
  })
})

describe('quantities in their own units, on two axes', () => {
  // 10 nH and 3 pF between 50 Ω and 50 Ω (common practice, no source).
  const text = 't\nV1 in 0 AC 1\nRS in a 50\nL1 a b 10n\nC1 b c 3p\nR1 c 0 50\n'
  const diagram: Diagram = {
    over: 'frequency',
    view: 'value',
    signals: ['i(R1)', 'p(R1)'],
    right: { view: 'value', signals: ['v(a)/i(R1)'] },
  }
  const resonator = known({ ...designOfCircuit(readNetlist(text).circuit), diagrams: [diagram] })

  test('current and power at the left, impedance at the right', () => {
    const { curves, y, right } = overFrequency.plot(diagram, resonator)
    expect([y.title, right!.title]).toEqual(['Current, A · Power, W', 'Impedance, Ω'])
    expect(curves.map((c) => c.right ?? false)).toEqual([false, false, true])
    expect(new Set(curves.map((c) => `${c.color}${c.dash}`)).size).toBe(3)
    const [current, power, impedance] = curves.map((c) => extentOf(c.y)!)
    expect(current![1]).toBeCloseTo(0.01, 5)
    expect(power![1]).toBeCloseTo(0.005, 5)
    expect(impedance![0]).toBeCloseTo(50, 0)
  })

  test('decades of a quantity, ends that are typed, a range that is typed', () => {
    const log = overFrequency.plot({ ...diagram, scale: 'log', x: [1e8, 1e10], y: [1e-4, 1e-1] }, resonator)
    expect([log.x.min, log.x.max, log.y.min, log.y.max, log.y.log]).toEqual([1e8, 1e10, 1e-4, 1e-1, true])
    expect(overFrequency.plot({ ...diagram, scale: 'log' }, resonator).y.max).toBeGreaterThanOrEqual(0.01)
  })

  test('a cursor on one of them is marked on the axis where that one stands', () => {
    const cursor: Cursor = { name: 'a', over: 'frequency', at: 1e9, on: 'v(a)/i(R1)' }
    expect(shownAt(diagram, resonator, cursor)).toBeUndefined()
    // |Z| of 50 Ω and the reactance at 1 GHz.
    const reactance = 2 * Math.PI * 1e9 * 10e-9 - 1 / (2 * Math.PI * 1e9 * 3e-12)
    expect(shownAt(diagram.right!, resonator, cursor)! / Math.hypot(50, reactance)).toBeCloseTo(1, 2)
    const cells = cellsAt('frequency', resonator, 1e9, { signal: cursor.on })
    expect([cells[0]!.id, cells[0]!.unit]).toEqual(['value', 'Ω'])
    expect(othersAt('frequency', resonator, 1e9, diagram.signals)[0]).toMatch(/^i\(R1\) 9\.\d+\smA/)
  })

  test('a level in dB, and degrees, are drawn as they are', () => {
    const signals = ['db(v(c)/v(in))', 'deg(i(R1))']
    const of = known({ ...designOfCircuit(readNetlist(text).circuit), diagrams: [{ ...diagram, signals }] })
    const { curves } = overFrequency.plot({ ...diagram, view: 'db', signals, right: undefined }, of)
    expect(extentOf(curves[0]!.y)![1]).toBeCloseTo(-20 * Math.log10(2), 2)
    expect(extentOf(curves[1]!.y)!.map((d) => Math.round(d / 10))).toEqual([-9, 9])
  })
})

describe('ways through a plane', () => {
  test('Nyquist’s is a half circle of a first-order low-pass, with frequencies along it', () => {
    const { curves, marks, square } = overFrequency.plot({ ...MAGNITUDE, view: 'nyquist' }, rc)
    const way = curves.find((c) => c.label === 'circuit')!
    expect([square, way.path]).toEqual([true, true])
    // (x − 1/2)² + y² = 1/4
    way.x.forEach((x, k) => expect(Math.hypot(x - 0.5, way.y[k]!)).toBeCloseTo(0.5, 9))
    expect(texts(marks)).toContain('1\u00a0kHz')
  })

  test('Nichols’ goes from 0 dB to −90°, poles and zeros stand where they are', () => {
    const nichols = overFrequency.plot({ ...MAGNITUDE, view: 'nichols' }, rc)
    expect(nichols.curves[0]!.x[0]).toBeGreaterThan(-5)
    const { marks } = overFrequency.plot({ ...MAGNITUDE, view: 'roots', angular: true }, rc)
    expect(marks.find((m) => m.kind === 'pole')).toEqual({ kind: 'pole', at: [expect.closeTo(-1e4, 6), 0] })
  })
})

describe('what is promised, and straight lines', () => {
  test('the mask lies at the circuit’s level; the part of the curve inside of it is marked', () => {
    const subject = known(bandpass)
    const areas = overFrequency.plot(MAGNITUDE, subject).marks.filter((m) => m.kind === 'area')
    expect(areas).toHaveLength(4)
    expect(overFrequency.plot({ ...MAGNITUDE, mask: false }, subject).marks.some((m) => m.kind === 'area')).toBe(false)
    const mask = maskMarks(subject.spec!, subject.ideal!.ideal, subject.range, -6.0206)
    // A curve that is flat at −10 dB misses both the passband and the stop bands.
    const x = Float64Array.from({ length: 500 }, (_, k) => 1e4 * 10 ** (k / 200))
    const runs = violations(
      mask,
      x,
      x.map(() => -10),
    ) as Extract<Mark, { kind: 'run' }>[]
    expect(runs.length).toBeGreaterThanOrEqual(3)
    expect(runs[0]!.ink).toBe('missed')
    // Cut where it comes in and goes out: from −40 dB at 10 Hz down by 10 dB a decade it reaches −48 dB at 10·10^0.8 Hz.
    const part = { kind: 'area', from: [20, -48], to: [1000, Infinity] } as const
    const falling = [Float64Array.of(10, 1000), Float64Array.of(-40, -60)] as const
    const [run, ...others] = violations([part], ...falling) as typeof runs
    expect(others).toEqual([])
    expect([...run!.x]).toEqual([expect.closeTo(20, 9), expect.closeTo(10 * 10 ** 0.8, 3)])
    expect([...run!.y]).toEqual([expect.closeTo(-40 - 10 * Math.log10(2), 9), expect.closeTo(-48, 5)])
    expect(violations([part], Float64Array.of(10, 1000), Float64Array.of(-50, -60))).toEqual([])
  })

  test('what is told to be missed is what the ledger says, and nothing where all is met', () => {
    const active = parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 6,
      passband: { edges: [20e3], ripple: 0.5 },
      stopband: { edges: [60e3], attenuation: 48 },
      realization: { family: 'sallen-key' },
    })
    const told = (values: 'exact' | 'E24') => {
      const bought = known(designOfSpec('T', active, values))
      const { marks } = overFrequency.plot(MAGNITUDE, bought)
      const missed = bought.verdicts!.filter((v) => !v.met && v.decided === 'frequency')
      const said = texts(marks).filter((t) => t.startsWith('misses by'))
      return [missed.length, said.length, marks.filter((m) => m.kind === 'run').length > 0]
    }
    expect(told('exact')).toEqual([0, 0, false])
    expect(told('E24')).toEqual([1, 1, true])
  })

  test('asymptotes bend at the corner: 20 dB a decade beyond it, and 90° from a tenth to ten times it', () => {
    const h = rc.roots!.transfer
    const range = { from: F0 / 1e3, to: F0 * 1e3 }
    const db = asymptotes(h, 'db', range)
    expect(db.map(([f, v]) => [f / F0, v])).toEqual([
      [expect.closeTo(1e-3, 9), expect.closeTo(0, 9)],
      [expect.closeTo(1, 9), expect.closeTo(0, 9)],
      [expect.closeTo(1e3, 6), expect.closeTo(-60, 9)],
    ])
    expect(asymptotes(h, 'phase', range).map(([, v]) => v)).toEqual([0, 0, -90, -90].map((v) => expect.closeTo(v, 9)))
  })
})

describe('courses', () => {
  const clipped = known({
    ...designOfCircuit(readNetlist('t\nV1 in 0 SIN(0 1 1k)\nR1 in out 1k\nR2 out 0 1k\n').circuit),
    diagrams: [{ over: 'time', view: 'spectrum', signals: ['v(out)', 'v(in)'] }],
  })
  test('a sine has one line in its spectrum, and no distortion', () => {
    const [spectrum] = spectraOf({ view: 'spectrum', signals: ['v(out)'] }, clipped)
    expect(spectrum!.spectrum.harmonics[1]!.amplitude).toBeCloseTo(0.5, 5)
    expect(spectrum!.spectrum.distortionPercent).toBeLessThan(1e-3)
    const { curves } = overTime.plot({ over: 'time', view: 'spectrum', signals: ['v(out)', 'v(in)'] }, clipped)
    expect(curves.map((c) => [c.label, c.path])).toEqual([
      ['v(out)', true],
      ['v(in)', true],
    ])
  })
  test('what answers to a sine is read off the waveform where diodes bend it', () => {
    const limited = (study: object) =>
      known({
        ...designOfCircuit(
          readNetlist('t\nV1 in 0 SIN(0 10 1k)\nR1 in out 1k\nD1 out 0 d\nD2 0 out d\n.model d d(is=1e-14)\n').circuit,
        ),
        study,
        diagrams: [{ over: 'time', view: 'value', signals: ['v(out)'] }],
      })
    // Ten volts into two diodes: a square of about 0.7 V, whose fundamental is 4/π of that; the small signals' answer would be 1.
    const said = answerToSine(limited({}))!
    expect(said).toMatch(/^In the last period shown, at 1\.000\skHz: the output's fundamental is 0\.0\d+ times V1/)
    expect(said).toMatch(/distortion \d\d\.\d/)
    const settled = limited({ start: 'settled' })
    expect(settled.time).toMatchObject({ isSettled: true, unsettled: null })
    expect(answerToSine(settled)).toMatch(/^Settled/)
  })
  test('where nothing settles the run from rest says why', () => {
    const integrator = known({
      ...designOfCircuit(
        readNetlist('t\nV1 in 0 SIN(0 1 20k)\nR1 in a 1k\nC1 a out 1n\nE1 out 0 0 a 1e12\nR2 out 0 1k\n').circuit,
      ),
      study: { start: 'settled' },
      diagrams: [{ over: 'time', view: 'value', signals: ['v(out)'] }],
    })
    expect(integrator.time).toMatchObject({ isSettled: false, unsettled: { code: 'NO_SETTLED_STATE' } })
    expect(integrator.time!.curves[0]!.value.length).toBeGreaterThan(10)
  })
  test('one against another: half of the other', () => {
    const { curves, x } = overTime.plot({ over: 'time', view: 'against', signals: ['v(in)', 'v(out)'] }, clipped)
    expect(x.title).toBe('v(in), V')
    curves[0]!.x.forEach((v, k) => expect(curves[0]!.y[k]).toBeCloseTo(v / 2, 9))
  })
})

describe('what is read beside the curves', () => {
  test('its pole, its measures, a value at its corner, places where it has one', () => {
    expect(rootsOf(rc)).toEqual([
      { kind: 'pole', frequency: expect.closeTo(1e4 / (2 * Math.PI), 6), q: null, re: expect.closeTo(-1e4, 6), im: 0 },
    ])
    const cutoff = measuresOf('frequency', rc).find((m) => m.path === 'ac.cutoffs[0]')!
    expect([cutoff.name, cutoff.value]).toEqual(['Cutoff', expect.closeTo(1e4 / (2 * Math.PI), 6)])
    expect(measuresOf('time', rc).find((m) => m.path === 'step.riseTime')!.value).toBeCloseTo(1e-4 * Math.log(9), 12)
    const cells = Object.fromEntries(cellsAt('frequency', rc, cutoff.value).map((c) => [c.id, c.value]))
    expect(cells).toMatchObject({
      db: expect.closeTo(-10 * Math.log10(2), 9),
      phase: expect.closeTo(-45, 9),
      lag: expect.closeTo(1 / 8 / cutoff.value, 12),
      slope: expect.closeTo(-10, 9),
    })
    expect(idealPlaces(rc, { view: 'phase', value: -45 }).map((f) => f / cutoff.value)).toEqual([expect.closeTo(1, 9)])
    expect(idealPlaces(rc, { view: 'db', value: 1 })).toEqual([])
    expect(idealPlaces(rc, { snap: 'half-power', view: 'db' })[0]! / cutoff.value).toBeCloseTo(1, 9)
  })

  test('pairs of an elliptic band-pass once, with their Q; zeros on the axis have none', () => {
    const rows = rootsOf(known(bandpass))
    // Three pairs of poles; zeros on both sides of the band, and one at the origin.
    expect(rows.filter((r) => r.kind === 'pole')).toHaveLength(3)
    for (const { kind, q, re } of rows)
      if (kind === 'pole') expect(q).toBeGreaterThan(1)
      else expect([q, re]).toEqual([null, 0])
    expect(rows.filter((r) => r.kind === 'zero').map((r) => r.frequency > 0)).toEqual([false, true, true])
  })

  test('of two cursors how far they are apart; of a cursor a flag and a point where its curve is', () => {
    const [a, b] = [1e3, 1e4].map((at, k) => ({ name: 'ab'[k]!, over: 'frequency' as const, at })) as [Cursor, Cursor]
    const told = differences('frequency', [a, b], (c) => cellsAt('frequency', rc, c.at))
    expect(told.slice(1, 4)).toEqual(['× 10', '3.322 octaves', '1 decades'])
    const marks = cursorMarks([a], (c) => shownAt(MAGNITUDE, rc, c))
    expect(marks.map((m) => m.kind)).toEqual(['flag', 'point'])
    expect(cursorMarks([a], () => undefined).map((m) => m.kind)).toEqual(['flag'])
  })
})

describe('the roots of a free response', () => {
  const spec = parseSpec({
    response: 'free',
    shape: {
      poles: [
        [-100, 1000],
        [-100, -1000],
        [-500, 0],
      ],
      zeros: [[0, 0]],
    },
  } as never)

  test('move with their twins; a real one stays real, a pole left of the axis', () => {
    const moved = freeRoots(withRootAt(spec, 'poles', 0, [-200, 900]))!
    expect(moved.poles).toEqual([
      [-200, 900],
      [-200, -900],
      [-500, 0],
    ])
    expect(freeRoots(withRootAt(spec, 'poles', 2, [-300, 77]))!.poles[2]).toEqual([-300, 0])
    const [pole] = freeRoots(withRootAt(spec, 'poles', 0, [50, 1000]))!.poles
    expect(pole![0]).toBeLessThan(0)
    expect(freeRoots(withRootAt(spec, 'zeros', 0, [5, 5]))!.zeros).toEqual([[5, 0]])
    expect(freeRoots(askedSpec(bandpass))).toBeNull()
  })
})
