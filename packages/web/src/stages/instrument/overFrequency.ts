import { attenuations, type Diagram, formatQuantity, groupDelay, isShaped, passbands, phase } from '@voskel/core'
import type { Axis } from '../../diagram/frame'
import { extentOf, type Lens, type Mark, type PlotCurve } from '../../diagram/plot'
import { dbBounds, lagText, roundTop } from '../../diagram/values'
import { type FrequencyCurve, readCurve, readOut } from '../../engine/curves'
import { scaledPlot, scalesOf } from './scales'
import { type Computed, IDEAL, levelOf, type Over, signalColor, signalDash, outputNet } from './Over'

/** Magnitude, phase and delay of the circuit's signals, the ideal response below the output. */
export const overFrequency: Over = {
  id: 'frequency',
  unit: 'Hz',
  name: 'Frequency response',
  title: ({ time, output }) => `${outputNet({ output }) ?? output} / ${time?.source ?? 'V1'}`,
  has: ({ ideal, frequency }) => ideal !== null || (frequency?.curves.length ?? 0) > 0,

  plot(diagram, computed) {
    const y = { db: magnitudeAxis, phase: phaseAxis, delay: delayAxis, value: magnitudeAxis }[diagram.view](
      diagram,
      computed,
    )
    const plot = {
      x: frequencyAxis(diagram, computed),
      y,
      curves: curvesOf(diagram, computed),
      marks: cutoffMarks(diagram, computed),
      lens: diagram.view === 'db' ? lensOf(diagram, computed, y) : null,
    }
    return scaledPlot(plot, diagram, overFrequency.scales(diagram, computed))
  },

  scales: (diagram, computed) => scalesOf(diagram, topOf(computed)),

  describe(diagram, computed) {
    if (diagram.view === 'phase') return 'Phase over frequency'
    if (diagram.view === 'delay') return 'Group delay over frequency'
    const figures = overFrequency.figures(computed).map(([name, value]) => `${name} ${value}`)
    return `Magnitude over frequency. ${figures.join(', ')}`
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

/** The highest magnitude of the output, dB. */
const topOf = ({ roots, ideal, frequency, output }: Computed): number =>
  roots?.ac.peakDb ??
  extentOf(...(frequency?.curves.filter((c) => c.signal === output) ?? []).map((c) => c.db))?.[1] ??
  ideal?.ac.peakDb ??
  0

/** dB that are rounding. */
const NOTHING_DB = 1e-6

function frequencyAxis({ linear }: Diagram, { range, ideal, roots }: Computed): Axis {
  const title = 'Frequency, Hz'
  if (!linear) return { title, log: true, min: range.from, max: range.to }
  // A linear axis shows the passband and a little beyond; far decades would squeeze it flat.
  const marks = [...(ideal?.ideal.marks ?? []), ...(roots?.ac.cutoffs ?? [])]
  return { title, min: 0, max: marks.length ? 2 * marks.reduce((a, b) => Math.max(a, b)) : range.to }
}

/** The view of a curve that a diagram shows. */
function viewOf({ view, wrapped }: Diagram, curve: FrequencyCurve, level: number, mostDelay: number): Float64Array {
  if (view === 'phase') return wrapped ? curve.phase.map((d) => d - 360 * Math.round(d / 360)) : curve.phase
  // A delay far beyond the diagram is that of a zero to rounding: the curve passes it by.
  if (view === 'delay') return curve.delay.map((d) => (Math.abs(d) > mostDelay ? NaN : d))
  return level === 0 ? curve.db : curve.db.map((v) => v + level)
}

/** Times the diagram's height that a delay may be and still be drawn. */
const BEYOND = 30

function curvesOf(diagram: Diagram, computed: Computed): PlotCurve[] {
  const { ideal, frequency } = computed
  const most = BEYOND * (diagram.view === 'delay' ? delayAxis(diagram, computed).max : Infinity)
  const view = (curve: FrequencyCurve, level = 0) => ({
    x: curve.frequency,
    y: viewOf(diagram, curve, level, most),
  })
  const list: PlotCurve[] = []
  if (ideal && diagram.signals.includes(computed.output)) {
    const plain = diagram.view === 'db' ? null : unequalized(computed)
    if (plain) list.push({ label: 'without equaliser', color: 2, dash: [2, 3], ...view(plain) })
    list.push({ ...IDEAL, ...view(ideal.frequency, diagram.view === 'db' ? levelOf(computed) : 0) })
  }
  diagram.signals.forEach((signal, k) => {
    const curve = frequency?.curves.find((c) => c.signal === signal)
    const label = signal === computed.output ? 'circuit' : signal
    if (curve) list.push({ label, color: signalColor(k), dash: signalDash(k), ...view(curve) })
  })
  return list
}

/** What the delay equaliser starts from; null without one. */
function unequalized({ ideal }: Computed): FrequencyCurve | null {
  if (!ideal?.ideal.equalizer) return null
  const { frequency, db } = ideal.frequency
  const h = ideal.ideal.unequalized
  return {
    frequency,
    db,
    phase: frequency.map((f) => (phase(h, 2 * Math.PI * f) * 180) / Math.PI),
    delay: frequency.map((f) => groupDelay(h, 2 * Math.PI * f)),
  }
}

function magnitudeAxis(diagram: Diagram, computed: Computed): Axis {
  const { roots, ideal, spec } = computed
  const swept = sweptOf(diagram, computed).map((c) => c.db)
  const shown = extentOf(...(swept.length > 0 ? swept : ideal ? [ideal.frequency.db] : []))
  const [lowest, highest] = shown ?? [-60, 0]
  const isOutput = diagram.signals.length === 1 && diagram.signals[0] === computed.output
  const top = (isOutput ? roots?.ac.peakDb : null) ?? (swept.length > 0 ? highest : (ideal?.ac.peakDb ?? highest))
  // Deep enough for what is asked, so that the passband and the edge keep their share of the height.
  const asked = spec && !isShaped(spec) && spec.stopband ? Math.max(...attenuations(spec.stopband)) : 0
  return { title: 'Magnitude, dB', prefixes: false, ...dbBounds(top, lowest, Math.max(80, 1.4 * asked + 10)) }
}

const sweptOf = ({ signals }: Diagram, { frequency }: Computed) =>
  frequency?.curves.filter((c) => signals.includes(c.signal)) ?? []

function phaseAxis(diagram: Diagram, computed: Computed): Axis {
  const { ideal } = computed
  const curves = [...(ideal ? [ideal.frequency] : []), ...sweptOf(diagram, computed)]
  const axis = { title: 'Phase, °', prefixes: false, step: diagram.wrapped ? 90 : 180 }
  const [least, greatest] = diagram.wrapped ? [-180, 180] : (extentOf(...curves.map((c) => c.phase)) ?? [-180, 0])
  const { step } = axis
  const [min, max] = [step * Math.floor(least / step + 1e-6), step * Math.ceil(greatest / step - 1e-6)]
  return { ...axis, min, max: max > min ? max : min + step }
}

/** Where something passes: delay beside a zero of the stop band is without bound and says nothing. */
const HEARD_DB = 40

function delayAxis(diagram: Diagram, computed: Computed): Axis {
  const curves = [...(computed.ideal ? [computed.ideal.frequency] : []), ...sweptOf(diagram, computed)]
  const heard = curves.map(({ db, delay }) => {
    const peak = extentOf(db)?.[1] ?? 0
    return delay.filter((_, k) => db[k]! > peak - HEARD_DB)
  })
  const plain = unequalized(computed)
  const [min, max] = extentOf(...heard, ...(plain ? [plain.delay] : [])) ?? [0, 1e-9]
  return {
    title: 'Group delay, s',
    min: min < 0 ? -roundTop(-min) : 0,
    max: roundTop(Math.max(max, 0) || 1e-9),
  }
}

/** Every cutoff, with its frequency where the magnitude is shown. */
function cutoffMarks({ view, signals }: Diagram, computed: Computed): Mark[] {
  const { roots, ideal } = computed
  const ac = roots?.ac ?? ideal?.ac
  if (!ac || !signals.includes(computed.output)) return []
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

/** Ripple that takes less than this part of the height cannot be seen. */
const TOO_SMALL = 0.03

/** The passband with its ripple, at the circuit's level, where it would be too small to be seen. */
function lensOf(diagram: Diagram, computed: Computed, { min, max }: Axis): Lens | null {
  const { spec, ideal, range } = computed
  if (diagram.lens === false || !spec || isShaped(spec) || !ideal || !diagram.signals.includes(computed.output))
    return null
  const { rippleDb, passbandEdges } = ideal.ideal
  const bands = passbands(spec.response, passbandEdges)
  if (bands.length === 0 || (diagram.lens === undefined && rippleDb > TOO_SMALL * (max - min))) return null
  const top = levelOf(computed) + spec.gain
  const [from, to] = [bands[0]![0], bands.at(-1)![1]]
  const beyond = passbandEdges.length === 2 ? (passbandEdges[1]! / passbandEdges[0]!) ** 0.12 : 1.12
  return {
    x: [Math.max(range.from, from / beyond), Math.min(range.to, to * beyond)],
    y: [top - 2 * rippleDb, top + rippleDb],
  }
}
