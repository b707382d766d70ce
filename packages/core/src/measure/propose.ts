import type { Mna } from '../analysis/mna.js'
import { maybeTransfer } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { type Waveform, waveformKind } from '../circuit/waveforms/index.js'
import { abs, type Complex } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { type StepMeasures, stepMeasures } from './stepMeasures.js'

/** Decades shown beyond the outermost poles and zeros on each side. */
const BELOW = 1.4
const ABOVE = 1.1

/** What lies further out than these decades, is damped (real part by magnitude) and faded by this (80 dB), shows nothing. */
const FAR = 1.2
const DAMPED = 0.25
const FADED = 4

/** A window shows the settled response for this part of it. */
const SETTLED_PART = 0.35

/**
 * A frequency range, Hz, that shows what a response does: its poles, zeros and what else matters, with room around,
 * rounded outwards to 1, 2 or 5.
 *
 * @param also further frequencies that must be inside, Hz
 */
export function proposedRange(h: TransferFunction, also: readonly number[] = []): { from: number; to: number } {
  const roots = [...h.poles, ...h.zeros].filter((r) => abs(r) > 0)
  const levels = roots.map((r) => gainLogAt(h, abs(r)))
  const highest = levels.reduce((a, b) => Math.max(a, b), -Infinity)
  const frequencies = (kept: (root: Complex, level: number) => boolean) =>
    roots.filter((r, k) => kept(r, levels[k])).map((r) => abs(r) / (2 * Math.PI))
  const near = frequencies((r, level) => Math.abs(r.re) < DAMPED * abs(r) || level > highest - FADED)
  const marks = frequencies(() => true).filter((f) => near.some((n) => Math.abs(Math.log10(f / n)) < FAR))
  const all = [...marks, ...also.filter((f) => f > 0)]
  if (all.length === 0) return { from: 1, to: 1e6 }
  return { from: roundDown(Math.min(...all) / 10 ** BELOW), to: roundUp(Math.max(...all) * 10 ** ABOVE) }
}

/** Common logarithm of |H| at an angular frequency, rad/s, up to the gain. */
function gainLogAt({ poles, zeros }: TransferFunction, omega: number): number {
  const log = (roots: readonly Complex[]) =>
    roots.reduce((sum, r) => sum + Math.log10(Math.max(Math.hypot(r.re, omega - r.im), 1e-12 * omega)), 0)
  return log(zeros) - log(poles)
}

/** The same from the values of the parts alone, where nobody knows poles and zeros: around the corners that they can make. */
export function usualRange(mna: Mna): { from: number; to: number } {
  const values = (kind: string, field: string) =>
    mna.circuit.elements.filter((e) => e.kind.id === kind).map((e) => Math.abs(e.values[field]))
  const ends = (list: readonly number[]) => {
    const some = list.filter((v) => v > 0)
    return some.length > 0 ? [some.reduce((a, b) => Math.min(a, b)), some.reduce((a, b) => Math.max(a, b))] : []
  }
  const [r, l, c] = [
    ends(values('resistor', 'resistance')),
    ends(values('inductor', 'inductance')),
    ends(values('capacitor', 'capacitance')),
  ]
  const corners = [
    ...l.flatMap((x) => c.map((y) => 1 / Math.sqrt(x * y))),
    ...(l.length === 0 ? r.flatMap((x) => c.map((y) => 1 / (x * y))) : []),
    ...(c.length === 0 ? r.flatMap((x) => l.map((y) => x / y)) : []),
  ]
  return proposedRange(
    { poles: [], zeros: [], gain: 1 },
    corners.map((w) => w / (2 * Math.PI)),
  )
}

/** A time window, s, in which a step response rises and settles. */
export function proposedWindow(h: TransferFunction, step: StepMeasures): number {
  if (step.settlingTime) return roundUp(step.settlingTime / (1 - SETTLED_PART))
  const decay = Math.min(...h.poles.map((p) => -p.re).filter((d) => d > 0))
  return Number.isFinite(decay) ? roundUp(7 / decay) : 1
}

/** Corners and longest steps of a source that a proposed window holds at the most. */
const MOST_EVENTS = 300

/** Corners and longest steps a second of a waveform that goes on; 0 for one that comes to rest. */
function eventRate(waveform: Waveform): number {
  const kind = waveformKind(waveform)
  const span = kind.span(waveform)
  const later = kind.corners(waveform, 2 * span).length - kind.corners(waveform, span).length
  return span > 0 ? later / span + 1 / kind.longestStep(waveform) : 0
}

/**
 * How long a transient should run, s: until the output has settled and every source has shown what it does.
 *
 * @returns null where neither says anything: sources that rest, and no poles
 */
export function proposedStop(mna: Mna, output: string): number | null {
  const sources = mna.circuit.elements.filter((e) => e.kind.takesWaveform)
  const spans = sources.flatMap(({ waveform }) => (waveform ? [waveformKind(waveform).span(waveform)] : []))
  const linear = smallSignal(mna)
  const settling = sources.flatMap(({ name }) => {
    const transfer = maybeTransfer(linear, { input: name, output })
    const stable = transfer && transfer.poles.length > 0 && transfer.poles.every((p) => p.re < 0)
    return stable ? [proposedWindow(transfer, stepMeasures(transfer))] : []
  })
  const shown = Math.max(0, ...spans)
  // A fast source is not followed for thousands of periods until a slow mode has settled.
  const rate = sources.reduce((sum, { waveform }) => sum + (waveform ? eventRate(waveform) : 0), 0)
  const longest = Math.max(shown, Math.min(Math.max(0, ...settling), rate > 0 ? MOST_EVENTS / rate : Infinity))
  return longest > 0 ? roundUp(longest) : null
}

const STEPS = [1, 2, 5, 10]

function roundUp(value: number): number {
  const decade = 10 ** Math.floor(Math.log10(value))
  return plain(STEPS.find((s) => s * decade >= value * (1 - 1e-12))! * decade)
}

function roundDown(value: number): number {
  const decade = 10 ** Math.floor(Math.log10(value))
  return plain(STEPS.findLast((s) => s * decade <= value * (1 + 1e-12))! * decade)
}

/** One digit, without what multiplying by a decade has left behind it. */
const plain = (value: number): number => Number(value.toPrecision(1))
