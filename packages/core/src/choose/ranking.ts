import type { Candidate } from './candidates.js'

/** What candidates are weighed by. */
export const WEIGHED = [
  { id: 'margin', name: 'margin', better: 'more' },
  { id: 'parts', name: 'parts', better: 'less' },
  { id: 'amplifiers', name: 'amplifiers', better: 'less' },
  { id: 'coils', name: 'coils', better: 'less' },
  { id: 'highestQ', name: 'highest Q', better: 'less' },
  { id: 'spread', name: 'spread of values', better: 'less' },
  { id: 'sensitivity', name: 'sensitivity', better: 'less' },
  { id: 'delayPeriods', name: 'delay', better: 'less' },
] as const
export type WeighedId = (typeof WEIGHED)[number]['id']

/** How much each counts, from 0. */
export type Weights = Readonly<Record<WeighedId, number>>

export const USUAL_WEIGHTS: Weights = {
  margin: 1,
  parts: 2,
  amplifiers: 2,
  coils: 2,
  highestQ: 1,
  spread: 1,
  sensitivity: 2,
  delayPeriods: 0,
}

type Weighable = Pick<Candidate, 'figures' | 'verdicts' | 'met'>

/** Margins beyond this part of their limit are no better, and one without a limit counts as none. */
const AMPLE = 1

/**
 * What a candidate costs by one of the measures, 0 at best: parts and amplifiers by their number, a delay that varies by its
 * periods, the rest by powers of ten, the smallest margin relative to its limit.
 */
function cost({ figures, verdicts }: Weighable, id: WeighedId): number {
  switch (id) {
    case 'margin': {
      const shares = verdicts.flatMap(({ margin, limit }) =>
        margin === null || limit === 0 ? [] : [margin / Math.abs(limit)],
      )
      return shares.length === 0 ? 0 : AMPLE - Math.min(AMPLE, Math.max(-AMPLE, Math.min(...shares)))
    }
    case 'parts':
      return (figures.parts ?? 0) / 10
    case 'amplifiers':
      return (figures.amplifiers ?? 0) / 3
    case 'coils':
      return (figures.coils ?? 0) / 2
    case 'delayPeriods':
      return 3 * (figures.delayPeriods ?? 0)
    default:
      return Math.log10(1 + (figures[id] ?? 0))
  }
}

/**
 * Candidates from best to worst: those that keep every promise first, then by the sum of weighed costs. The same weights and
 * candidates give the same order.
 */
export function ranked<C extends Weighable>(candidates: readonly C[], weights: Weights): C[] {
  const scores = new Map(
    candidates.map((c) => [c, WEIGHED.reduce((sum, { id }) => sum + weights[id] * cost(c, id), 0)]),
  )
  return [...candidates].sort((a, b) => Number(b.met) - Number(a.met) || scores.get(a)! - scores.get(b)!)
}
