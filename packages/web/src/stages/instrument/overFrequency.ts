import {
  type Diagram,
  type DiagramAxis,
  type AcMeasures,
  formatQuantity,
  isLoopGain,
  isShaped,
  passbands,
  type TransferFunction,
} from '@voskel/core'
import type { Axis } from '../../diagram/frame'
import { lowerBound } from '../../diagram/paint'
import { extentOf, type Lens, type Mark, type Place, type PlotCurve } from '../../diagram/plot'
import { evenTop, lagText } from '../../diagram/values'
import { readCurve, readOut } from '../../engine/curves'
import { violations } from '../maskMarks'
import { asymptotes } from './asymptotes'
import { frequencyView, type FrequencyView } from './frequencyViews'
import { type Computed, IDEAL, levelOf, type Over, outputNet } from './Over'
import { judgedMask } from './judgedMask'
import { partings } from './largeSignal'
import { isPlane } from './planeIds'
import { planePlot, PLANES } from './planes'
import { type Scales, scaledMarks, unscaled } from './scales'
import { type Source, sourcesOf } from './sources'

/** The circuit's signals over frequency, the ideal response below the output. */
export const overFrequency: Over = {
  id: 'frequency',
  unit: 'Hz',
  name: 'Frequency response',
  title: ({ time, output }) => `${outputNet({ output }) ?? output} / ${time?.source ?? 'V1'}`,
  // Of a circuit whose output has no curve another signal can be drawn.
  has: ({ ideal, frequency }) => ideal !== null || frequency !== null,

  plot(diagram, computed) {
    if (isPlane(diagram.view)) return planePlot(diagram, computed)
    const left = along(diagram, computed, 0)
    const right = diagram.right ? along(diagram.right, computed, diagram.signals.length) : null
    const scales = overFrequency.scales(diagram, computed)
    const toX = (c: PlotCurve): PlotCurve => (diagram.angular ? { ...c, x: c.x.map(scales.x) } : c)
    const dotted = (c: PlotCurve): PlotCurve => (diagram.points ? { ...c, points: true } : c)
    const marks = diagram.difference
      ? []
      : [
          ...maskOf(diagram, computed),
          ...(diagram.asymptotes ? asymptoteMarks(diagram, computed) : []),
          ...cutoffMarks(diagram, computed),
          ...partingMarks(diagram, computed),
        ]
    const x = frequencyAxis(diagram, computed)
    return {
      x: diagram.angular ? { ...x, title: 'Angular frequency, rad/s', min: scales.x(x.min), max: scales.x(x.max) } : x,
      y: left.axis,
      ...(right && { right: right.axis }),
      curves: [...left.curves, ...(right?.curves ?? []).map((c) => ({ ...c, right: true }))].map(toX).map(dotted),
      marks: scaledMarks(marks, scales),
      lens: diagram.difference ? null : scaledLens(lensOf(diagram, computed, left.axis), scales),
    }
  },

  scales(diagram, computed) {
    const own = frequencyView(diagram.view)
    return {
      x: diagram.angular ? (f) => TAU * f : unscaled,
      backX: diagram.angular ? (w) => w / TAU : unscaled,
      y: own.scale(diagram, computed),
      right: diagram.right ? frequencyView(diagram.right.view).scale(diagram.right, computed) : unscaled,
    }
  },

  describe(diagram, computed) {
    const drawn = ({ view, signals }: DiagramAxis) =>
      `${viewName(view)} over frequency${signals.length > 1 || signals[0] !== computed.output ? ` of ${signals.join(', ')}` : ''}`
    const both = drawn(diagram) + (diagram.right ? `; at the right ${drawn(diagram.right)}` : '')
    if (diagram.view !== 'db') return both
    const figures = overFrequency.figures(computed).map(([name, value]) => `${name} ${value}`)
    return `${both}. ${figures.join(', ')}`
  },

  figures({ roots, ideal }) {
    const ac = roots?.ac ?? ideal?.ac
    if (!ac) return []
    const q = formatQuantity
    return [
      ['cutoff', ac.cutoffs.length ? ac.cutoffs.map((f) => q(f, 'Hz')).join(' · ') : '–'],
      ['phase there', ac.phaseAtCutoffsDeg.length ? lagText(ac.phaseAtCutoffsDeg.at(-1)!) : '–'],
      ['ripple', ac.rippleDb === null ? '–' : q(ac.rippleDb, 'dB')],
      ['peak', ac.peakDb === null ? '–' : q(Math.abs(ac.peakDb) < NOTHING_DB ? 0 : ac.peakDb, 'dB')],
      ['falls by', `${q(-ac.rolloffDbPerDecade.above, 'dB')} a decade`],
      ['delay at DC', ac.delayAtDc === null ? '–' : q(ac.delayAtDc, 's')],
    ]
  },

  readOut({ roots, ideal, frequency, output }, at) {
    const swept = frequency?.curves.find((c) => c.signal === output)
    const transfer = roots?.transfer ?? (swept ? null : ideal?.ideal.transfer)
    const value = transfer ? readOut(transfer, at) : swept && readCurve(swept, at)
    if (!value) return null
    const { db, gain, phase: turned, delay } = value
    return `at ${formatQuantity(at, 'Hz')}: ${formatQuantity(db, 'dB')} (× ${formatQuantity(gain)}), output ${lagText(turned)}, group delay ${formatQuantity(delay, 's')}`
  },
}

/** dB that are rounding. */
const NOTHING_DB = 1e-6

const TAU = 2 * Math.PI
export const viewName = (view: Diagram['view']): string =>
  isPlane(view) ? PLANES[view].name : frequencyView(view).name

/** The curves along one vertical axis, in what they are read in. */
function along(axis: DiagramAxis, computed: Computed, drawn: number): { axis: Axis; curves: readonly PlotCurve[] } {
  const view = frequencyView(axis.view)
  const scale = view.scale(axis, computed)
  const sources = sourcesOf(axis, computed, drawn)
  if (axis.difference && !view.curves) return differences(axis, view, sources)
  const own = view.axis(axis, sources, computed)
  const isLog = own.log === true
  return {
    axis: axis.y ? { ...own, min: axis.y[0], max: axis.y[1] } : own,
    curves:
      view.curves?.(axis, computed, drawn) ??
      sources.map((source) => {
        const values = view.values(source, axis)
        const { label, color, dash, curve, marker } = source
        return {
          label,
          color,
          dash,
          ...(marker && { marker }),
          x: curve.frequency,
          y: scale === unscaled && !isLog ? values : values.map((v) => (isLog && !(v > 0) ? NaN : scale(v))),
        }
      }),
  }
}

/** How far the circuit is from each thing that stands beside it, in the view's own unit, at the places of what is beside. */
function differences(
  axis: DiagramAxis,
  view: FrequencyView,
  sources: readonly Source[],
): { axis: Axis; curves: readonly PlotCurve[] } {
  const curves = sources.flatMap((beside): PlotCurve[] => {
    const own = sources.find((s) => s.signal === beside.signal && !s.isBeside && s.label !== IDEAL.label)
    if (!beside.isBeside || !own) return []
    const { label, color, dash, marker, curve } = beside
    const [x, values, of] = [own.curve.frequency, view.values(own, axis), view.values(beside, axis)]
    const y = of.map((v, k) => {
      const off = valueBetween(x, values, curve.frequency[k]!) - v
      return axis.view === 'phase' ? off - 360 * Math.round(off / 360) : off
    })
    return [{ label, color, dash, ...(marker && { marker }), x: curve.frequency, y }]
  })
  const [least, greatest] = extentOf(...curves.map((c) => c.y)) ?? [-1, 1]
  const { title, prefixes } = view.axis({ ...axis, scale: undefined, radians: false }, sources, NOTHING_COMPUTED)
  const most = evenTop(Math.max(Math.abs(least), Math.abs(greatest)) || 1)
  const [min, max] = axis.y ?? [-most, most]
  return { axis: { title: `${title}, difference`, ...(prefixes === false && { prefixes }), min, max }, curves }
}

const NOTHING_COMPUTED: Computed = {
  spec: null,
  output: '',
  ideal: null,
  circuit: null,
  roots: null,
  frequency: null,
  time: null,
  range: { from: 1, to: 10 },
  window: 1,
}

/** A value between the points of a curve, by straight lines in log f; NaN outside of it. */
function valueBetween(x: Float64Array, y: Float64Array, at: number): number {
  const k = lowerBound(x, at)
  if (x[k] === at) return y[k]!
  if (k === 0 || k === x.length) return NaN
  const share = Math.log(at / x[k - 1]!) / Math.log(x[k]! / x[k - 1]!)
  return y[k - 1]! + share * (y[k]! - y[k - 1]!)
}

function frequencyAxis({ linear, x }: Diagram, { range, ideal, roots }: Computed): Axis {
  const title = 'Frequency, Hz'
  if (x) return { title, log: !linear, min: x[0], max: x[1] }
  if (!linear) return { title, log: true, min: range.from, max: range.to }
  // A linear axis shows the passband and a little beyond; far decades would squeeze it flat.
  const marks = [...(ideal?.ideal.marks ?? []), ...(roots?.ac.cutoffs ?? [])]
  return { title, min: 0, max: marks.length ? 2 * marks.reduce((a, b) => Math.max(a, b)) : range.to }
}

/** The response of the output by its roots. */
const transferOf = ({ roots, ideal }: Computed): TransferFunction | null =>
  roots?.transfer ?? ideal?.ideal.transfer ?? null

/** What is promised of the magnitude, and where the circuit does not keep it. */
function maskOf(diagram: Diagram, computed: Computed): Mark[] {
  const { frequency, output } = computed
  if (diagram.mask === false || diagram.view !== 'db' || !diagram.signals.includes(output)) return []
  const mask = judgedMask(computed)
  const curve = frequency?.curves.find((c) => c.signal === output)
  if (!curve) return mask
  // The verdicts are solved; the drawn points only show where.
  const missed = (computed.verdicts ?? []).filter((v) => !v.met && (v.kind === 'passband' || v.kind === 'stopband'))
  const parts = mask.filter((part) => missed.some((v) => v.kind === part.asked))
  const told = missed.flatMap(({ at, margin }): Mark[] => {
    if (at === null || margin === null) return []
    const text = `misses by ${formatQuantity(-margin, 'dB', 3)}`
    return [{ kind: 'text', at: [at, readCurve(curve, at).db], text, side: 'right', down: -14 }]
  })
  return [...mask, ...violations(parts, curve.frequency, curve.db), ...told]
}

function asymptoteMarks(diagram: Diagram, computed: Computed): Mark[] {
  const h = transferOf(computed)
  if (!h || !diagram.signals.includes(computed.output) || (diagram.view !== 'db' && diagram.view !== 'phase')) return []
  const lines = asymptotes(h, diagram.view, computed.range)
  return lines.slice(1).map((to, k) => ({ kind: 'line', from: lines[k]!, to, ink: 'soft', dash: [2, 4] }))
}

/** Of a loop's gain: where it is 1 and what the phase has left there, where it turns round and how far below 1 it is. */
function marginMarks(view: Diagram['view'], ac: AcMeasures): Mark[] {
  const { gainCrossing, phaseCrossing, gainMarginDb, phaseMarginDeg } = ac
  const upright = (at: number): Mark => ({
    kind: 'line',
    from: [at, -Infinity],
    to: [at, Infinity],
    ink: 'soft',
    dash: [5, 4],
  })
  const marks: Mark[] = []
  const level = view === 'db' ? 0 : -180
  if (view === 'db' || view === 'phase')
    marks.push({ kind: 'line', from: [-Infinity, level], to: [Infinity, level], ink: 'soft' })
  if (gainCrossing !== null) {
    marks.push(upright(gainCrossing))
    const at = view === 'db' ? 0 : phaseMarginDeg! - 180
    const text =
      view === 'db'
        ? `gain 1 at ${formatQuantity(gainCrossing, 'Hz')}`
        : `margin ${formatQuantity(phaseMarginDeg!, '°')}`
    if (view === 'db' || view === 'phase')
      marks.push(
        { kind: 'point', at: [gainCrossing, at] },
        { kind: 'text', at: [gainCrossing, at], text, side: 'right', down: -12 },
      )
  }
  if (phaseCrossing !== null) {
    marks.push(upright(phaseCrossing))
    if (view === 'db') {
      const at: Place = [phaseCrossing, -gainMarginDb!]
      const text = `margin ${formatQuantity(gainMarginDb!, 'dB')}`
      marks.push({ kind: 'point', at }, { kind: 'text', at, text, side: 'left', down: 12 })
    }
  }
  return marks
}

/** Every cutoff, with its frequency where the magnitude is shown. */
function cutoffMarks({ view, signals }: Diagram, computed: Computed): Mark[] {
  const { roots, ideal } = computed
  const ac = roots?.ac ?? ideal?.ac
  if (!ac || !signals.includes(computed.output)) return []
  if (isLoopGain(computed.output)) return marginMarks(view, ac)
  const peak = roots?.ac.peakDb ?? (ideal?.ac.peakDb ?? 0) + levelOf(computed)
  return ac.cutoffs.flatMap((at, k): Mark[] => {
    const line: Mark = { kind: 'line', from: [at, -Infinity], to: [at, Infinity], ink: 'soft', dash: [5, 4] }
    if (view !== 'db') return [line]
    // Two stand back to back, so that their names keep clear of each other.
    const side = ac.cutoffs.length > 1 && k === 0 ? 'left' : 'right'
    return [
      line,
      { kind: 'point', at: [at, peak - 10 * Math.log10(2)] },
      { kind: 'text', at: [at, Infinity], text: `cutoff ${formatQuantity(at, 'Hz')}`, side, down: 12 },
    ]
  })
}

/** Where the large signal parts from the small one, along the view that it does so in. */
function partingMarks({ view, signals }: Diagram, { largeSignal, frequency, output }: Computed): Mark[] {
  const own = frequency?.curves.find((c) => c.signal === output)
  if (!largeSignal?.points.length || !own || !signals.includes(output)) return []
  return partings(largeSignal, own)
    .filter((p) => p.in === view)
    .flatMap(({ from, by, at }): Mark[] => [
      { kind: 'line', from: [from, -Infinity], to: [from, Infinity], ink: 'missed', dash: [3, 3] },
      {
        kind: 'text',
        at: [at, readCurve(own, at)[view as 'db' | 'phase'] + by],
        text: `parts by ${formatQuantity(by, view === 'db' ? 'dB' : '°', 3)}`,
        side: 'right',
        down: 14,
      },
    ])
}

/** Ripple that takes less than this part of the height cannot be seen. */
const TOO_SMALL = 0.03

/** Whether a diagram shows a passband that a lens can be held over. */
export function canHaveLens({ view, signals }: Diagram, { spec, ideal, output }: Computed): boolean {
  if (view !== 'db' || !spec || isShaped(spec) || !ideal || !signals.includes(output)) return false
  return passbands(spec.response, ideal.ideal.passbandEdges).length > 0
}

/** The passband with its ripple, at the circuit's level, where it would be too small to be seen. */
function lensOf(diagram: Diagram, computed: Computed, { min, max }: Axis): Lens | null {
  const { spec, ideal, range } = computed
  if (diagram.lens === false || !canHaveLens(diagram, computed) || !spec || isShaped(spec) || !ideal) return null
  const { rippleDb, passbandEdges } = ideal.ideal
  const bands = passbands(spec.response, passbandEdges)
  if (diagram.lens === undefined && rippleDb > TOO_SMALL * (max - min)) return null
  const top = levelOf(computed) + spec.gain
  const [from, to] = [bands[0]![0], bands.at(-1)![1]]
  const beyond = passbandEdges.length === 2 ? (passbandEdges[1]! / passbandEdges[0]!) ** 0.12 : 1.12
  return {
    x: [Math.max(range.from, from / beyond), Math.min(range.to, to * beyond)],
    y: [top - 2 * rippleDb, top + rippleDb],
  }
}

const scaledLens = (lens: Lens | null, { x, y }: Scales): Lens | null =>
  lens && { x: [x(lens.x[0]), x(lens.x[1])], y: [y(lens.y[0]), y(lens.y[1])] }
