import { measureSensitivities } from '../analysis/measureSensitivity.js'
import { formulate, type Mna } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { movedResponse, type RootMotion, rootMotions } from '../analysis/rootMotion.js'
import { type Sensitive, sensitiveParts, sensitivity } from '../analysis/sensitivity.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { readOutput } from '../analysis/signals.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { flatten } from '../circuit/flatten.js'
import { VoskelError } from '../errors/VoskelError.js'
import { abs, add, complex, type Complex, multiply } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { isLimit, ofResponse } from '../specification/requirements/index.js'
import type { ValueRequirement } from '../specification/requirements/value.js'
import { evidenceOf, type Subject } from './evidence.js'
import { ledger } from './ledger.js'
import { measuredOf, valueAs } from './readings.js'
import type { Reads } from './Requirement.js'

/** How a part decides a requirement. */
export interface Influence {
  /** As in the netlist. */
  readonly part: string
  /** What one per cent more of its value does to the requirement's margin, in the unit of its limit; negative: it endangers it. */
  readonly perPercent: number
}

export type InfluenceSubject = Omit<Subject, 'transfer'> & {
  readonly circuit: NonNullable<Subject['circuit']>
  readonly transfer?: TransferFunction
}

/** A change below this part of the greatest is none. */
const NOTHING = 1e-9

/** By requirement and part: x·d(margin)/dx. */
type Slopes = Map<string, Map<string, number>>

/**
 * How every part decides every requirement, by the verdict's id, the greatest first; what has no slope (it does not exist there, or
 * jumps) is left out. Where two places are equally near to a limit, it is what happens as the value grows.
 *
 * What the response alone decides follows from the motion of its roots, which adjoint solves give for all parts at once; what is
 * read at a frequency from the adjoint there; all else from differences.
 *
 * @param subject as for `evidenceOf`, with a circuit; its equations and its response where they are there already
 * @param temperature K
 */
export function influences(subject: InfluenceSubject, temperature?: number): Record<string, Influence[]> {
  const whole = subject.whole ?? formulate(subject.circuit, temperature === undefined ? {} : { temperature })
  const linear = subject.equations ?? smallSignal(whole)
  const requirements = subject.requirements ?? subject.promised?.spec.requirements ?? []
  const slopes: Slopes = new Map()
  // Another value moves the operating point of devices: nothing follows from the equations as they are.
  const isLinear = whole.devices.length === 0
  const study = studyOf(subject)
  const response = requirements.filter((r) => (isLimit(r) ? ofResponse(r) : isOfOutput(r, study.output)))
  if (isLinear) {
    const to = sensitiveParts(linear)
    const transfer = subject.transfer ?? polesAndZeros(linear, study).transfer
    const motions = rootMotions(linear, transfer, study, to)
    const known = motions && fromMotions({ ...subject, requirements: response }, transfer, motions)
    known?.forEach((own, id) => slopes.set(id, own))
    for (const asked of requirements) if (!isLimit(asked)) atFrequency(linear, subject, asked, to, slopes)
  }
  const isKnown = slopes.size > 0 || response.length + Number(subject.promised !== null) === 0
  const left = requirements.filter((r) => (isLimit(r) ? !(isKnown && ofResponse(r)) : !slopes.has(r.id)))
  if (left.length > 0 || !isKnown)
    byDifferences({ ...subject, requirements: left, promised: isKnown ? null : subject.promised }, slopes, temperature)
  return ranked(slopes)
}

const studyOf = ({ input, output }: Pick<Subject, 'input' | 'output'>) => ({
  ...(input !== undefined && { input }),
  ...(output !== undefined && { output }),
})

/** Whether a promised value is a measure of the output itself. */
const isOfOutput = ({ of }: ValueRequirement, output = 'out'): boolean =>
  'measure' in of && (of.output ?? output) === output

/** Relative motion of a root, and of the gain, by which slopes are taken: what bends is lost below the seventh digit. */
const STEP = 2 ** -13
/** A bend beyond this part of the slope is a corner: two places are equally near to the limit. */
const CORNER = 0.02
/** Margins that differ by less are rounding, against their size. */
const ROUNDING = 1e-12

/** Slopes of what the response decides, by the chain rule over its roots. */
function fromMotions(subject: InfluenceSubject, transfer: TransferFunction, motions: readonly RootMotion[]): Slopes {
  const margins = (h: TransferFunction): Record<string, number | null> => {
    const { circuit: _circuit, equations: _equations, whole: _whole, ...rest } = subject
    const evidence = evidenceOf({ ...rest, transfer: h, readings: (own) => new OfResponse(own) })
    return Object.fromEntries(ledger(evidence).map((v) => [v.id, v.margin]))
  }
  const now = margins(transfer)
  const ids = Object.keys(now).filter((id) => isNumber(now[id]))
  const slopes = new Map(ids.map((id) => [id, new Map<string, number>()] as const))
  const corners = new Set<string>()
  for (const direction of directionsOf(transfer, motions)) {
    const [above, below] = [STEP, -STEP].map((by) => margins(direction.moved(by)))
    for (const id of ids) {
      if (corners.has(id)) continue
      const [up, down] = [above[id], below[id]]
      const at = now[id]!
      if (!isNumber(up) || !isNumber(down)) {
        corners.add(id)
        continue
      }
      const bend = Math.abs(up - 2 * at + down)
      const moves = Math.max(Math.abs(up - at), Math.abs(down - at))
      if (bend > CORNER * moves + ROUNDING * Math.max(1, Math.abs(at))) {
        corners.add(id)
        continue
      }
      const slope = (up - down) / (2 * STEP)
      const own = slopes.get(id)!
      direction.shares.forEach((share, k) => {
        if (share !== 0) own.set(motions[k].name, (own.get(motions[k].name) ?? 0) + share * slope)
      })
    }
  }
  if (corners.size > 0) asItGrows(margins, transfer, motions, now, corners, slopes)
  return slopes
}

/** Slopes of what turns at this very place: by what happens as each value grows. */
function asItGrows(
  margins: (h: TransferFunction) => Record<string, number | null>,
  transfer: TransferFunction,
  motions: readonly RootMotion[],
  now: Readonly<Record<string, number | null>>,
  corners: ReadonlySet<string>,
  slopes: Slopes,
): void {
  for (const id of corners) slopes.set(id, new Map())
  for (const motion of motions) {
    const [one, two] = [1, 2].map((k) => margins(movedResponse(transfer, motion, k * STEP)))
    for (const id of corners) {
      const [a, b, at] = [one[id], two[id], now[id]]
      if (isNumber(a) && isNumber(b) && isNumber(at))
        slopes.get(id)!.set(motion.name, (-3 * at + 4 * a - b) / (2 * STEP))
    }
  }
}

/** A way in which a response can move by itself, and how far each part moves it along. */
interface Direction {
  moved(by: number): TransferFunction
  readonly shares: readonly number[]
}

/** The gain, each real root, and both parts of each pair: in parts of their size. */
function directionsOf(h: TransferFunction, motions: readonly RootMotion[]): Direction[] {
  const directions: Direction[] = [
    { moved: (by) => ({ ...h, gain: h.gain * Math.exp(by) }), shares: motions.map((m) => m.gain) },
  ]
  const sizes = [...h.poles, ...h.zeros].map(abs).filter((v) => v > 0)
  const least = sizes.reduce((a, b) => Math.min(a, b), Infinity)
  for (const kind of ['poles', 'zeros'] as const) {
    h[kind].forEach((root, k) => {
      if (root.im < 0) return
      const size = abs(root) || least
      const along = (way: Complex, part: (c: Complex) => number) => {
        const shares = motions.map((m) => part(m[kind][k]) / size)
        if (shares.every((share) => share === 0)) return
        directions.push({
          shares,
          moved: (by) => ({
            ...h,
            [kind]: h[kind].map((r, j) => {
              const step = multiply(way, complex(by * size))
              if (j === k) return add(r, step)
              // Its twin mirrors it.
              const isTwin = root.im > 0 && r.re === root.re && r.im === -root.im
              return isTwin ? add(r, { re: step.re, im: -step.im }) : r
            }),
          }),
        })
      }
      along(complex(1), (c) => c.re)
      if (root.im > 0) along(complex(0, 1), (c) => c.im)
    })
  }
  return directions
}

/** What is promised of a response alone, from what was measured of it. */
class OfResponse implements Reads {
  constructor(private readonly measured: Parameters<typeof measuredOf>[1]) {}

  read: Reads['read'] = (reading) =>
    'measure' in reading
      ? measuredOf(reading.measure, this.measured)
      : { value: null, unit: '', at: null, atUnit: null }
}

/** Slopes of a promised value of a signal at a frequency, by the adjoint there. */
function atFrequency(
  linear: Mna,
  subject: InfluenceSubject,
  { id, of, min, max }: ValueRequirement,
  to: readonly Sensitive[],
  slopes: Slopes,
): void {
  if (!('frequency' in of)) return
  try {
    const output = readOutput(linear, of.signal)
    const asked = { ...studyOf(subject), output }
    const { components } = sensitivity(linear, [of.frequency], asked, to)
    const ac = new AcAnalysis(linear, asked)
    const value = ac.at(complex(0, 2 * Math.PI * of.frequency))
    const achieved = (magnitude: number, phase: number): number => {
      if (of.as === 'db') return ((ac.isPower ? 10 : 20) / Math.LN10) * magnitude
      if (of.as === 'deg') return (phase * 180) / Math.PI
      if (of.as === 'abs') return abs(value) * magnitude
      const moved = multiply(value, complex(magnitude, phase))
      return of.as === 're' ? moved.re : moved.im
    }
    // The margin to the nearer limit shrinks as that limit is approached.
    const reached = of.as === 'deg' ? null : valueAs(value, of.as, ac.isPower)
    const isLeast = max === undefined || (min !== undefined && (reached === null || reached - min <= max - reached))
    const own = new Map<string, number>()
    for (const [name, { magnitude, phase }] of Object.entries(components)) {
      const slope = achieved(magnitude[0], phase[0])
      if (Number.isFinite(slope)) own.set(name, isLeast ? slope : -slope)
    }
    // A phase between two limits needs its turn, which one place does not tell.
    if (reached !== null || min === undefined || max === undefined) slopes.set(id, own)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
  }
}

/** Slopes of all that is left, by differences of the whole circuit. */
function byDifferences(subject: InfluenceSubject, slopes: Slopes, temperature?: number): void {
  const evidence = (flat: Mna['circuit']): Record<string, number | null> => {
    try {
      const whole = formulate(flat, temperature === undefined ? {} : { temperature })
      const equations = smallSignal(whole)
      const { transfer } = polesAndZeros(equations, studyOf(subject))
      const verdicts = ledger(evidenceOf({ ...subject, transfer, equations, whole }))
      return Object.fromEntries(verdicts.filter((v) => !slopes.has(v.id)).map((v) => [v.id, v.margin]))
    } catch (error) {
      // A value at which the circuit cannot be solved has no margins.
      if (error instanceof VoskelError) return {}
      throw error
    }
  }
  for (const [part, byId] of Object.entries(measureSensitivities(flatten(subject.circuit), evidence)))
    for (const [id, slope] of Object.entries(byId)) {
      if (slope.value === null) continue
      const own = slopes.get(id) ?? new Map<string, number>()
      slopes.set(id, own.set(part, slope.value))
    }
}

function ranked(slopes: Slopes): Record<string, Influence[]> {
  const found: Record<string, Influence[]> = {}
  for (const [id, own] of slopes) {
    const most = Math.max(0, ...[...own.values()].map(Math.abs))
    const list = [...own]
      .filter(([, slope]) => Math.abs(slope) > NOTHING * most)
      .map(([part, slope]): Influence => ({ part, perPercent: slope / 100 }))
      .sort((a, b) => Math.abs(b.perPercent) - Math.abs(a.perPercent))
    if (list.length > 0) found[id] = list
  }
  return found
}

const isNumber = (value: number | null | undefined): value is number =>
  value !== null && value !== undefined && Number.isFinite(value)
