/** Read by `npm run migration`, which fetches its tool when it is needed. */
export default {
  dialect: 'sqlite',
  schema: './packages/server/src/db/schema.ts',
  out: './packages/server/migrations',
}
