import type { Design } from '@voskel/core'
import { and, desc, eq, inArray, sql } from 'drizzle-orm'
import type { Database } from '../db/connect.js'
import { designRevisions, designs } from '../db/schema.js'
import { documentOf } from './documents.js'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

/** How long every earlier state is kept, and from when on only one of each stretch of time; ms. */
const THINNING: readonly { readonly until: number; readonly each: number }[] = [
  { until: HOUR, each: 0 },
  { until: DAY, each: 10 * MINUTE },
  { until: 7 * DAY, each: HOUR },
  { until: 30 * DAY, each: DAY },
]

/** Saves after which a design's earlier states are thinned: seldom enough to cost nothing. */
const THIN_EVERY = 25

export interface RevisionSummary {
  revision: number
  name: string
  savedAt: number
}

/**
 * Which earlier states are dropped at a time: all older than the last stretch, and of each stretch all but the last.
 *
 * @param now ms since 1970
 */
export function toBeDropped(kept: readonly RevisionSummary[], now: number): number[] {
  const seen = new Set<string>()
  const dropped: number[] = []
  for (const { revision, savedAt } of [...kept].sort((a, b) => b.revision - a.revision)) {
    const age = now - savedAt
    const rule = THINNING.find(({ until }) => age < until)
    const stretch = rule && (rule.each === 0 ? `r${revision}` : `${rule.each} ${Math.floor(savedAt / rule.each)}`)
    if (stretch === undefined || seen.has(stretch)) dropped.push(revision)
    else seen.add(stretch)
  }
  return dropped
}

/** What a design was. */
export interface StoredRevision {
  revision: number
  savedAt: number
  document: Design
}

export type RevisionRepo = ReturnType<typeof revisionRepo>

/** Queries on what designs were before. @param now the clock, ms since 1970 */
export function revisionRepo(db: Database, now: () => number) {
  /** The statement that keeps the state of a design that is about to be saved over. */
  const keep = (design: string, revision: number) =>
    db
      .insert(designRevisions)
      .select(
        db
          .select({
            designId: designs.id,
            revision: designs.revision,
            name: designs.name,
            document: designs.document,
            savedAt: sql<number>`${designs.updatedAt}`.as('saved_at'),
          })
          .from(designs)
          .where(and(eq(designs.id, design), eq(designs.revision, revision))),
      )
      .onConflictDoNothing()

  const summary = {
    revision: designRevisions.revision,
    name: designRevisions.name,
    savedAt: designRevisions.savedAt,
  }

  /** Earlier states, the latest first. */
  const list = (design: string): Promise<RevisionSummary[]> =>
    db
      .select(summary)
      .from(designRevisions)
      .where(eq(designRevisions.designId, design))
      .orderBy(desc(designRevisions.revision))

  async function maybeRead(design: string, revision: number): Promise<StoredRevision | null> {
    const where = and(eq(designRevisions.designId, design), eq(designRevisions.revision, revision))
    const row = (await db.select().from(designRevisions).where(where))[0]
    return row ? { revision, savedAt: row.savedAt, document: documentOf(row.document, revision) } : null
  }

  async function thin(design: string, revision: number): Promise<void> {
    if (revision % THIN_EVERY !== 0) return
    const dropped = toBeDropped(await list(design), now())
    if (dropped.length === 0) return
    await db
      .delete(designRevisions)
      .where(and(eq(designRevisions.designId, design), inArray(designRevisions.revision, dropped)))
  }

  return { keep, list, maybeRead, thin }
}
