import { existsSync } from 'node:fs'
import { join } from 'node:path'
import compression from 'compression'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import sirv from 'sirv'
import type { Database } from './db/connect.js'
import { projects } from './db/schema.js'
import { loopbackOnly, oneHost, sameSiteWrites, tokenGuard } from './guard.js'
import { methodNotAllowed, notFound, Problem, problemHandler } from './problem.js'
import { designRepo } from './repos/designRepo.js'
import { keptRepo } from './repos/keptRepo.js'
import { pieceRepo } from './repos/pieceRepo.js'
import { projectRepo } from './repos/projectRepo.js'
import { revisionRepo } from './repos/revisionRepo.js'
import { curveRoutes } from './routes/curves.js'
import { designRoutes } from './routes/designs.js'
import { pieceRoutes } from './routes/pieces.js'
import { projectRoutes } from './routes/projects.js'

export interface AppParts {
  db: Database
  /** False where what is written now would be lost. */
  isInPlace?: () => boolean
  log: Logger
  now: () => number
  newId: () => string
  /** Folder of the built interface; null serves the API alone. */
  webRoot: string | null
  /** Access token that every request must bring; null on loopback. */
  token: string | null
}

const BODY_LIMIT = '5mb'
const PROJECT_LIMIT = '100mb'
const CURVES_LIMIT = '100mb'

/** A row that the health check writes: in the bin from the start, under an id that no address can bear. */
const PROBE = { id: 'health check', name: 'health check', description: '', deletedAt: 0 }

/** The application without its port: tests use it as it is. */
export function createApp({ db, isInPlace = () => true, log, now, newId, webRoot, token }: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  app.set('etag', false)
  // A proxy on this machine says who asks, and whether by HTTPS; nobody else is believed.
  app.set('trust proxy', 'loopback')
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
  app.use(oneHost())
  const guard =
    token === null ? null : tokenGuard(token, (address, times) => log.warn({ address, times }, 'wrong token'))
  app.use(guard?.require ?? loopbackOnly())
  app.use(sameSiteWrites())
  app.use('/api', (req, _res, next) => {
    const changes = req.method !== 'GET' && req.method !== 'HEAD'
    if ((!changes && req.path !== '/health') || isInPlace()) return next()
    const way = 'Nothing can be kept; start the server anew, or bring a copy back with npm run restore.'
    next(new Problem(503, 'The database’s file is gone', way))
  })

  app
    .route('/api/health')
    .get(async (_req, res) => {
      // A store that can be read and not written is no healthy one.
      const probe = { ...PROBE, createdAt: now(), updatedAt: now() }
      await db
        .insert(projects)
        .values(probe)
        .onConflictDoUpdate({ target: projects.id, set: { updatedAt: now() } })
      res.json({ status: 'ok', access: guard ? 'token' : 'loopback' })
    })
    .all(methodNotAllowed('GET', 'HEAD'))
  if (guard) app.route('/api/session').delete(guard.signOut).all(methodNotAllowed('DELETE'))

  const projectsKept = projectRepo(db, now, newId)
  const revisions = revisionRepo(db, now)
  const designs = designRepo(db, now, newId, revisions)
  // A project is as many designs as its author likes.
  app.use('/api/projects/file', express.json({ limit: PROJECT_LIMIT }))
  app.use('/api/curves', express.raw({ limit: CURVES_LIMIT, type: 'application/octet-stream' }))
  app.use('/api', compression(), express.json({ limit: BODY_LIMIT }), (_req, res, next) => {
    res.set('Cache-Control', 'no-store')
    next()
  })
  const curves = keptRepo(db, now, newId)
  app.use('/api/projects', projectRoutes(projectsKept, designs, curves))
  app.use('/api/curves', curveRoutes(curves, projectsKept))
  app.use('/api/designs', designRoutes(designs, revisions))
  app.use('/api/pieces', pieceRoutes(pieceRepo(db, now, newId), projectsKept))
  app
    .route('/api/bin')
    .get(async (_req, res) => {
      res.json({ projects: await projectsKept.listDeleted(), designs: await designs.listDeleted() })
    })
    .all(methodNotAllowed('GET', 'HEAD'))
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
    app
      .route('/{*path}')
      .get((_req, res) => res.set('Cache-Control', 'no-cache').sendFile(join(webRoot, 'index.html')))
      .all(methodNotAllowed('GET', 'HEAD'))
  }
  app.use(() => {
    throw notFound('address')
  })
  app.use(problemHandler(log))
  return app
}
