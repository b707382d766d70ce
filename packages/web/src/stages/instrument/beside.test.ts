import {
  designOfCircuit,
  type Diagram,
  type KeptCurves,
  type LargeSignalPoint,
  layoutOf,
  guessColumns,
  readMeasured,
  readNetlist,
  writeCsv,
} from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { readCurve } from '../../engine/curves'
import { comparedCurves, keptOfMeasured, samplesOf } from '../../engine/kept'
import { computed } from '../../testing/computed'
import { captioned, noteHandles, noteOf } from './captioned'
import { largeSignalCurve, partings, partingText } from './largeSignal'
import { besideLook, type Computed } from './Over'
import { overFrequency } from './overFrequency'
import { overTime } from './overTime'
import { portSignals } from './portSignals'
import { runCurves } from './runCurves'
import { unscaled } from './scales'
import { columnsOf, csvOf, jsonOf, rowsOf } from './table'

const RC = ['V1 in 0 AC 1 PULSE(0 1)', 'R1 in out 1k', 'C1 out 0 100n']
const CUTOFF = 1 / (2 * Math.PI * 1e-4)

function known(lines: readonly string[], compared: Computed['compared'] = [], diagrams?: Diagram[]): Computed {
  const design = { ...designOfCircuit(readNetlist(['t', ...lines].join('\n')).circuit), ...(diagrams && { diagrams }) }
  const { answers } = computed(design)
  return {
    ...answers,
    verdicts: [],
    spec: null,
    output: 'v(out)',
    range: answers.frequency!.range,
    window: answers.time!.window,
    compared,
  }
}
const magnitude: Diagram = { over: 'frequency', view: 'db', signals: ['v(out)'] }
const phase: Diagram = { over: 'frequency', view: 'phase', signals: ['v(out)'] }
const course: Diagram = { over: 'time', view: 'value', signals: ['v(out)'] }

/** |H| of the RC in dB and its phase, with 1 dB and 360° more: what a bench could have shown. */
const bench = comparedCurves({ id: 'b', kind: 'data', name: 'bench' }, {
  kind: 'data',
  name: 'bench',
  curves: [
    (() => {
      const x = Float64Array.from({ length: 21 }, (_, k) => 100 * 10 ** (k / 10))
      return {
        signal: 'v(out)',
        over: 'frequency' as const,
        unit: '',
        numbers: {
          x,
          db: x.map((f) => 1 - 10 * Math.log10(1 + (f / CUTOFF) ** 2)),
          phase: x.map((f) => 360 - (Math.atan(f / CUTOFF) * 180) / Math.PI),
        },
      }
    })(),
  ],
} satisfies KeptCurves)

describe('a pinned run', () => {
  const before = known(RC)
  const kept: KeptCurves = { kind: 'run', name: 'first', curves: runCurves(before) }
  const pinned = comparedCurves({ id: 'p', kind: 'run', name: 'first' }, kept)

  test('is drawn as it was, beside the curve of a circuit that has changed', () => {
    const after = known(['V1 in 0 AC 1 PULSE(0 1)', 'R1 in out 2k', 'C1 out 0 100n'], [pinned])
    const { curves } = overFrequency.plot(magnitude, after)
    expect(curves.map((c) => c.label)).toEqual(['circuit', 'first'])
    expect(curves[1]!.y).toBe(before.frequency!.curves[0]!.db)
    expect(overTime.plot(course, after).curves.map((c) => c.label)).toEqual(['circuit', 'first'])
    // Half the cutoff: far above it lies 6.02 dB lower.
    const difference = overFrequency.plot({ ...magnitude, difference: true }, after)
    expect(difference.curves.map((c) => c.label)).toEqual(['first'])
    expect(difference.curves[0]!.y.findLast((v) => Number.isFinite(v))).toBeCloseTo(-20 * Math.log10(2), 1)
    expect(difference.y.title).toContain('difference')
    expect(difference.marks).toEqual([])
    const late = overTime.plot({ ...course, difference: true }, after).curves[0]!
    // 1 − e^(−t/2τ) less 1 − e^(−t/τ) at t = τ·2·ln 2 is ¼ less.
    const at = late.x.findIndex((t) => t >= 2e-4 * Math.LN2)
    expect(late.y[at]).toBeCloseTo(-0.25, 2)
  })

  test('has nothing in it that is not on the screen, and comes back whole', () => {
    expect(kept.curves.map((c) => [c.signal, c.over])).toEqual([
      ['v(out)', 'frequency'],
      ['v(out)', 'time'],
    ])
    expect(pinned.frequency[0]).toMatchObject({ signal: 'v(out)', unit: 'V' })
    expect(samplesOf(kept.curves[0]!)).toMatchObject({ over: 'frequency' })
  })
})

describe('measured data', () => {
  const subject = known(RC, [bench])

  test('are points of their own, whole turns of phase brought near to the circuit’s', () => {
    const [, drawn] = overFrequency.plot(magnitude, subject).curves
    expect(drawn).toMatchObject({ label: 'bench', marker: 'ring' })
    const own = subject.frequency!.curves[0]!
    const [, turned] = overFrequency.plot(phase, subject).curves
    turned!.x.forEach((f, k) => expect(turned!.y[k]).toBeCloseTo(readCurve(own, f).phase, 1))
  })

  test('have measures, to be put beside the circuit’s', () => {
    expect(bench.measures['ac.peakDb']).toBeCloseTo(1, 1)
    expect(bench.measures['ac.cutoffs[0]']! / CUTOFF).toBeCloseTo(1, 1)
  })

  test('their difference is what they are off by', () => {
    const { curves } = overFrequency.plot({ ...magnitude, difference: true }, subject)
    curves[0]!.y.forEach((v) => expect(v).toBeCloseTo(-1, 1))
    const turned = overFrequency.plot({ ...phase, difference: true }, subject).curves[0]!
    turned.y.forEach((v) => expect(Math.abs(v)).toBeLessThan(0.2))
  })

  test('a level alone is drawn by its size where values are, and has no angle', () => {
    const level = comparedCurves(
      { id: 'l', kind: 'data', name: 'level' },
      {
        kind: 'data',
        name: 'level',
        curves: [
          {
            signal: 'v(out)',
            over: 'frequency',
            unit: '',
            numbers: { x: Float64Array.of(100, 1e3), db: Float64Array.of(0, -20) },
          },
        ],
      },
    )
    const { curves } = overFrequency.plot({ ...magnitude, view: 'value' }, known(RC, [level]))
    expect([...curves[1]!.y]).toEqual([1, 0.1])
    expect(level.frequency[0]!.re.every((v) => Number.isNaN(v))).toBe(true)
  })

  test('several are told apart by more than their colour', () => {
    expect([0, 1, 2].map((k) => besideLook('data', k).marker)).toEqual(['ring', 'box', 'cross'])
    expect(new Set([0, 1, 2, 3].map((k) => String(besideLook('run', k).dash))).size).toBe(4)
  })
})

describe('a diagram as a table', () => {
  const subject = known(RC, [bench])
  const table = (diagram: Diagram, form: 'db' | 'complex' = 'db') =>
    columnsOf(diagram, overFrequency.plot(diagram, subject), subject, form)

  test('in dB and degrees, what has points of its own with their frequencies, shorter columns ending earlier', () => {
    const columns = table(magnitude)
    expect(Object.keys(columns)).toEqual([
      'frequency (Hz)',
      'circuit (dB)',
      'circuit (deg)',
      'frequency of bench (Hz)',
      'bench (dB)',
      'bench (deg)',
    ])
    expect(columns['bench (dB)']![0]).toBe(bench.frequency[0]!.db[0])
    const lines = csvOf(columns).trimEnd().split('\n')
    expect(lines.at(-1)!.endsWith(',,,')).toBe(true)
    expect(rowsOf(columns).split('\n')[1]!.split('\t')).toHaveLength(6)
    expect(
      (JSON.parse(jsonOf(magnitude, columns)) as { columns: Record<string, (number | null)[]> }).columns[
        'bench (dB)'
      ]!.at(-1),
    ).toBeNull()
  })

  test('reads back to the very same numbers', () => {
    const { curves } = subject.frequency!
    const columns = table({ ...magnitude }, 'complex')
    const text = writeCsv({
      frequency: columns['frequency (Hz)']!,
      re: columns['circuit re (V)']!,
      im: columns['circuit im (V)']!,
    })
    const layout = layoutOf(text)
    const read = readMeasured(text, { layout, columns: guessColumns(layout) }).curves[0]!
    const { numbers } = keptOfMeasured(read, 'v(out)')
    expect(numbers.x).toEqual(curves[0]!.frequency)
    expect(numbers.re).toEqual(curves[0]!.re)
    expect(numbers.im).toEqual(curves[0]!.im)
  })

  test('over time, and as it is drawn where the curves are no signal’s own', () => {
    expect(Object.keys(columnsOf(course, overTime.plot(course, subject), subject, 'db'))).toEqual([
      'time (s)',
      'circuit (Voltage, V)',
    ])
    const difference: Diagram = { ...magnitude, difference: true }
    expect(Object.keys(table(difference))).toEqual(['Frequency, Hz', 'bench (Magnitude, dB, difference)'])
    expect(writeCsv({ 'v(a,b) (dB)': [1] })).toBe('"v(a,b) (dB)"\n1\n')
  })
})

describe('large signal over small', () => {
  const subject = known(RC)
  const own = subject.frequency!.curves[0]!
  /** The small signal's own points, with something added from a frequency on. */
  const points = (db: (f: number) => number, degrees: (f: number) => number): LargeSignalPoint[] =>
    [100, 200, 400, 800, 1600, 3200, 6400].map((frequency) => {
      const { db: level, phase: turned } = readCurve(own, frequency)
      return {
        frequency,
        gain: 10 ** ((level + db(frequency)) / 20),
        phase: turned + degrees(frequency),
        distortionPercent: 1,
        settled: true,
      }
    })
  const large = (of: LargeSignalPoint[]) => ({ amplitude: 0.3, unit: 'V', points: of })

  test('where they part by 1 dB and 5° is found between the points, and said', () => {
    // −2 dB from 800 Hz on, nothing at 400 Hz: half way along log f, at 400·√2 Hz, it is 1 dB.
    const found = partings(
      large(
        points(
          (f) => (f >= 800 ? -2 : 0),
          (f) => (f >= 6400 ? 10 : 0),
        ),
      ),
      own,
    )
    expect(found.map((p) => p.in)).toEqual(['db', 'phase'])
    expect(found[0]!.from).toBeCloseTo(400 * Math.SQRT2, 3)
    expect(found[0]!.to).toBe(6400)
    expect(found[0]!.by).toBeCloseTo(-2, 6)
    expect(found[1]!.from).toBeCloseTo(3200 * Math.SQRT2, 3)
    expect(partingText(found[0]!)).toMatch(
      /^The gain parts by more than 1 dB from 565\.7\sHz to 6\.400\skHz, at most −2\.00\sdB/,
    )
    expect(
      partings(
        large(
          points(
            () => 0.9,
            () => -4.9,
          ),
        ),
        own,
      ),
    ).toEqual([])
  })

  test('it is drawn over the curve, a turn of phase brought near, and marked', () => {
    const turned = large(
      points(
        (f) => (f >= 800 ? -2 : 0),
        () => 360,
      ),
    )
    expect(largeSignalCurve(turned, own).phase[0]).toBeCloseTo(readCurve(own, 100).phase, 9)
    const { curves, marks } = overFrequency.plot(magnitude, { ...subject, largeSignal: turned })
    expect(curves[1]).toMatchObject({
      label: expect.stringMatching(/^at 300 ?mV|^at 300\smV/) as string,
      marker: 'cross',
    })
    expect(marks.flatMap((m) => (m.kind === 'text' ? [m.text] : []))).toContainEqual(
      expect.stringMatching(/^parts by −2\.00\sdB/),
    )
  })
})

describe('words on a diagram', () => {
  const subject = known(RC)
  const diagram: Diagram = {
    ...magnitude,
    angular: true,
    title: 'T',
    legend: true,
    labels: { x: 'omega' },
    notes: [{ text: 'here', at: [1000, -3] }],
  }

  test('title, legend, labels and notes stand where they were put, in what the axis is read in', () => {
    const scales = overFrequency.scales(diagram, subject)
    const plot = captioned(overFrequency.plot(diagram, subject), diagram, scales)
    expect([plot.title, plot.legend, plot.x.title, plot.y.title]).toEqual(['T', true, 'omega', 'Magnitude, dB'])
    expect(plot.marks).toContainEqual({ kind: 'note', at: [2000 * Math.PI, -3], text: 'here' })
    const [handle] = noteHandles(diagram, scales)
    expect(handle).toMatchObject({ axis: 'both', at: 2000 * Math.PI, y: -3 })
    expect([noteOf(handle!.id), noteOf('a')]).toEqual([0, null])
  })

  test('a diagram without them is left as it is', () => {
    const plot = overFrequency.plot(magnitude, subject)
    expect(captioned(plot, magnitude, { x: unscaled })).toBe(plot)
  })
})

describe('ports and reflections', () => {
  const ladder = ['V1 in 0 AC 1', 'RS in a 50', 'L1 a out 1u', 'RL out 0 75']
  const circuitOf = (lines: readonly string[]) => readNetlist(['t', ...lines].join('\n')).circuit

  test('are found at the source’s resistor and the load’s', () => {
    expect(portSignals(circuitOf(ladder), 'v1').s21).toBe('s21(RS,RL)')
    expect(portSignals(circuitOf(['V1 in 0 AC 1', 'RS in a 50', 'C1 a 0 1n']), 'V1')).toEqual({ s11: 's11(RS)' })
    expect(portSignals(circuitOf(['V1 in 0 AC 1', 'C1 in a 1n', 'R1 a 0 50']), 'V1')).toEqual({})
    expect(portSignals(null, 'V1')).toEqual({})
  })

  test('stand in a Smith chart: a resistor of 75 Ω behind 50 Ω is a reflection of 0.2 where the coil does nothing', () => {
    const diagram: Diagram = { over: 'frequency', view: 'smith', signals: ['s11(RS,RL)'] }
    const subject = known(ladder, [], [diagram])
    const { curves, square, marks } = overFrequency.plot(diagram, subject)
    const drawn = curves.find((c) => c.label === 's11(RS,RL)')!
    expect(square).toBe(true)
    expect([drawn.x[0], drawn.y[0]]).toEqual([expect.closeTo(0.2, 2), expect.closeTo(0, 1)])
    // |Γ| never leaves the chart, and the circles are inside it.
    for (const { x, y } of curves) x.forEach((re, k) => expect(Math.hypot(re, y[k]!)).toBeLessThan(1 + 1e-9))
    const nothing = overFrequency.plot({ ...diagram, signals: ['v(out)'] }, subject)
    expect(marks.some((m) => m.kind === 'text' && m.text.startsWith('Draw s11'))).toBe(false)
    expect(nothing.marks.some((m) => m.kind === 'text' && m.text.startsWith('Draw s11'))).toBe(true)
  })
})
