import { and, asc, desc, eq, gt, isNull } from 'drizzle-orm'
import type { Database } from '../db/connect.js'
import { designs, keptPieces, projects } from '../db/schema.js'

export interface DesignSummary {
  id: string
  name: string
  revision: number
  updatedAt: number
}

export interface ProjectSummary {
  id: string
  name: string
  description: string
  updatedAt: number
  designs: DesignSummary[]
}

export type ProjectRepo = ReturnType<typeof projectRepo>

/** Queries on projects. @param now the clock, ms since 1970 */
export function projectRepo(db: Database, now: () => number, newId: () => string) {
  const alive = (id: string) => and(eq(projects.id, id), isNull(projects.deletedAt))

  async function list(): Promise<ProjectSummary[]> {
    const rows = await db.select().from(projects).where(isNull(projects.deletedAt)).orderBy(asc(projects.createdAt))
    const members = await db
      .select({
        id: designs.id,
        projectId: designs.projectId,
        name: designs.name,
        revision: designs.revision,
        updatedAt: designs.updatedAt,
      })
      .from(designs)
      .where(isNull(designs.deletedAt))
      .orderBy(asc(designs.createdAt), asc(designs.name))
    return rows.map((p) => ({
      id: p.id,
      name: p.name,
      description: p.description,
      updatedAt: p.updatedAt,
      designs: members
        .filter((d) => d.projectId === p.id)
        .map(({ id, name, revision, updatedAt }) => ({ id, name, revision, updatedAt })),
    }))
  }

  async function maybeRead(id: string) {
    return (await db.select().from(projects).where(alive(id)))[0] ?? null
  }

  async function insert(values: { id?: string; name: string; description: string }) {
    const row = {
      id: values.id ?? newId(),
      name: values.name,
      description: values.description,
      createdAt: now(),
      updatedAt: now(),
      deletedAt: null,
    }
    await db.insert(projects).values(row)
    return row
  }

  /** True where there was such a project. */
  async function update(id: string, values: { name?: string; description?: string }): Promise<boolean> {
    const rows = await db
      .update(projects)
      .set({ ...values, updatedAt: now() })
      .where(alive(id))
      .returning({ id: projects.id })
    return rows.length > 0
  }

  async function setDeleted(id: string, deleted: boolean): Promise<boolean> {
    const rows = await db
      .update(projects)
      .set({ deletedAt: deleted ? now() : null })
      .where(eq(projects.id, id))
      .returning({ id: projects.id })
    return rows.length > 0
  }

  /** A copy of a project with all its designs, or null where there is no such project. */
  async function duplicate(id: string): Promise<string | null> {
    const original = await maybeRead(id)
    if (!original) return null
    return db.transaction(async (tx) => {
      const copy = {
        ...original,
        id: newId(),
        name: `${original.name} (copy)`.slice(0, 200),
        createdAt: now(),
        updatedAt: now(),
      }
      await tx.insert(projects).values(copy)
      const members = await tx
        .select()
        .from(designs)
        .where(and(eq(designs.projectId, id), isNull(designs.deletedAt)))
      for (const member of members) {
        await tx.insert(designs).values({ ...member, id: newId(), projectId: copy.id, revision: 1, updatedAt: now() })
      }
      const pieces = await tx.select().from(keptPieces).where(eq(keptPieces.projectId, id))
      for (const piece of pieces)
        await tx.insert(keptPieces).values({ ...piece, id: newId(), projectId: copy.id, savedAt: now() })
      return copy.id
    })
  }

  /** What is in the bin, the latest first. The health check's own row was never a project. */
  const listDeleted = () =>
    db
      .select({ id: projects.id, name: projects.name, deletedAt: projects.deletedAt })
      .from(projects)
      .where(gt(projects.deletedAt, 0))
      .orderBy(desc(projects.deletedAt))

  return { list, listDeleted, maybeRead, insert, update, setDeleted, duplicate }
}
