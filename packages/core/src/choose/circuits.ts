import type { Approximation } from '../approximation/Approximation.js'
import { approximations } from '../approximation/index.js'
import { type FilterSpec, isShaped, MAX_ORDER } from '../specification/filterSpec.js'
import { withTopology } from '../synthesis/edits.js'
import { topologies } from '../synthesis/index.js'
import { evidenceOf } from '../verdict/evidence.js'
import { ledger } from '../verdict/ledger.js'
import { type Candidate, CANDIDATE_ORDERS, idealOrNone, judged, variant } from './candidates.js'

/**
 * Ways to make what is asked: each approximation at the least order whose response keeps every promise, by every family that
 * makes it. The steepest come first: their circuits are the
 * smallest, and soonest there. Where no order keeps every promise the order that is asked for is taken.
 */
export function* circuitCandidates(spec: FilterSpec, orders = CANDIDATE_ORDERS): Generator<Candidate> {
  const seen = new Set<string>()
  const responses = isShaped(spec) ? [spec] : leastOrders(spec, orders)
  for (const asked of responses) {
    const ideal = idealOrNone(asked)
    if (!ideal) continue
    for (const { id } of topologies) {
      const made = asked.realization?.family === id ? asked : (withTopology(asked, id) as FilterSpec)
      const found = judged(made, ideal, false)
      // What a family cannot make is no candidate, nor what another one has made alike.
      if (found.without !== null || seen.has(likeness(found))) continue
      seen.add(likeness(found))
      yield found
    }
  }
}

/** Verdicts on the level in pass- and stop band. */
const BANDS: readonly string[] = ['passband', 'stopband']

/** What two circuits have in common that are one. */
const likeness = ({ approximation, order, figures }: Candidate): string =>
  [
    approximation,
    order,
    figures.parts,
    figures.amplifiers,
    figures.spread?.toPrecision(9),
    figures.sensitivity?.toPrecision(9),
  ].join()

function* leastOrders(spec: FilterSpec, orders: number): Generator<FilterSpec> {
  if (isShaped(spec)) return
  const bare = { ...spec, realization: undefined }
  const steep = ({ defaultRippleDb, shapesStopband }: Approximation) =>
    Number(shapesStopband === true) + 2 * Number(defaultRippleDb === null)
  const families = [...approximations].sort((a, b) => steep(b) - steep(a))
  for (const family of families) {
    const keeps = (asked: FilterSpec, ofBands: boolean): boolean => {
      const ideal = idealOrNone(asked)
      if (ideal === null) return false
      const alone = { circuit: null, equations: null, transfer: ideal.transfer, referenceDb: 0 }
      const verdicts = ledger(evidenceOf({ promised: { spec: asked, ideal }, ...alone }))
      return verdicts.every((v) => v.met || (ofBands && !BANDS.includes(v.kind)))
    }
    const meets = (order: number): boolean => {
      const asked = variant(bare, family, order)
      // An equaliser takes long, and changes nothing that is asked of the bands.
      if (asked.equalizer && !keeps({ ...asked, equalizer: undefined }, true)) return false
      return keeps(asked, false)
    }
    let order = 1
    while (order <= Math.min(orders, MAX_ORDER) && !meets(order)) order++
    if (order <= orders) yield { ...variant(spec, family, order), realization: spec.realization }
    else if (family.id === spec.approximation && spec.order !== undefined) yield spec
  }
}
