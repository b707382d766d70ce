import {
  courseAt,
  courseMeasures,
  type CourseSpectrum,
  courseSpectrum,
  type Diagram,
  type DiagramAxis,
  formatQuantity,
  type StepMeasures,
} from '@voskel/core'
import type { Axis } from '../../diagram/frame'
import { extentOf, type Mark, type Plot, type PlotCurve } from '../../diagram/plot'
import { roundTop } from '../../diagram/values'
import { roundBounds } from './frequencyViews'
import { besideLook, type Computed, IDEAL, levelOf, signalColor, signalDash, titleOf } from './Over'

/** A way to show courses in time. */
interface TimeView {
  readonly id: Diagram['view']
  /** As in a list of what can be drawn. */
  readonly name: string
  plot(diagram: Diagram, computed: Computed): Plot
}

const courses: TimeView = {
  id: 'value',
  name: 'Course',
  plot(diagram, computed) {
    const curves = curvesOf(diagram, computed)
    const { right, x } = diagram
    const more = right ? curvesOf(right, computed, diagram.signals.length) : []
    return {
      x: { title: 'Time, s', min: x?.[0] ?? computed.begin ?? 0, max: x?.[1] ?? computed.window },
      y: valueAxis(diagram, computed, curves),
      ...(right && { right: valueAxis(right, computed, more) }),
      curves: [...curves, ...more.map((c) => ({ ...c, right: true }))].map((c) =>
        diagram.points ? { ...c, points: true } : c,
      ),
      marks: diagram.difference ? [] : stepMarks(diagram, computed),
    }
  },
}

/** Harmonics of a spectrum, and dB below the highest that are shown. */
export const HARMONICS = 20
const SPECTRUM_DB = 120

const spectrum: TimeView = {
  id: 'spectrum',
  name: 'Spectrum',
  plot(diagram, computed) {
    const spectra = spectraOf(diagram, computed)
    const frequency = spectra[0]?.spectrum.harmonics[1]?.frequency ?? 1
    const [, highest] = extentOf(...spectra.map(({ db }) => db)) ?? [0, 0]
    const min = 20 * Math.floor((highest - SPECTRUM_DB) / 20)
    return {
      x: { title: 'Frequency, Hz', min: 0, max: diagram.x && !spectra.length ? 1 : (HARMONICS + 0.5) * frequency },
      y: ends(diagram, {
        title: 'Amplitude, dB over 1',
        prefixes: false,
        min,
        max: 20 * Math.ceil((highest + 3) / 20),
      }),
      curves: spectra.map(({ signal, db, spectrum: { harmonics } }, k) =>
        stems(signal, harmonics.slice(1), db, min, k),
      ),
      marks: [],
    }
  },
}

/** A line upright at each harmonic. */
function stems(
  label: string,
  harmonics: CourseSpectrum['harmonics'],
  db: Float64Array,
  bottom: number,
  k: number,
): PlotCurve {
  const x = harmonics.flatMap(({ frequency }) => [frequency, frequency, NaN])
  // Those of several curves stand beside each other.
  const shift = (k * (harmonics[0]?.frequency ?? 0)) / 12
  return {
    label,
    color: signalColor(k),
    dash: signalDash(k),
    path: true,
    x: Float64Array.from(x, (f) => f + shift),
    y: Float64Array.from(Array.from(db).flatMap((v) => [bottom, Math.max(bottom, v), NaN])),
  }
}

/** The spectrum of each of a diagram's courses, by the period of what drives them, else by its own. */
export function spectraOf(
  { signals }: DiagramAxis,
  { time, begin = 0, window }: Computed,
): { signal: string; spectrum: CourseSpectrum; db: Float64Array }[] {
  return signals.flatMap((signal) => {
    const curve = time?.curves.find((c) => c.signal === signal)
    if (!curve) return []
    const period = time!.period ?? courseMeasures(curve, begin, window).period
    const found = period === null ? null : courseSpectrum(curve, 1 / period, HARMONICS)
    if (!found) return []
    const db = Float64Array.from(found.harmonics.slice(1), (h) => 20 * Math.log10(h.amplitude))
    return [{ signal, spectrum: found, db }]
  })
}

const against: TimeView = {
  id: 'against',
  name: 'One against another',
  plot(diagram, computed) {
    const [first, ...others] = diagram.signals
    const of = (signal: string | undefined) => computed.time?.curves.find((c) => c.signal === signal)
    const along = of(first)
    const curves = (others.length > 0 ? others : [first]).flatMap((signal, k): PlotCurve[] => {
      const curve = of(signal)
      if (!along || !curve) return []
      const from = diagram.x?.[0] ?? 0
      const seen = (v: number, j: number) => (along.time[j]! >= from ? v : NaN)
      const [x, y] = [along.value.map(seen), curve.value.map(seen)]
      return [{ label: signal!, color: signalColor(k), dash: signalDash(k), path: true, x, y }]
    })
    const across = extentOf(...curves.map((c) => c.x)) ?? [0, 1]
    const up = extentOf(...curves.map((c) => c.y)) ?? [0, 1]
    const units = curves.flatMap((c) => of(c.label)?.unit ?? [])
    return {
      x: { title: `${first}, ${along?.unit || 'value'}`, ...roundBounds(...across) },
      y: ends(diagram, { title: titleOf(units), ...roundBounds(...up) }),
      curves,
      marks: [],
    }
  },
}

/** Every view over time, in the order in which they are offered. */
export const timeViews: readonly TimeView[] = [courses, spectrum, against]

export const timeView = (id: Diagram['view']): TimeView => timeViews.find((v) => v.id === id) ?? courses

const ends = ({ y }: Pick<DiagramAxis, 'y'>, axis: Axis): Axis => (y ? { ...axis, min: y[0], max: y[1] } : axis)

const isStep = ({ time }: Computed): boolean => time?.drive !== 'waveform'

/** Of the answer to a step, which alone has measures. */
export function stepMeasuresOf(computed: Computed): StepMeasures | null {
  if (!isStep(computed)) return null
  return computed.roots?.step ?? (computed.time ? null : (computed.ideal?.step ?? null))
}

/** The ideal response is drawn, and measured, at the circuit's level. */
const idealScale = (computed: Computed): number => 10 ** (levelOf(computed) / 20)
export const scaleOf = (computed: Computed): number => (computed.circuit ? 1 : idealScale(computed))

function curvesOf(axis: DiagramAxis, computed: Computed, drawn = 0): PlotCurve[] {
  if (axis.difference) return differencesOf(axis, computed)
  const { signals } = axis
  const { ideal, time } = computed
  const list: PlotCurve[] = []
  if (ideal && isStep(computed) && signals.includes(computed.output)) {
    const scale = idealScale(computed)
    list.push({ ...IDEAL, x: ideal.time.time, y: ideal.time.value.map((v) => v * scale) })
  }
  signals.forEach((signal, k) => {
    const curve = time?.curves.find((c) => c.signal === signal)
    const label = signal === computed.output ? 'circuit' : signal
    if (curve)
      list.push({ label, x: curve.time, y: curve.value, color: signalColor(drawn + k), dash: signalDash(drawn + k) })
  })
  return [...list, ...besideOf(axis, computed)]
}

/** What was pinned or measured of an axis' signals. */
function besideOf({ signals }: DiagramAxis, { compared = [] }: Computed): (PlotCurve & { signal: string })[] {
  const counts = { run: 0, data: 0 }
  return compared.flatMap(({ entry, time }) => {
    const look = besideLook(entry.kind, counts[entry.kind]++)
    return time.flatMap(({ signal, time: x, value: y }) =>
      signals.includes(signal)
        ? [{ label: signals.length > 1 ? `${entry.name}: ${signal}` : entry.name, signal, x, y, ...look }]
        : [],
    )
  })
}

/** How far the circuit is from each thing that stands beside it. */
function differencesOf(axis: DiagramAxis, computed: Computed): PlotCurve[] {
  return besideOf(axis, computed).flatMap(({ signal, ...beside }) => {
    const own = computed.time?.curves.find((c) => c.signal === signal)
    if (!own) return []
    const end = own.time.at(-1)!
    return [
      {
        ...beside,
        y: beside.y.map((v, k) => (beside.x[k]! >= 0 && beside.x[k]! <= end ? courseAt(own, beside.x[k]!) - v : NaN)),
      },
    ]
  })
}

function valueAxis({ signals, y, difference }: DiagramAxis, computed: Computed, curves: readonly PlotCurve[]): Axis {
  const units = computed.time?.curves.filter((c) => signals.includes(c.signal)).map((c) => c.unit) ?? []
  const title = titleOf(units.length > 0 ? units : ['V'])
  const s = signals.includes(computed.output) && !difference ? stepMeasuresOf(computed) : null
  const [lowest, highest] = extentOf(...curves.map((c) => c.y)) ?? [0, 1]
  if (!s) return ends({ y }, { title: difference ? `${title}, difference` : title, ...roundBounds(lowest, highest) })
  const top = roundTop(Math.max((s.peak ?? 1) * scaleOf(computed), (s.final ?? 1) * scaleOf(computed), highest))
  // The axis begins at zero unless the curve really goes below: rounding is not worth a stripe.
  return ends({ y }, { title, min: lowest > -0.01 * top ? 0 : -roundTop(-lowest), max: top })
}

function stepMarks({ signals }: Diagram, computed: Computed): Mark[] {
  const s = stepMeasuresOf(computed)
  if (!s || s.final === null || !signals.includes(computed.output)) return []
  const scale = scaleOf(computed)
  const final = s.final * scale
  const soft = { kind: 'line', ink: 'soft', dash: [5, 4] } as const
  const marks: Mark[] = [
    { kind: 'area', from: [0, final * 0.99], to: [Infinity, final * 1.01] },
    { ...soft, from: [0, final], to: [Infinity, final] },
  ]
  if (s.settlingTime !== null && s.settlingTime > 0) {
    const side = s.settlingTime > computed.window / 2 ? 'left' : 'right'
    const text = `settled ${formatQuantity(s.settlingTime, 's')}`
    marks.push(
      { ...soft, from: [s.settlingTime, 0], to: [s.settlingTime, final] },
      { kind: 'text', at: [s.settlingTime, final * 0.08], text, side },
    )
  }
  if (s.delay !== null && s.delay > 0) {
    const at = [s.delay, final / 2] as const
    const text = `50 % after ${formatQuantity(s.delay, 's')}`
    marks.push({ kind: 'point', at }, { kind: 'text', at, text, side: 'right' })
  }
  if (s.overshootPercent && s.peak !== null && s.peakTime !== null) {
    const at = [s.peakTime, s.peak * scale] as const
    const text = `overshoot ${formatQuantity(s.overshootPercent, '%')}`
    marks.push({ kind: 'point', at }, { kind: 'text', at, text, side: 'right', down: -10 })
  }
  return marks
}
