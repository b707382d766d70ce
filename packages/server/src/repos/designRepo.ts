import { and, asc, desc, eq, isNotNull, isNull } from 'drizzle-orm'
import type { Design } from '@voskel/core'
import type { Database } from '../db/connect.js'
import { designs, projects } from '../db/schema.js'
import { documentOf } from './documents.js'
import { revisionRepo } from './revisionRepo.js'

/** A design as it is kept. */
export interface StoredDesign {
  id: string
  projectId: string
  revision: number
  updatedAt: number
  document: Design
}

export type DesignRepo = ReturnType<typeof designRepo>

/** Queries on designs. @param now the clock, ms since 1970 */
export function designRepo(db: Database, now: () => number, newId: () => string, revisions = revisionRepo(db, now)) {
  const alive = (id: string) => and(eq(designs.id, id), isNull(designs.deletedAt))
  const unpack = (row: typeof designs.$inferSelect): StoredDesign => ({
    id: row.id,
    projectId: row.projectId,
    revision: row.revision,
    updatedAt: row.updatedAt,
    document: documentOf(row.document, row.revision),
  })

  async function maybeRead(id: string): Promise<StoredDesign | null> {
    const row = (await db.select().from(designs).where(alive(id)))[0]
    return row ? unpack(row) : null
  }

  /** Whether there is such a design, readable or not. */
  const exists = async (id: string): Promise<boolean> =>
    (await db.select({ id: designs.id }).from(designs).where(alive(id))).length > 0

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
   * Saves over the revision that the writer has seen; what it was stays among its earlier states.
   *
   * @returns what is kept now; null where the design is gone or another revision has come in between
   */
  async function save(id: string, seen: number, document: Design): Promise<StoredDesign | null> {
    const update = db
      .update(designs)
      .set({ document: JSON.stringify(document), name: document.name, revision: seen + 1, updatedAt: now() })
      // One statement decides the race: of two writers who saw the same revision only one finds it.
      .where(and(alive(id), eq(designs.revision, seen)))
      .returning()
    const [, rows] = await db.batch([revisions.keep(id, seen), update])
    if (!rows[0]) return null
    await revisions.thin(id, seen + 1)
    return { ...rows[0], document }
  }

  /** Puts a design into another project. Returns which of the two is not there; null where it was done. */
  async function move(id: string, projectId: string): Promise<'design' | 'project' | null> {
    const [home] = await db
      .select({ id: projects.id })
      .from(projects)
      .where(and(eq(projects.id, projectId), isNull(projects.deletedAt)))
    if (!home) return (await exists(id)) ? 'project' : 'design'
    const rows = await db.update(designs).set({ projectId }).where(alive(id)).returning({ id: designs.id })
    return rows.length > 0 ? null : 'design'
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

  /** What is in the bin, of projects that are not; the latest first. */
  const listDeleted = () =>
    db
      .select({ id: designs.id, name: designs.name, project: projects.name, deletedAt: designs.deletedAt })
      .from(designs)
      .innerJoin(projects, eq(designs.projectId, projects.id))
      .where(and(isNotNull(designs.deletedAt), isNull(projects.deletedAt)))
      .orderBy(desc(designs.deletedAt))

  /** The documents of a project's designs, in the order of the list. */
  async function documentsOf(projectId: string): Promise<Design[]> {
    const rows = await db
      .select({ document: designs.document, revision: designs.revision })
      .from(designs)
      .where(and(eq(designs.projectId, projectId), isNull(designs.deletedAt)))
      .orderBy(asc(designs.createdAt), asc(designs.name))
    return rows.map((row) => documentOf(row.document, row.revision))
  }

  return { maybeRead, exists, insert, save, move, setDeleted, duplicate, listDeleted, documentsOf }
}
