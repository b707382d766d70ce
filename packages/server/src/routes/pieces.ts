import { ShelvedSchema } from '@voskel/core'
import { Router } from 'express'
import { z } from 'zod'
import { methodNotAllowed, notFound, parsed } from '../problem.js'
import type { PieceRepo } from '../repos/pieceRepo.js'
import type { ProjectRepo } from '../repos/projectRepo.js'
import { knownId } from './designs.js'

const project = z.string().regex(/^[\w-]{1,100}$/, 'This is no id of a project.')
const Asked = z.object({ project })
const PieceInput = z.strictObject({ project: project.nullable(), piece: ShelvedSchema })

/** /api/pieces: blocks and models that are kept for the designs of a project, or of all. */
export function pieceRoutes(pieces: PieceRepo, projects: ProjectRepo): Router {
  const router = Router()
  router.param('id', knownId('piece'))

  router.get('/', async (req, res) => {
    const { project } = parsed(Asked, req.query, 'Of which project is not said')
    if (!(await projects.maybeRead(project))) throw notFound('project')
    res.json(await pieces.list(project))
  })

  router.put('/', async (req, res) => {
    const { project, piece } = parsed(PieceInput, req.body, 'This cannot be kept')
    if (project !== null && !(await projects.maybeRead(project))) throw notFound('project')
    res.json({ id: await pieces.keep(project, piece) })
  })

  router.delete('/:id', async (req, res) => {
    if (!(await pieces.remove(req.params.id))) throw notFound('piece')
    res.status(204).end()
  })

  router.all('/', methodNotAllowed('GET', 'HEAD', 'PUT'))
  router.all('/:id', methodNotAllowed('DELETE'))
  return router
}
