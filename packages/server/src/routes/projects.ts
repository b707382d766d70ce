import {
  isText,
  keptJson,
  keptOfJson,
  packKept,
  projectFile,
  readDesign,
  readProjectFile,
  unpackKept,
} from '@voskel/core'
import { Router } from 'express'
import { z } from 'zod'
import { methodNotAllowed, notFound, parsed } from '../problem.js'
import type { DesignRepo } from '../repos/designRepo.js'
import type { KeptRepo } from '../repos/keptRepo.js'
import type { ProjectRepo } from '../repos/projectRepo.js'
import { entityTag, knownId } from './designs.js'

const ODD = 'There is a character in it that no text has.'
const name = z
  .string()
  .trim()
  .min(1, 'A project needs a name.')
  .max(200, 'A name has at most 200 characters.')
  .refine(isText, ODD)
const description = z.string().max(5000, 'A description has at most 5000 characters.').refine(isText, ODD)
const ProjectInput = z.strictObject({ name, description: description.default('') })
const ProjectPatch = z.strictObject({ name: name.optional(), description: description.optional() })

/** /api/projects: list, create, rename, duplicate, delete and restore; new designs are created in a project. A project is written out and read in as a file. */
export function projectRoutes(projects: ProjectRepo, designs: DesignRepo, curves: KeptRepo): Router {
  const router = Router()
  router.param('id', knownId('project'))

  router.get('/', async (_req, res) => {
    res.json(await projects.list())
  })

  router.get('/:id/file', async (req, res) => {
    const project = await projects.maybeRead(req.params.id)
    if (!project) throw notFound('project')
    const members = await designs.documentsOf(project.id)
    const shown = [...new Set(members.flatMap((d) => (d.compared ?? []).map((c) => c.id)))]
    const kept = (await Promise.all(shown.map((id) => curves.maybeRead(id)))).flatMap((packed, k) =>
      packed ? [keptJson(shown[k]!, unpackKept(packed))] : [],
    )
    res.json(projectFile(project.name, project.description, members, kept))
  })

  router.post('/file', async (req, res) => {
    const { name, description, designs: members, curves: kept = [] } = readProjectFile(req.body)
    const { id } = await projects.insert({ name, description })
    // Of a project that comes back to where it was written the curves are still there.
    for (const one of kept) await curves.keepAs(one.id, id, packKept(keptOfJson(one)))
    for (const document of members) await designs.insert(id, document)
    res.status(201).location(`/api/projects/${id}`).json({ id })
  })

  router.post('/', async (req, res) => {
    const { id } = await projects.insert(parsed(ProjectInput, req.body, 'This project cannot be kept'))
    res.status(201).location(`/api/projects/${id}`).json({ id })
  })

  router.patch('/:id', async (req, res) => {
    const patch = parsed(ProjectPatch, req.body, 'This project cannot be kept')
    if (!(await projects.update(req.params.id, patch))) throw notFound('project')
    res.status(204).end()
  })

  router.post('/:id/duplicate', async (req, res) => {
    const id = await projects.duplicate(req.params.id)
    if (!id) throw notFound('project')
    res.status(201).location(`/api/projects/${id}`).json({ id })
  })

  router.delete('/:id', async (req, res) => {
    if (!(await projects.setDeleted(req.params.id, true))) throw notFound('project')
    res.status(204).end()
  })

  router.post('/:id/restore', async (req, res) => {
    if (!(await projects.setDeleted(req.params.id, false))) throw notFound('project')
    res.status(204).end()
  })

  router.post('/:id/designs', async (req, res) => {
    const document = readDesign(req.body)
    if (!(await projects.maybeRead(req.params.id))) throw notFound('project')
    const stored = await designs.insert(req.params.id, document)
    res
      .status(201)
      .location(`/api/designs/${stored.id}`)
      .set('ETag', entityTag(stored.revision))
      .json({ id: stored.id, revision: stored.revision })
  })

  router.all('/', methodNotAllowed('GET', 'HEAD', 'POST'))
  router.all('/file', methodNotAllowed('POST'))
  router.all('/:id/file', methodNotAllowed('GET', 'HEAD'))
  router.all('/:id', methodNotAllowed('PATCH', 'DELETE'))
  router.all(['/:id/duplicate', '/:id/restore', '/:id/designs'], methodNotAllowed('POST'))
  return router
}
