import { formatQuantity } from '../quantity/formatQuantity.js'
import type { Verdict } from './Requirement.js'

/** A margin to spare, or what was achieved, of rounding size beside the limit is none. */
const NEGLIGIBLE = 1e-6

/** What a ledger says of one requirement. */
export interface VerdictWords {
  /** "≤ 0.5000 dB" */
  readonly asked: string
  readonly achieved: string
  /** With its sign; "±0" where the requirement is met to the point. */
  readonly margin: string
  /** "at 1.000 kHz"; empty for what is decided nowhere in particular. */
  readonly place: string
}

/** A verdict in words, each quantity with its unit. */
export function verdictWords(verdict: Verdict): VerdictWords {
  const { sense, limit, unit, achieved, at, atUnit } = verdict
  return {
    asked: `${sense === 'at most' ? '≤' : '≥'} ${formatQuantity(limit, unit)}`,
    achieved: achieved === null ? 'none' : formatQuantity(isNothing(achieved, limit) ? 0 : achieved, unit),
    margin: marginText(verdict),
    place: at === null || atUnit === null ? '' : `at ${formatQuantity(at, atUnit)}`,
  }
}

/** How much of the limit is used up, 0 … 1. */
export function limitUsed({ achieved, limit, sense, met }: Verdict): number {
  if (achieved === null) return 1
  // Against a limit of 0, or one of the other sign, there is no share: all is used up or nothing is.
  const [part, whole] = sense === 'at most' ? [achieved, limit] : [limit, achieved]
  if (!(whole > 0) || part < 0) return met ? 0 : 1
  return Math.min(1, part / whole)
}

/** The margin of a verdict in words. */
export function marginText({ margin, limit, unit, met }: Pick<Verdict, 'margin' | 'limit' | 'unit' | 'met'>): string {
  if (margin === null) return 'no value'
  // What is met by rounding is met to the point.
  if (met && margin <= 0) return '±0'
  if (met && margin <= NEGLIGIBLE * Math.abs(limit)) return '±0'
  return `${margin > 0 ? '+' : ''}${formatQuantity(margin, unit, 3)}`
}

const isNothing = (value: number, limit: number) => Math.abs(value) < NEGLIGIBLE * Math.abs(limit)
