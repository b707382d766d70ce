import { attenuations, type Diagram, type DiagramAxis, isShaped } from '@voskel/core'
import type { Axis } from '../../diagram/frame'
import { extentOf, type PlotCurve } from '../../diagram/plot'
import { dbBounds, roundTop } from '../../diagram/values'
import { type Computed, signalColor, signalDash, titleOf } from './Over'
import { unscaled } from './scales'
import { type Source, valuesOf } from './sources'

/** A way to read curves over frequency along an axis. */
export interface FrequencyView {
  readonly id: Diagram['view']
  /** As in a list of what can be drawn. */
  readonly name: string
  /** A number in the view's own unit (dB, degrees, s, or the signal's) as it stands in the diagram. */
  scale(axis: DiagramAxis, computed: Computed): (value: number) => number
  /** Each point of a curve, in the view's own unit. */
  values(source: Source, axis: DiagramAxis): Float64Array
  axis(axis: DiagramAxis, sources: readonly Source[], computed: Computed): Axis
  /** Its own curves, where they are not those of the signals themselves. */
  curves?(axis: DiagramAxis, computed: Computed, drawn: number): readonly PlotCurve[]
}

/** The highest magnitude of the output, dB. */
export const topOf = ({ roots, ideal, frequency, output }: Computed): number =>
  roots?.ac.peakDb ??
  extentOf(...(frequency?.curves.filter((c) => c.signal === output) ?? []).map((c) => c.db))?.[1] ??
  ideal?.ac.peakDb ??
  0

const magnitude: FrequencyView = {
  id: 'db',
  name: 'Magnitude',
  scale({ scale }, computed) {
    if (scale === 'db-relative') {
      const top = topOf(computed)
      return (db) => db - top
    }
    const unit = scale === 'percent' ? 100 : scale === 'factor' ? 1 : 0
    return unit === 0 ? unscaled : (db) => unit * 10 ** (db / 20)
  },
  values: ({ curve, level, isLevel }) => {
    if (isLevel) return curve.re
    return level === 0 ? curve.db : curve.db.map((v) => v + level)
  },
  axis(axis, sources, computed) {
    const { roots, ideal, spec, output } = computed
    const swept = sources.filter((s) => s.label !== 'ideal').map((s) => magnitude.values(s, axis))
    const [lowest, highest] = extentOf(...(swept.length > 0 ? swept : sources.map((s) => s.curve.db))) ?? [-60, 0]
    const isOutput = axis.signals.length === 1 && axis.signals[0] === output
    const top = (isOutput ? roots?.ac.peakDb : null) ?? (swept.length > 0 ? highest : (ideal?.ac.peakDb ?? highest))
    // Deep enough for what is asked, so that the passband and the edge keep their share of the height.
    const asked = spec && !isShaped(spec) && spec.stopband ? Math.max(...attenuations(spec.stopband)) : 0
    const bounds = dbBounds(top, lowest, Math.max(80, 1.4 * asked + 10))
    const scale = magnitude.scale(axis, computed)
    if (axis.scale === 'db-relative')
      return {
        title: 'Magnitude over its highest, dB',
        prefixes: false,
        ...dbBounds(0, scale(bounds.min), bounds.max - bounds.min),
      }
    if (axis.scale === 'factor' || axis.scale === 'percent')
      return {
        title: axis.scale === 'percent' ? 'Magnitude, %' : 'Magnitude, factor',
        min: 0,
        max: roundTop(scale(highest)),
        prefixes: false,
      }
    return { title: 'Magnitude, dB', prefixes: false, ...bounds }
  },
}

/** Decades of a quantity that are shown at the most. */
const MOST_DECADES = 9

const value: FrequencyView = {
  id: 'value',
  name: 'Value in its unit',
  scale: () => unscaled,
  values: valuesOf,
  axis({ scale }, sources) {
    const title = titleOf(sources.map((s) => s.unit))
    const [least, greatest] = extentOf(...sources.map(valuesOf)) ?? [0, 1]
    if (scale !== 'log' || greatest <= 0) return { title, ...roundBounds(least, greatest) }
    const positive = sources.map((s) => valuesOf(s).filter((v) => v > greatest * 10 ** -MOST_DECADES))
    const [low, high] = extentOf(...positive) ?? [greatest / 10, greatest]
    const min = 10 ** Math.floor(Math.log10(low) + 1e-9)
    return { title, log: true, min, max: Math.max(10 * min, 10 ** Math.ceil(Math.log10(high) - 1e-9)) }
  },
}

/** Round ends of an axis on which zero stands. */
export function roundBounds(least: number, greatest: number): { min: number; max: number } {
  const max = greatest > 0 ? roundTop(greatest) : 0
  const min = least < 0 ? -roundTop(-least) : 0
  return { min, max: max > min ? max : min + 1 }
}

const RADIANS = Math.PI / 180

const phase: FrequencyView = {
  id: 'phase',
  name: 'Phase',
  scale: ({ radians }) => (radians ? (degrees) => degrees * RADIANS : unscaled),
  values({ curve, isLevel }, { wrapped }) {
    if (isLevel) return curve.re
    return wrapped ? curve.phase.map((d) => d - 360 * Math.round(d / 360)) : curve.phase
  },
  axis(axis, sources, computed) {
    const step = axis.wrapped ? 90 : 180
    const [least, greatest] = axis.wrapped
      ? [-180, 180]
      : (extentOf(...sources.map((s) => phase.values(s, axis))) ?? [-180, 0])
    const min = step * Math.floor(least / step + 1e-6)
    const max = Math.max(min + step, step * Math.ceil(greatest / step - 1e-6))
    const scale = phase.scale(axis, computed)
    const ends = { min: scale(min), max: scale(max) }
    return axis.radians ? { title: 'Phase, rad', ...ends } : { title: 'Phase, °', prefixes: false, step, ...ends }
  },
}

/** Where something passes: delay beside a zero of the stop band is without bound and says nothing. */
const HEARD_DB = 40
/** Times the diagram's height that a delay may be and still be drawn. */
const BEYOND = 30

/** A view in seconds of what passes. */
function delayView(id: 'delay' | 'phase-delay', name: string, of: (source: Source) => Float64Array): FrequencyView {
  const view: FrequencyView = {
    id,
    name,
    scale: () => unscaled,
    values(source) {
      const delay = of(source)
      // A delay far beyond the diagram is that of a zero to rounding: the curve passes it by.
      const most = BEYOND * boundsOf([source]).max
      return delay.map((d) => (Math.abs(d) > most ? NaN : d))
    },
    axis: (_, sources) => ({ title: `${name}, s`, ...boundsOf(sources) }),
  }
  const boundsOf = (sources: readonly Source[]) => {
    const heard = sources.map((source) => {
      const { db } = source.curve
      const peak = extentOf(db)?.[1] ?? 0
      return of(source).filter((_, k) => db[k]! > peak - HEARD_DB)
    })
    const [min, max] = extentOf(...heard) ?? [0, 1e-9]
    return { min: min < 0 ? -roundTop(-min) : 0, max: roundTop(Math.max(max, 0) || 1e-9) }
  }
  return view
}

const delay = delayView('delay', 'Group delay', ({ curve }) => curve.delay)
const phaseDelay = delayView('phase-delay', 'Phase delay', ({ curve }) =>
  curve.phase.map((degrees, k) => -degrees / 360 / curve.frequency[k]!),
)

/** A part of the complex value. */
const part = (id: 're' | 'im', name: string): FrequencyView => ({
  id,
  name,
  scale: () => unscaled,
  values: ({ curve, level }) => (level === 0 ? curve[id] : curve[id].map((v) => v * 10 ** (level / 20))),
  axis(_, sources) {
    const [least, greatest] = extentOf(...sources.map((s) => s.curve[id])) ?? [0, 1]
    return { title: `${name} · ${titleOf(sources.map((s) => s.unit))}`, ...roundBounds(least, greatest) }
  },
})

/** Curves of parts that can be told apart. */
const MOST_PARTS = 5

const noNumbers = new Float64Array()

/** Densities of the noise of the signals, and what the loudest parts have of the first. */
const noise: FrequencyView = {
  id: 'noise',
  name: 'Noise density',
  scale: () => unscaled,
  values: () => noNumbers,
  axis(axis, _, computed) {
    const wholes = found(axis, computed.noise).map(({ curves }) => curves.output)
    const [, greatest] = extentOf(...wholes) ?? [0, 1e-8]
    const [least] = extentOf(...wholes.map((y) => y.filter((v) => v > greatest * NOISE_FLOOR))) ?? [1e-9]
    const min = 10 ** Math.floor(Math.log10(least / 3))
    return { title: 'Noise, V/√Hz', log: true, min, max: Math.max(10 * min, 10 ** Math.ceil(Math.log10(greatest))) }
  },
  curves(axis, computed, drawn) {
    const all = found(axis, computed.noise)
    const whole = all.map(({ signal, curves }, k) => curve(signal, curves.frequency, curves.output, drawn + k))
    const [first] = all
    const parts = first?.curves.parts.slice(0, MOST_PARTS).filter((p) => p.power > 0) ?? []
    return [
      ...whole,
      ...parts.map(({ name, density }, k) =>
        curve(name, first!.curves.frequency, density, drawn + all.length + k, true),
      ),
    ]
  },
}
/** Of the loudest density, what is not looked at. */
const NOISE_FLOOR = 1e-3

/** What one per cent more of the parts that do most does to the first signal. */
const influence: FrequencyView = {
  id: 'influence',
  name: 'What 1 % of each part does',
  scale: () => unscaled,
  values: () => noNumbers,
  axis(axis, _, computed) {
    const [first] = found(axis, computed.influence)
    const [least, greatest] = extentOf(...(first?.parts.slice(0, MOST_PARTS).map((p) => p.db) ?? [])) ?? [-0.1, 0.1]
    return { title: 'Change for 1 %, dB', prefixes: false, ...roundBounds(least, greatest) }
  },
  curves(axis, computed, drawn) {
    const [first] = found(axis, computed.influence)
    return (first?.parts ?? [])
      .slice(0, MOST_PARTS)
      .map(({ name, db }, k) => curve(name, first!.frequency, db, drawn + k))
  },
}

/** What was found of an axis' signals, in their order. */
const found = <T extends { readonly signal: string }>({ signals }: DiagramAxis, all?: readonly T[] | null): T[] =>
  signals.flatMap((signal) => all?.find((one) => one.signal === signal) ?? [])

const curve = (label: string, x: Float64Array, y: Float64Array, k: number, isThin = false): PlotCurve => ({
  label,
  x,
  y,
  color: signalColor(k),
  dash: isThin ? [4, 3] : signalDash(k),
})

/** Every view over frequency along an axis, in the order in which they are offered. */
export const frequencyViews: readonly FrequencyView[] = [
  magnitude,
  value,
  phase,
  delay,
  phaseDelay,
  part('re', 'Real part'),
  part('im', 'Imaginary part'),
  noise,
  influence,
]

export const frequencyView = (id: Diagram['view']): FrequencyView =>
  frequencyViews.find((v) => v.id === id) ?? magnitude
