import { approximation } from '../approximation/index.js'
import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type AcMeasures, acMeasures } from '../measure/acMeasures.js'
import { crossings, extrema } from '../measure/extrema.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { type Recognised, recognise } from '../recognise/recognise.js'
import { roundingOf } from '../recognise/rounding.js'
import { type FilterSpecInput, HALF_POWER_DB, parseSpec } from '../specification/filterSpec.js'
import { type AskedStudy, studied, verify } from './verify.js'

/** Significant digits of what a first specification asks, on the side that is met. */
const DIGITS = 3

/** dB a decade of one order, and what still counts as flat. */
const SLOPE = 20
const FLAT = 1

/** Highest order that is asked at once. */
const MOST_ORDER = 20

/**
 * A specification to begin with for a circuit that was drawn: its kind of response, its cutoffs and its gain as they are
 * today, rounded to the side on which it meets them. Butterworth's passband ends where the cutoff is.
 *
 * @returns null where it has no cutoff: nothing says what it is to pass
 */
export function firstSpecification(
  ac: Pick<AcMeasures, 'peakDb' | 'cutoffs' | 'rolloffDbPerDecade'>,
): FilterSpecInput | null {
  const { peakDb, cutoffs, rolloffDbPerDecade: falls } = ac
  const [low, high] = [cutoffs[0], cutoffs.at(-1)]
  if (peakDb === null || low === undefined || high === undefined) return null
  const passesDc = Math.abs(falls.below) < FLAT
  const order = (slope: number) => Math.min(MOST_ORDER, Math.max(1, Math.round(Math.abs(slope) / SLOPE)))
  const common = { approximation: 'butterworth' as const, gain: Number(peakDb.toFixed(2)) || 0 }
  if (cutoffs.length === 1 && passesDc)
    return { ...common, response: 'lowpass', order: order(falls.above), passband: { edges: [rounded(high, -1)] } }
  if (cutoffs.length === 1)
    return { ...common, response: 'highpass', order: order(falls.below), passband: { edges: [rounded(low, 1)] } }
  if (cutoffs.length !== 2 || passesDc) return null
  const edges: [number, number] = [rounded(low, 1), rounded(high, -1)]
  return edges[0] < edges[1]
    ? {
        ...common,
        response: 'bandpass',
        order: order(Math.min(Math.abs(falls.below), Math.abs(falls.above))),
        passband: { edges },
      }
    : null
}

/** What a circuit is, and the specification that it meets today; null where none is. */
export interface WhatItIs {
  readonly recognised: Recognised
  readonly proposed: FilterSpecInput | null
}

/**
 * What a circuit is, and what it could promise: by the family that it is of, where it is one and meets that, else by its
 * cutoffs and its gain.
 *
 * @param transfer of the circuit
 * @param study what is its input and its output
 */
export function whatItIs(circuit: Circuit, transfer: TransferFunction, study: AskedStudy = {}): WhatItIs {
  const { equations, asked } = studied(circuit, study)
  const recognised = recognise(transfer, roundingOf(equations, asked))
  const ofFamily = named(transfer, recognised)
  const general = firstSpecification(acMeasures(transfer))
  const isMet = (spec: FilterSpecInput) => {
    try {
      const verdicts = verify(parseSpec(spec), circuit, undefined, study)
      return verdicts.length > 0 && verdicts.every((v) => v.met)
    } catch (error) {
      // What cannot be judged cannot be promised.
      if (error instanceof VoskelError) return false
      throw error
    }
  }
  const proposed = [ofFamily, general].find((spec) => spec !== null && isMet(spec)) ?? null
  return { recognised, proposed }
}

const BY_APPROXIMATION = ['lowpass', 'highpass', 'bandpass', 'bandstop'] as const

/** The specification of the family that a response is of: its ripple and its edges as they are. */
function named(h: TransferFunction, is: Recognised): FilterSpecInput | null {
  const { order, gainDb } = is
  const response = BY_APPROXIMATION.find((r) => r === is.response)
  if (is.approximation === null || gainDb === null || !response) return null
  const found = extrema(h)
  const family = approximation(is.approximation)
  const lossDb = family.defaultRippleDb === null ? is.rippleDb! : HALF_POWER_DB
  const hertz = crossings(h, gainDb - lossDb, found).map((w) => w / (2 * Math.PI))
  const [low, high] = [hertz[0], hertz.at(-1)]
  if (low === undefined || high === undefined) return null
  const edges = {
    lowpass: [rounded(high, -1)],
    highpass: [rounded(low, 1)],
    bandpass: [rounded(low, 1), rounded(high, -1)],
    bandstop: [rounded(low, -1), rounded(high, 1)],
  }[response]
  const inside = (f: number) =>
    response === 'lowpass'
      ? f <= edges[0]
      : response === 'highpass'
        ? f >= edges[0]
        : response === 'bandpass'
          ? f >= edges[0] && f <= edges[1]
          : f <= edges[0] || f >= edges[1]
  const losses = found.flatMap((e) => (inside(e.omega / (2 * Math.PI)) ? [gainDb - e.db] : []))
  const ripple = family.defaultRippleDb === null ? rounded(Math.max(lossDb, ...losses) - LEEWAY_DB, 1) : undefined
  return {
    response,
    approximation: is.approximation as 'butterworth',
    order,
    gain: Number(gainDb.toFixed(2)) || 0,
    passband: { edges: edges as [number] | [number, number], ...(ripple !== undefined && { ripple }) },
    ...(is.attenuationDb !== null && { stopband: { attenuation: rounded(is.attenuationDb + LEEWAY_DB, -1) } }),
  }
}

/** dB of rounding that must not cost a digit. */
const LEEWAY_DB = 1e-6

/** A number with few digits, not below (1) or not above (−1) what it was. */
function rounded(value: number, side: 1 | -1): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - DIGITS + 1)
  const steps = side > 0 ? Math.ceil(value / step) : Math.floor(value / step)
  return Number((steps * step).toPrecision(DIGITS))
}
