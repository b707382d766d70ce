import { existsSync } from 'node:fs'
import { join } from 'node:path'
import compression from 'compression'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import sirv from 'sirv'
import type { Database } from './db/connect.js'
import { loopbackOnly, requireToken, sameSiteWrites } from './guard.js'
import { notFound, problemHandler } from './problem.js'
import { designRepo } from './repos/designRepo.js'
import { projectRepo } from './repos/projectRepo.js'
import { designRoutes } from './routes/designs.js'
import { projectRoutes } from './routes/projects.js'

export interface AppParts {
  db: Database
  log: Logger
  now: () => number
  newId: () => string
  /** Folder of the built interface; null serves the API alone. */
  webRoot: string | null
  /** Access token that every request must bring; null on loopback. */
  token: string | null
}

const BODY_LIMIT = '5mb'

/** The application without its port: tests use it as it is. */
export function createApp({ db, log, now, newId, webRoot, token }: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  app.set('etag', false)
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          // Components place themselves by style attributes.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          workerSrc: ["'self'"],
          connectSrc: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      // Plain HTTP on loopback must stay reachable.
      strictTransportSecurity: false,
    }),
  )
  app.use(token === null ? loopbackOnly() : requireToken(token))
  app.use(sameSiteWrites())

  app.get('/api/health', async (_req, res) => {
    await db.run('select 1')
    res.json({ status: 'ok' })
  })
  const projects = projectRepo(db, now, newId)
  const designs = designRepo(db, now, newId)
  app.use('/api', compression(), express.json({ limit: BODY_LIMIT }), (_req, res, next) => {
    res.set('Cache-Control', 'no-store')
    next()
  })
  app.use('/api/projects', projectRoutes(projects, designs))
  app.use('/api/designs', designRoutes(designs))
  app.use('/api', () => {
    throw notFound('address')
  })

  if (webRoot && existsSync(join(webRoot, 'index.html'))) {
    // Built files carry their content's hash in their names and never change; they lie there compressed, too.
    app.use('/assets', sirv(join(webRoot, 'assets'), { immutable: true, maxAge: 31_536_000, brotli: true, gzip: true }))
    app.use('/assets', () => {
      throw notFound('file')
    })
    app.use(express.static(webRoot, { index: false }))
    app.get('/{*path}', (_req, res) => res.set('Cache-Control', 'no-cache').sendFile(join(webRoot, 'index.html')))
  }
  app.use(problemHandler(log))
  return app
}
