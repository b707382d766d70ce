import { formulate, type Mna } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { sensitivity } from '../analysis/sensitivity.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { approximate, type Ideal } from '../approximation/approximate.js'
import type { Approximation } from '../approximation/Approximation.js'
import { withApproximation } from '../approximation/edits.js'
import { approximations } from '../approximation/index.js'
import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import { abs, add, complex, scale, subtract } from '../numeric/complex.js'
import { evaluate, groupDelay, magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'
import { type ApproximatedSpec, type FilterSpec, isShaped, MAX_ORDER } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { evidenceOf } from '../verdict/evidence.js'
import { ledger } from '../verdict/ledger.js'
import type { Evidence, Verdict } from '../verdict/Requirement.js'

/** What candidates are weighed by; null where there is no such thing. */
export interface CandidateFigures {
  /** Least attenuation in the stop bands less what is asked, dB. */
  readonly attenuationMargin: number | null
  /** Greatest less smallest group delay in the inner 80 % of the passband, s. */
  readonly delayRipple: number | null
  /** The same in periods of the passband's highest edge. */
  readonly delayPeriods: number | null
  readonly highestQ: number
  /** % */
  readonly overshoot: number | null
  /** s, to 1 % */
  readonly settling: number | null
  /** Of the circuit, sources left out. */
  readonly parts: number | null
  readonly amplifiers: number | null
  readonly coils: number | null
  /** Of all coils together, H. */
  readonly inductance: number | null
  /** Largest over smallest value of one kind of part. */
  readonly spread: number | null
  /** Greatest sum of |d ln|H|/d ln x| over the parts inside the passband: what 1 % everywhere does at worst, in %. */
  readonly sensitivity: number | null
}

export interface Candidate {
  /** Empty for a response that follows from its own parameters. */
  readonly approximation: string
  readonly order: number
  /** How the circuit is made; null where none is asked. */
  readonly family: string | null
  /** The specification that makes it. */
  readonly specification: FilterSpec
  readonly ideal: Ideal
  /** What is judged and shown, at the ideal response's level: the circuit's where there is one. */
  readonly response: TransferFunction
  readonly figures: CandidateFigures
  readonly verdicts: readonly Verdict[]
  /** Every requirement is met; of the response where no circuit can be had. */
  readonly met: boolean
  /** Kinds of its sections, from input to output; null of what is no chain. */
  readonly sections: readonly string[] | null
  /** Why there is no circuit; null where there is one, or none is asked. */
  readonly without: string | null
}

/** Orders that are tried where nothing is said. */
export const CANDIDATE_ORDERS = 12

/** Points of the passband at which delay and sensitivity are looked at. */
const DELAY_POINTS = 120
const SENSITIVITY_POINTS = 5

/**
 * Every approximation and order for a specification, one after the other, low orders first. Its own approximation, order
 * and shape parameters do not matter; bands, ripple, gain, requirements and realization do. A response that follows from
 * its own parameters has no candidates.
 */
export function* candidates(spec: FilterSpec, orders = CANDIDATE_ORDERS): Generator<Candidate> {
  if (isShaped(spec)) return
  for (let order = 1; order <= Math.min(orders, MAX_ORDER); order++) {
    for (const family of approximations) {
      const found = candidate(variant(spec, family, order))
      if (found) yield found
    }
  }
}

/** The specification with another family and order, and what that family needs. */
export const variant = (spec: ApproximatedSpec, family: Approximation, order: number): ApproximatedSpec => ({
  ...withApproximation(spec, family.id),
  order,
})

function candidate(spec: ApproximatedSpec): Candidate | null {
  const ideal = idealOrNone(spec)
  return ideal && judged(spec, ideal)
}

/** Null for an approximation that this response cannot have: it is no candidate. */
export function idealOrNone(spec: FilterSpec): Ideal | null {
  try {
    return approximate(spec)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

/**
 * A candidate with its figures and verdicts, of its circuit where one is asked.
 *
 * @param ofResponse whether the step, which all circuits of a response have in common, is among the figures
 */
export function judged(spec: FilterSpec, ideal: Ideal, ofResponse = true): Candidate {
  const { circuit, equations, transfer, referenceDb, sections, without } = circuitOf(spec, ideal)
  const evidence = evidenceOf({ promised: { spec, ideal }, transfer, circuit, equations, referenceDb })
  const verdicts = ledger(evidence)
  // A response that stops DC settles at next to nothing: its step has no overshoot to speak of.
  const stopsDc = ideal.passbands.length > 0 && ideal.passbands.every(([from]) => from > 0)
  const step = stopsDc || !ofResponse ? null : evidence.step
  const margins = verdicts.flatMap((v) => (v.kind === 'stopband' && v.margin !== null ? [v.margin] : []))
  const ripple = delayRipple(ideal, transfer)
  return {
    approximation: isShaped(spec) ? '' : spec.approximation,
    order: ideal.order,
    family: spec.realization?.family ?? null,
    specification: spec,
    ideal,
    response: { ...transfer, gain: transfer.gain * 10 ** (-referenceDb / 20) },
    figures: {
      attenuationMargin: margins.length > 0 ? Math.min(...margins) : null,
      delayRipple: ripple,
      delayPeriods: ripple === null ? null : ripple * Math.max(...ideal.passbandEdges),
      highestQ: Math.max(...transfer.poles.map((p) => abs(p) / (-2 * p.re))),
      overshoot: step?.overshootPercent ?? null,
      settling: step?.settlingTime ?? null,
      ...partFigures(evidence.parts),
      sensitivity: equations && worstSensitivity(spec, ideal, equations),
    },
    verdicts,
    met: verdicts.every((v) => v.met) && without === null,
    sections,
    without,
  }
}

interface JudgedCircuit {
  readonly circuit: Circuit | null
  readonly equations: Mna | null
  /** What is judged: the circuit's response, or where there is none the ideal one. */
  readonly transfer: TransferFunction
  readonly referenceDb: number
  readonly sections: readonly string[] | null
  readonly without: string | null
}

function circuitOf(spec: FilterSpec, ideal: Ideal): JudgedCircuit {
  const alone = { circuit: null, equations: null, transfer: ideal.transfer, referenceDb: 0, sections: null }
  if (!spec.realization) return { ...alone, without: null }
  try {
    const { circuit, referenceDb, sections: chain } = realize(spec, 'exact', ideal)
    const equations = formulate(circuit)
    const sections = chain?.map(({ kind }) => kind) ?? null
    if (isOf(equations, ideal.transfer, referenceDb)) return { ...alone, circuit, equations, sections, without: null }
    return { circuit, equations, transfer: polesAndZeros(equations).transfer, referenceDb, sections, without: null }
  } catch (error) {
    if (error instanceof VoskelError) return { ...alone, without: error.message }
    throw error
  }
}

/** A circuit whose response differs from the ideal one by less than this, relative, has it: amplifiers have no endless gain. */
const SAME_RESPONSE = 1e-6

/**
 * Whether a circuit has a response: two real rational functions of degrees n and m that agree at more than (n + m)/2
 * frequencies of the axis, and with that at their negatives, are one. That costs less than the circuit's own roots.
 */
function isOf(equations: Mna, transfer: TransferFunction, referenceDb: number): boolean {
  // No more natural frequencies than equations that store something.
  const storing = new Set(equations.pattern.rows.filter((_, e) => equations.c[e] !== 0))
  const count = Math.floor((transfer.poles.length + storing.size) / 2) + 1
  const sizes = [...transfer.poles, ...transfer.zeros].map(abs).filter((w) => w > 0)
  if (sizes.length === 0) return false
  const [low, high] = [Math.min(...sizes) / AROUND, Math.max(...sizes) * AROUND]
  const analysis = new AcAnalysis(equations, { range: [low, high] })
  const level = 10 ** (referenceDb / 20)
  let sign = 0
  for (let k = 0; k < count; k++) {
    const omega = low * (high / low) ** ((k + 0.5) / count)
    const wanted = scale(evaluate(transfer, complex(0, omega)), level)
    // What is wrong with it would show against the ideal response.
    const { value: found } = analysis.point(omega, false)
    // Some circuits turn the output over, at all frequencies alike.
    sign ||= abs(subtract(found, wanted)) <= abs(add(found, wanted)) ? 1 : -1
    const off = abs(subtract(found, scale(wanted, sign)))
    if (!(off <= SAME_RESPONSE * abs(wanted) + STOPPED * level)) return false
  }
  return true
}

/** What is stopped this far is rounding beside what passes. */
const STOPPED = 1e-11

/** How far beyond a response's poles and zeros it is looked at. */
const AROUND = 1.5

/** Frequencies of the inner part of the passbands, Hz; an open end is looked at for a decade. */
function inside(ideal: Ideal, points: number): number[] {
  return ideal.passbands.flatMap(([from, to]) => {
    const low = from === 0 ? to / 100 : from
    const high = to === Infinity ? 10 * from : to
    const margin = (high - low) / 10
    const [a, b] = [from === 0 ? low : low + margin, to === Infinity ? high : high - margin]
    return Array.from({ length: points }, (_, k) => a + ((b - a) * k) / (points - 1))
  })
}

const knownRipples = new WeakMap<TransferFunction, number | null>()

/** All circuits that have a response have its delay: it is worked out once. */
function delayRipple(ideal: Ideal, transfer: TransferFunction): number | null {
  const known = knownRipples.get(transfer)
  if (known !== undefined) return known
  const delays = inside(ideal, DELAY_POINTS).map((f) => groupDelay(transfer, 2 * Math.PI * f))
  const ripple = delays.length > 0 ? Math.max(...delays) - Math.min(...delays) : null
  knownRipples.set(transfer, ripple)
  return ripple
}

function partFigures(
  figures: Evidence['parts'],
): Pick<CandidateFigures, 'parts' | 'amplifiers' | 'coils' | 'inductance' | 'spread'> {
  if (!figures) return { parts: null, amplifiers: null, coils: null, inductance: null, spread: null }
  return {
    parts: figures.bought,
    amplifiers: figures.countOf('opamp'),
    coils: figures.countOf('inductor'),
    inductance: figures.valuesOf('inductor').reduce((sum, l) => sum + l, 0),
    spread: figures.spread,
  }
}

function worstSensitivity(spec: FilterSpec, ideal: Ideal, equations: Mna): number | null {
  const frequencies = [...inside(ideal, SENSITIVITY_POINTS), ...ideal.passbandEdges]
    // Where nothing passes, a part of nothing is no figure.
    .filter((f) => magnitudeDb(ideal.transfer, 2 * Math.PI * f) > spec.gain - ideal.rippleDb - 1)
  if (frequencies.length === 0) return null
  const { components } = sensitivity(equations, frequencies)
  return Math.max(
    ...frequencies.map((_, k) => Object.values(components).reduce((sum, c) => sum + Math.abs(c.magnitude[k]), 0)),
  )
}
