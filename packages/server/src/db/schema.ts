import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core'

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
