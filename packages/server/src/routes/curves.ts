import { Router } from 'express'
import { z } from 'zod'
import { methodNotAllowed, notFound, parsed, Problem } from '../problem.js'
import type { KeptRepo } from '../repos/keptRepo.js'
import type { ProjectRepo } from '../repos/projectRepo.js'
import { knownId } from './designs.js'

const PACKED = 'application/octet-stream'
const Asked = z.object({ project: z.string().regex(/^[\w-]{1,100}$/, 'This is no id of a project.') })

/** /api/curves: pinned runs and measured data of a project, packed as the core packs them. What is kept never changes. */
export function curveRoutes(curves: KeptRepo, projects: ProjectRepo): Router {
  const router = Router()
  router.param('id', knownId('curve'))

  router.get('/', async (req, res) => {
    const { project } = parsed(Asked, req.query, 'Of which project is not said')
    if (!(await projects.maybeRead(project))) throw notFound('project')
    res.json(await curves.list(project))
  })

  router.post('/', async (req, res) => {
    const { project } = parsed(Asked, req.query, 'For which project is not said')
    if (!(await projects.maybeRead(project))) throw notFound('project')
    if (!Buffer.isBuffer(req.body)) throw new Problem(415, 'Curves come packed', `Send them as ${PACKED}.`)
    const id = await curves.keep(project, req.body)
    res.status(201).location(`/api/curves/${id}`).json({ id })
  })

  router.get('/:id', async (req, res) => {
    const packed = await curves.maybeRead(req.params.id)
    if (!packed) throw notFound('curve')
    res.type(PACKED).send(Buffer.from(packed))
  })

  router.delete('/:id', async (req, res) => {
    const designs = await curves.shownBy(req.params.id)
    if (designs.length > 0)
      throw new Problem(409, 'These curves are still shown', `Let them go first in: ${designs.join(', ')}.`)
    if (!(await curves.remove(req.params.id))) throw notFound('curve')
    res.status(204).end()
  })

  router.all('/', methodNotAllowed('GET', 'HEAD', 'POST'))
  router.all('/:id', methodNotAllowed('GET', 'HEAD', 'DELETE'))
  return router
}
