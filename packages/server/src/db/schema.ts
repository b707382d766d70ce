import { blob, index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core'

/** Times are milliseconds since 1970-01-01 UTC. A row with `deletedAt` is in the bin and can be brought back. */
export const projects = sqliteTable('projects', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  description: text('description').notNull(),
  createdAt: integer('created_at').notNull(),
  updatedAt: integer('updated_at').notNull(),
  deletedAt: integer('deleted_at'),
})

export const designs = sqliteTable(
  'designs',
  {
    id: text('id').primaryKey(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id),
    name: text('name').notNull(),
    /** The design file as JSON text, checked by the core's schema before it gets here. */
    document: text('document').notNull(),
    /** Counts saves; the entity tag of a design. */
    revision: integer('revision').notNull(),
    createdAt: integer('created_at').notNull(),
    updatedAt: integer('updated_at').notNull(),
    deletedAt: integer('deleted_at'),
  },
  (table) => [index('designs_by_project').on(table.projectId)],
)

/** Blocks and models that are kept for the designs of a project, or of all. */
export const keptPieces = sqliteTable(
  'kept_pieces',
  {
    id: text('id').primaryKey(),
    /** null: for all projects. */
    projectId: text('project_id').references(() => projects.id),
    kind: text('kind', { enum: ['block', 'model'] }).notNull(),
    name: text('name').notNull(),
    /** As JSON text, checked by the core's schema before it gets here. */
    document: text('document').notNull(),
    savedAt: integer('saved_at').notNull(),
  },
  (table) => [index('kept_pieces_by_project').on(table.projectId)],
)

/** Pinned runs and measured data: designs name what they show of them. */
export const keptCurves = sqliteTable(
  'kept_curves',
  {
    id: text('id').primaryKey(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id),
    name: text('name').notNull(),
    /** What is said of the curves, as JSON text: the first line of the packed bytes, to be listed without them. */
    facts: text('facts').notNull(),
    /** As the core packs them, checked before they get here. */
    packed: blob('packed', { mode: 'buffer' }).notNull(),
    savedAt: integer('saved_at').notNull(),
  },
  (table) => [index('kept_curves_by_project').on(table.projectId)],
)

/** What designs were before they were saved anew; thinned with age (repos/revisionRepo.ts). */
export const designRevisions = sqliteTable(
  'design_revisions',
  {
    designId: text('design_id')
      .notNull()
      .references(() => designs.id),
    revision: integer('revision').notNull(),
    name: text('name').notNull(),
    document: text('document').notNull(),
    savedAt: integer('saved_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.designId, table.revision] })],
)
