import { type Shelved, ShelvedSchema } from '@voskel/core'
import { and, asc, eq, isNull, or, sql } from 'drizzle-orm'
import type { Database } from '../db/connect.js'
import { keptPieces } from '../db/schema.js'

/** A block or model that is kept for the designs of a project; null: of all projects. */
export interface KeptPiece {
  id: string
  project: string | null
  name: string
  /** null where what was kept can no longer be read. */
  piece: Shelved | null
}

export type PieceRepo = ReturnType<typeof pieceRepo>

/** Queries on what is kept apart from designs. @param now the clock, ms since 1970 */
export function pieceRepo(db: Database, now: () => number, newId: () => string) {
  const belongsTo = (project: string | null) =>
    project === null ? isNull(keptPieces.projectId) : eq(keptPieces.projectId, project)

  /** What a project's designs may use: its own, then what all may use. */
  async function list(project: string): Promise<KeptPiece[]> {
    const rows = await db
      .select()
      .from(keptPieces)
      .where(or(belongsTo(project), belongsTo(null)))
      .orderBy(sql`${keptPieces.projectId} is null`, asc(sql`lower(${keptPieces.name})`))
    return rows.map((row) => {
      // One that is damaged does not hide the others, and is told.
      const piece = ShelvedSchema.safeParse(jsonOf(row.document))
      return { id: row.id, project: row.projectId, name: row.name, piece: piece.success ? piece.data : null }
    })
  }

  /** Keeps a piece, in the place of one of its kind and name. */
  async function keep(project: string | null, piece: Shelved): Promise<string> {
    const row = { kind: piece.kind, name: piece.name, document: JSON.stringify(piece), savedAt: now() }
    const replaced = await db
      .update(keptPieces)
      .set(row)
      .where(
        and(
          belongsTo(project),
          eq(keptPieces.kind, piece.kind),
          eq(sql`lower(${keptPieces.name})`, piece.name.toLowerCase()),
        ),
      )
      .returning({ id: keptPieces.id })
    if (replaced[0]) return replaced[0].id
    const id = newId()
    await db.insert(keptPieces).values({ id, projectId: project, ...row })
    return id
  }

  /** True where there was such a piece. */
  async function remove(id: string): Promise<boolean> {
    return (await db.delete(keptPieces).where(eq(keptPieces.id, id)).returning({ id: keptPieces.id })).length > 0
  }

  return { list, keep, remove }
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}
