import { and, eq, isNull } from 'drizzle-orm'
import type { Design } from '@voskel/core'
import type { Database } from '../db/connect.js'
import { designs } from '../db/schema.js'
import { Problem } from '../problem.js'

/** A design as it is kept. */
export interface StoredDesign {
  id: string
  projectId: string
  revision: number
  updatedAt: number
  document: Design
}

/** @throws Problem where a row does not hold what was put into it */
function documentOf(text: string): Design {
  try {
    return JSON.parse(text) as Design
  } catch {
    throw new Problem(
      500,
      'This design cannot be read',
      'Its row is damaged; npm run restore brings an earlier copy back.',
    )
  }
}

export type DesignRepo = ReturnType<typeof designRepo>

/** Queries on designs. @param now the clock, ms since 1970 */
export function designRepo(db: Database, now: () => number, newId: () => string) {
  const alive = (id: string) => and(eq(designs.id, id), isNull(designs.deletedAt))
  const unpack = (row: typeof designs.$inferSelect): StoredDesign => ({
    id: row.id,
    projectId: row.projectId,
    revision: row.revision,
    updatedAt: row.updatedAt,
    document: documentOf(row.document),
  })

  async function maybeRead(id: string): Promise<StoredDesign | null> {
    const row = (await db.select().from(designs).where(alive(id)))[0]
    return row ? unpack(row) : null
  }

  async function insert(projectId: string, document: Design, id = newId()): Promise<StoredDesign> {
    const row = {
      id,
      projectId,
      name: document.name,
      document: JSON.stringify(document),
      revision: 1,
      createdAt: now(),
      updatedAt: now(),
      deletedAt: null,
    }
    await db.insert(designs).values(row)
    return unpack(row)
  }

  /**
   * Saves over the revision that the writer has seen.
   *
   * @returns what is kept now; null where the design is gone or another revision has come in between
   */
  async function save(id: string, seen: number, document: Design): Promise<StoredDesign | null> {
    const rows = await db
      .update(designs)
      .set({ document: JSON.stringify(document), name: document.name, revision: seen + 1, updatedAt: now() })
      // One statement decides the race: of two writers who saw the same revision only one finds it.
      .where(and(alive(id), eq(designs.revision, seen)))
      .returning()
    return rows[0] ? unpack(rows[0]) : null
  }

  async function setDeleted(id: string, deleted: boolean): Promise<boolean> {
    const rows = await db
      .update(designs)
      .set({ deletedAt: deleted ? now() : null })
      .where(eq(designs.id, id))
      .returning({ id: designs.id })
    return rows.length > 0
  }

  async function duplicate(id: string): Promise<StoredDesign | null> {
    const original = await maybeRead(id)
    if (!original) return null
    const name = `${original.document.name} (copy)`.slice(0, 200)
    return insert(original.projectId, { ...original.document, name })
  }

  return { maybeRead, insert, save, setDeleted, duplicate }
}
