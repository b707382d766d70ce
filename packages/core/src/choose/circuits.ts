import type { Ideal } from '../approximation/approximate.js'
import type { Approximation } from '../approximation/Approximation.js'
import { approximations } from '../approximation/index.js'
import { type FilterSpec, isShaped, MAX_ORDER } from '../specification/filterSpec.js'
import { withTopology } from '../synthesis/edits.js'
import { topologies } from '../synthesis/index.js'
import type { Topology } from '../synthesis/Topology.js'
import { evidenceOf } from '../verdict/evidence.js'
import { ledger } from '../verdict/ledger.js'
import { type Candidate, CANDIDATE_ORDERS, idealOrNone, judged, variant } from './candidates.js'

/**
 * Ways to make what is asked: each approximation at the least order whose response keeps every promise, by every family that
 * makes it. The steepest come first: their circuits are the smallest, and soonest there. What is only near to a response has
 * roots of its own to be looked for, which takes longest, and comes last. Where no order keeps every promise the order that
 * is asked for is taken.
 */
export function* circuitCandidates(spec: FilterSpec, orders = CANDIDATE_ORDERS): Generator<Candidate> {
  const seen = new Set<string>()
  const responses: { asked: FilterSpec; ideal: Ideal }[] = []
  for (const asked of isShaped(spec) ? [spec] : leastOrders(spec, orders)) {
    const ideal = idealOrNone(asked)
    if (!ideal) continue
    responses.push({ asked, ideal })
    yield* made(asked, ideal, EXACT, seen)
  }
  for (const { asked, ideal } of responses) yield* made(asked, ideal, NEAR, seen)
}

const EXACT = topologies.filter((t) => !t.near)
const NEAR = topologies.filter((t) => t.near)

function* made(asked: FilterSpec, ideal: Ideal, by: readonly Topology[], seen: Set<string>): Generator<Candidate> {
  for (const { id } of by) {
    const found = judged(
      asked.realization?.family === id ? asked : (withTopology(asked, id) as FilterSpec),
      ideal,
      false,
    )
    if (found.without !== null) continue
    const like = likeness(found)
    if (like !== null && seen.has(like)) continue
    if (like !== null) seen.add(like)
    yield found
  }
}

/**
 * What two candidates have in common that are one: a chain of the same sections under another family's name, or a circuit that
 * follows from the bands alone; null of what is like no other.
 */
function likeness({ approximation, order, family, sections, figures }: Candidate): string | null {
  if (sections) return `${approximation} ${order} ${sections.join()}`
  if (NEAR.every((t) => t.id !== family)) return null
  return [family, figures.parts, figures.spread, figures.sensitivity].join(' ')
}

/** Verdicts on the level in pass- and stop band. */
const BANDS: readonly string[] = ['passband', 'stopband']

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
