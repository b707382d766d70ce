import { type Diagram, formatQuantity, isLoopGain } from '@voskel/core'
import type { Axis } from '../../diagram/frame'
import { extentOf, type Mark, type Plot, type PlotCurve } from '../../diagram/plot'
import { lowerBound } from '../../diagram/paint'
import type { PlaneId } from './planeIds'
import { rootsOf } from './roots'
import type { Computed } from './Over'
import { type Source, sourcesOf } from './sources'

interface Plane {
  readonly name: string
  plot(diagram: Diagram, computed: Computed): Plot
}

export const PLANES: Readonly<Record<PlaneId, Plane>> = {
  nyquist: { name: 'Nyquist curve', plot: nyquist },
  nichols: { name: 'Nichols curve', plot: nichols },
  smith: { name: 'Smith chart', plot: smith },
  roots: { name: 'Poles and zeros', plot: roots },
}

export const planePlot = (diagram: Diagram, computed: Computed): Plot =>
  PLANES[diagram.view as PlaneId].plot(diagram, computed)

/** Real against imaginary part, both ways equally long; the point at which a loop's gain must not arrive. */
function nyquist(diagram: Diagram, computed: Computed): Plot {
  const sources = sourcesOf(diagram, computed)
  const curves = sources.map((s) => path(s, s.curve.re, s.curve.im))
  const seen = extentOf(...curves.map((c) => c.x), Float64Array.of(-1, 0)) ?? [-1, 1]
  const up = extentOf(...curves.map((c) => c.y), Float64Array.of(0)) ?? [-1, 1]
  const unit = [...new Set(sources.map((s) => s.unit))].filter((u) => u !== 'V' && u !== '').join(', ')
  const behind = unit === '' ? '' : `, ${unit}`
  const circle = ring()
  return {
    x: { ...axisOf(`Real part${behind}`, seen), prefixes: unit !== '' },
    y: { ...axisOf(`Imaginary part${behind}`, up, diagram.y), prefixes: unit !== '' },
    square: true,
    curves: unit === '' ? [circle, ...curves] : curves,
    marks: [
      ...axes(),
      ...(isLoopGain(computed.output) && diagram.signals.includes(computed.output) ? critical([-1, 0], '−1') : []),
      ...alongWay(sources, curves),
    ],
  }
}

/** Phase against magnitude. */
function nichols(diagram: Diagram, computed: Computed): Plot {
  const sources = sourcesOf(diagram, computed)
  const curves = sources.map((s) => path(s, s.curve.phase, s.curve.db))
  const x = extentOf(...curves.map((c) => c.x)) ?? [-180, 0]
  const y = extentOf(...curves.map((c) => c.y.map((db) => (db < -LOWEST_DB ? NaN : db))), Float64Array.of(0)) ?? [
    -40, 0,
  ]
  const step = 90
  return {
    x: {
      title: 'Phase, °',
      prefixes: false,
      step,
      min: Math.min(-180, step * Math.floor(x[0] / step)),
      max: Math.max(0, step * Math.ceil(x[1] / step)),
    },
    y: diagram.y
      ? { title: 'Magnitude, dB', prefixes: false, min: diagram.y[0], max: diagram.y[1] }
      : {
          title: 'Magnitude, dB',
          prefixes: false,
          min: 20 * Math.floor(y[0] / 20),
          max: 20 * Math.ceil((y[1] + 3) / 20),
        },
    curves,
    marks: [
      { kind: 'line', from: [-Infinity, 0], to: [Infinity, 0], ink: 'soft' },
      ...(isLoopGain(computed.output) && diagram.signals.includes(computed.output)
        ? critical([-180, 0], '−180°, 0 dB')
        : []),
      ...alongWay(sources, curves),
    ],
  }
}

/** Resistances and reactances over the reference whose circles are drawn. */
const CIRCLES = [0.2, 0.5, 1, 2, 5]
/** Beyond the chart's rim, so that its numbers have room. */
const RIM = 1.12

/**
 * Reflections in the plane of Γ = (z − 1)/(z + 1), with the circles of constant resistance and reactance over the port's own reference.
 * Source: P. H. Smith, "Transmission line calculator", Electronics 12, January 1939, 29–31 (from memory).
 */
function smith(diagram: Diagram, computed: Computed): Plot {
  const sources = sourcesOf(diagram, computed).filter((s) => s.unit === '' && s.label !== 'ideal')
  const curves = sources.map((s) => path(s, s.curve.re, s.curve.im))
  const nothing: Mark = {
    kind: 'text',
    at: [-RIM, 0],
    text: 'Draw s11(RS,RL) or s22(RS,RL): nothing here is a reflection.',
    side: 'right',
  }
  return {
    x: { title: 'Real part of the reflection', prefixes: false, min: -RIM, max: RIM },
    y: { title: 'Imaginary part of the reflection', prefixes: false, min: -RIM, max: RIM },
    square: true,
    bare: true,
    curves: [...smithGrid(), ...curves],
    marks: [
      ...CIRCLES.flatMap((v): Mark[] => [
        { kind: 'note', at: [(v - 1) / (v + 1), 0], text: String(v) },
        ...[1, -1].map((sign): Mark => {
          const [re, im] = gamma(0, sign * v)
          return { kind: 'note', at: [re, im], text: `${sign < 0 ? '−' : ''}j${v}` }
        }),
      ]),
      ...(curves.length > 0 ? alongWay(sources, curves) : [nothing]),
    ],
  }
}

/** Γ of r + jx. */
function gamma(r: number, x: number): readonly [re: number, im: number] {
  const size = (r + 1) ** 2 + x ** 2
  return [(r * r - 1 + x * x) / size, (2 * x) / size]
}

function smithGrid(): PlotCurve[] {
  const thin = (points: readonly (readonly [number, number])[]): PlotCurve => ({
    label: '',
    color: 0,
    path: true,
    thin: true,
    x: Float64Array.from(points, ([re]) => re),
    y: Float64Array.from(points, ([, im]) => im),
  })
  /** From 0 to infinity, evenly along the circle. */
  const way = Array.from({ length: CIRCLE_POINTS }, (_, k) => Math.tan((k / (CIRCLE_POINTS - 1)) * 0.4999 * Math.PI))
  return [
    thin([...way.map((x) => gamma(0, x)), ...way.map((x) => gamma(0, -x)).toReversed()]),
    thin(way.map((r) => gamma(r, 0))),
    ...CIRCLES.map((r) => thin([...way.map((x) => gamma(r, x)), ...way.map((x) => gamma(r, -x)).toReversed()])),
    ...CIRCLES.flatMap((x) => [thin(way.map((r) => gamma(r, x))), thin(way.map((r) => gamma(r, -x)))]),
  ]
}

/** dB below which a way is not followed for the sake of the axis. */
const LOWEST_DB = 80

/** The output's poles and zeros in the plane of s. */
function roots({ angular, y }: Diagram, computed: Computed): Plot {
  const unit = angular ? 1 : 1 / (2 * Math.PI)
  const all = rootsOf(computed).flatMap(({ kind, re, im }) =>
    [im, ...(im > 0 ? [-im] : [])].map((at) => ({ kind, re: re * unit, im: at * unit })),
  )
  const x = extentOf(
    Float64Array.from(all, (r) => r.re),
    Float64Array.of(0),
  ) ?? [-1, 0]
  const up = extentOf(
    Float64Array.from(all, (r) => r.im),
    Float64Array.of(0),
  ) ?? [-1, 1]
  const title = angular ? 's, 1/s' : 's/2π, Hz'
  return {
    x: axisOf(`Real part of ${title}`, x),
    y: axisOf(`Imaginary part of ${title}`, up, y),
    square: true,
    curves: [],
    marks: [...axes(), ...all.map(({ kind, re, im }): Mark => ({ kind, at: [re, im] }))],
  }
}

const path = ({ label, color, dash, marker }: Source, x: Float64Array, y: Float64Array): PlotCurve => ({
  label,
  color,
  dash,
  ...(marker && { marker }),
  x,
  y,
  path: true,
})

const CIRCLE_POINTS = 181
/** All values of the size of one. */
function ring(): PlotCurve {
  const angles = Float64Array.from({ length: CIRCLE_POINTS }, (_, k) => (2 * Math.PI * k) / (CIRCLE_POINTS - 1))
  return { label: '', color: 1, dash: [2, 4], path: true, x: angles.map(Math.cos), y: angles.map(Math.sin) }
}

const axes = (): Mark[] => [
  { kind: 'line', from: [-Infinity, 0], to: [Infinity, 0], ink: 'soft' },
  { kind: 'line', from: [0, -Infinity], to: [0, Infinity], ink: 'soft' },
]

const critical = (at: readonly [number, number], text: string): Mark[] => [
  { kind: 'pole', at },
  { kind: 'text', at, text, side: 'left', down: -12 },
]

/** Part of an extent that stays free at each end. */
const ROOM = 0.08

function axisOf(
  title: string,
  [least, greatest]: readonly [number, number],
  ends?: readonly [number, number] | null,
): Axis {
  if (ends) return { title, min: ends[0], max: ends[1] }
  const room = ROOM * (greatest - least || Math.abs(greatest) || 1)
  return { title, min: least - room, max: greatest + room }
}

/** Frequencies at 1 and, where there are few decades, at 2 and 5 along the first way that is the circuit's. */
function alongWay(sources: readonly Source[], curves: readonly PlotCurve[]): Mark[] {
  const k = Math.max(
    0,
    sources.findIndex((s) => s.label !== 'ideal'),
  )
  const [source, curve] = [sources[k], curves[k]]
  if (!source || !curve) return []
  const { frequency } = source.curve
  const [from, to] = [frequency[0]!, frequency.at(-1)!]
  const decades = Math.log10(to / from)
  const steps = decades <= FEW_DECADES ? [1, 2, 5] : [1]
  const marks: Mark[] = []
  for (let d = Math.floor(Math.log10(from)); d <= Math.ceil(Math.log10(to)); d++)
    for (const step of steps) {
      const f = Number(`${step}e${d}`)
      if (f < from || f > to) continue
      const at = lowerBound(frequency, f)
      const place = [curve.x[at]!, curve.y[at]!] as const
      marks.push(
        { kind: 'point', at: place },
        { kind: 'text', at: place, text: formatQuantity(f, 'Hz', 1), side: 'right' },
      )
    }
  return apart(marks, curve)
}

const FEW_DECADES = 2

/** Marks whose places lie so near to the one before, by the way's extent, that they would cover it are left out. */
function apart(marks: readonly Mark[], { x, y }: PlotCurve): Mark[] {
  const [x0, x1] = extentOf(x) ?? [0, 1]
  const [y0, y1] = extentOf(y) ?? [0, 1]
  const size = Math.max(x1 - x0, y1 - y0) || 1
  const kept: Mark[] = []
  let last: readonly [number, number] | null = null
  for (let k = 0; k + 1 < marks.length; k += 2) {
    const { at } = marks[k] as Extract<Mark, { kind: 'point' }>
    if (last && Math.hypot((at[0] - last[0]) / size, (at[1] - last[1]) / size) < NEAR) continue
    last = at
    kept.push(marks[k]!, marks[k + 1]!)
  }
  return kept
}
const NEAR = 0.09
