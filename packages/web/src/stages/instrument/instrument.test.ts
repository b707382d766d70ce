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
import { extentOf, type Mark, type Plot } from '../../diagram/plot'
import { computed } from '../../testing/computed'
import type { Computed } from './Over'
import { overFrequency } from './overFrequency'
import { overTime } from './overTime'
import { cellsAt, cursorMarks, differences, measuresOf, placeOfSnap, placeWhere, rootsOf } from './reading'
import { scaledPlot, scalesOf } from './scales'

const [MAGNITUDE, PHASE, STEP] = DEFAULT_DIAGRAMS as [Diagram, Diagram, Diagram]

function known(design: Design): Computed {
  const { answers } = computed(design)
  return {
    ...answers,
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

describe('what is in Hz, dB and degrees is read in other units', () => {
  const diagram = (more: object) => ({ over: 'frequency', view: 'db', signals: ['v(out)'], ...more }) as Diagram
  const plot: Plot = {
    x: { title: 'Frequency, Hz', log: true, min: 1, max: 1e3 },
    y: { title: 'Magnitude, dB', min: -60, max: 10 },
    curves: [{ label: 'circuit', x: Float64Array.of(1, 10, 1e3), y: Float64Array.of(-6, -12, -40), color: 0 }],
    marks: [
      { kind: 'point', at: [10, -12] },
      { kind: 'line', from: [10, -Infinity], to: [10, Infinity], ink: 'soft' },
      { kind: 'flag', x: 10, name: 'a' },
    ],
  }

  test('ω = 2π·f, and back', () => {
    const scales = scalesOf(diagram({ angular: true }), 0)
    expect(scales.x(1)).toBeCloseTo(2 * Math.PI, 12)
    expect(scales.backX(scales.x(123))).toBeCloseTo(123, 12)
    const shown = scaledPlot(plot, diagram({ angular: true }), scales)
    expect([shown.x.min, shown.x.max, shown.curves[0]!.x[1]]).toEqual([1, 1e3, 10].map((f) => 2 * Math.PI * f))
    expect(shown.marks[2]).toEqual({ kind: 'flag', x: 20 * Math.PI, name: 'a' })
    expect(shown.curves[0]!.y).toBe(plot.curves[0]!.y)
  })

  test.each([
    // −6 dB is half of the voltage, to 0.2 %; −40 dB a hundredth.
    ['factor', 10 ** (-6 / 20), 0.01],
    ['percent', 100 * 10 ** (-6 / 20), 1],
    ['db-relative', 0, -34],
  ] as const)('%s', (scale, first, last) => {
    const of = diagram({ scale })
    const shown = scaledPlot(plot, of, scalesOf(of, -6))
    expect(shown.curves[0]!.y[0]).toBeCloseTo(first, 12)
    expect(shown.curves[0]!.y[2]).toBeCloseTo(last, 12)
    expect(shown.y.min).toBeLessThanOrEqual(last)
    expect(shown.y.max).toBeGreaterThan(first)
    // What reaches to the ends of the axis still does.
    expect((shown.marks[1] as { to: readonly number[] }).to[1]).toBe(Infinity)
  })

  test('radians of a phase; a delay stays as it is; nothing asked, nothing done', () => {
    expect(scalesOf(diagram({ view: 'phase', radians: true }), 0).y(180)).toBeCloseTo(Math.PI, 12)
    expect(scalesOf(diagram({ view: 'delay', radians: true, scale: 'factor' }), 0).y(1e-3)).toBe(1e-3)
    expect(scaledPlot(plot, diagram({}), scalesOf(diagram({}), 0))).toBe(plot)
  })
})

describe('what is read beside the curves', () => {
  // R = 10 kΩ, C = 10 nF: f₀ = 1/(2π·RC), one pole at −1/(RC).
  const rc = known(designOfCircuit(readNetlist('t\nV1 in 0 AC 1\nR1 in out 10k\nC1 out 0 10n\n').circuit))

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
    expect(placeWhere(rc, 'phase', -45, 1)! / cutoff.value).toBeCloseTo(1, 9)
    expect(placeWhere(rc, 'db', 1, 1)).toBeNull()
    expect(placeOfSnap(rc, 'half-power', 1)! / cutoff.value).toBeCloseTo(1, 9)
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
    const told = differences('frequency', [a, b], (at) => cellsAt('frequency', rc, at))
    expect(told.slice(1, 4)).toEqual(['× 10', '3.322 octaves', '1 decades'])
    const marks = cursorMarks([a], (at) => cellsAt('frequency', rc, at), 'db')
    expect(marks.map((m) => m.kind)).toEqual(['flag', 'point'])
    expect(cursorMarks([a], () => [], 'db').map((m) => m.kind)).toEqual(['flag'])
  })
})
