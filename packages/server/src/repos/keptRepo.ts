import { type KeptFacts, keptFacts, KeptSchema } from '@voskel/core'
import { desc, eq, sql } from 'drizzle-orm'
import type { Database } from '../db/connect.js'
import { designs, keptCurves } from '../db/schema.js'

/** Kept curves without their numbers. */
export interface KeptSummary {
  id: string
  savedAt: number
  /** null where they can no longer be read. */
  facts: KeptFacts | null
}

export type KeptRepo = ReturnType<typeof keptRepo>

/** Queries on pinned runs and measured data. @param now the clock, ms since 1970 */
export function keptRepo(db: Database, now: () => number, newId: () => string) {
  /** Those of a project, the latest first. */
  async function list(project: string): Promise<KeptSummary[]> {
    const { id, savedAt, facts } = keptCurves
    const rows = await db
      .select({ id, savedAt, facts })
      .from(keptCurves)
      .where(eq(keptCurves.projectId, project))
      .orderBy(desc(savedAt))
    return rows.map((row) => ({ ...row, facts: readable(row.facts) }))
  }

  /** Packed as the core packs them; null where there are none of this name. */
  async function maybeRead(id: string): Promise<Uint8Array | null> {
    const [row] = await db.select({ packed: keptCurves.packed }).from(keptCurves).where(eq(keptCurves.id, id))
    return row ? row.packed : null
  }

  /** @param packed as the core packs them. @throws VoskelError `KEPT_INVALID` */
  async function keep(project: string, packed: Uint8Array): Promise<string> {
    const id = newId()
    await keepAs(id, project, packed)
    return id
  }

  /** Keeps curves under a name; those that it has already stay. */
  async function keepAs(id: string, project: string, packed: Uint8Array): Promise<void> {
    const { facts } = keptFacts(packed)
    const row = { id, projectId: project, name: facts.name, facts: JSON.stringify(facts), savedAt: now() }
    await db
      .insert(keptCurves)
      .values({ ...row, packed: Buffer.from(packed) })
      .onConflictDoNothing()
  }

  /** Names of the designs that show them, those in the bin too. */
  async function shownBy(id: string): Promise<string[]> {
    const names = `"id":${JSON.stringify(id)}`
    const rows = await db
      .select({ name: designs.name })
      .from(designs)
      .where(sql`instr(${designs.document}, ${names}) > 0`)
    return rows.map(({ name }) => name)
  }

  /** True where there were such curves. */
  async function remove(id: string): Promise<boolean> {
    return (await db.delete(keptCurves).where(eq(keptCurves.id, id)).returning({ id: keptCurves.id })).length > 0
  }

  return { list, maybeRead, keep, keepAs, shownBy, remove }
}

function readable(text: string): KeptFacts | null {
  try {
    const parsed = KeptSchema.safeParse(JSON.parse(text))
    return parsed.success ? parsed.data : null
  } catch {
    return null
  }
}
