import { readDesign } from '@voskel/core'
import { type RequestParamHandler, Router } from 'express'
import { z } from 'zod'
import { methodNotAllowed, notFound, parsed, Problem } from '../problem.js'
import type { DesignRepo } from '../repos/designRepo.js'
import type { RevisionRepo } from '../repos/revisionRepo.js'

/** Where a design is to be. */
const HomeInput = z.strictObject({ project: z.string().regex(/^[\w-]{1,100}$/) })

/** A design's entity tag: its revision in quotes (RFC 9110 § 8.8.3). */
export const entityTag = (revision: number) => `"${revision}"`

/** /api/designs: read, save, move, duplicate, delete and restore; and what a design was before. */
export function designRoutes(designs: DesignRepo, revisions: RevisionRepo): Router {
  const router = Router()
  router.param('id', knownId('design'))

  router.get('/:id', async (req, res) => {
    const stored = await designs.maybeRead(req.params.id)
    if (!stored) throw notFound('design')
    res.set('ETag', entityTag(stored.revision)).json(stored)
  })

  router.put('/:id', async (req, res) => {
    const seen = seenRevision(req.get('If-Match'))
    const document = readDesign(req.body)
    const saved = await designs.save(req.params.id, seen, document)
    if (!saved) {
      const current = await designs.maybeRead(req.params.id)
      if (!current) throw notFound('design')
      throw new Problem(
        412,
        'The design has been saved from elsewhere',
        'Read the newer version, then save over it or keep yours as a copy.',
        {
          revision: current.revision,
          updatedAt: current.updatedAt,
        },
      )
    }
    res
      .set('ETag', entityTag(saved.revision))
      .json({ id: saved.id, revision: saved.revision, updatedAt: saved.updatedAt })
  })

  router.get('/:id/revisions', async (req, res) => {
    if (!(await designs.exists(req.params.id))) throw notFound('design')
    res.json(await revisions.list(req.params.id))
  })

  router.get('/:id/revisions/:revision', async (req, res) => {
    const { id, revision } = req.params
    const found = /^\d{1,15}$/.test(revision) ? await revisions.maybeRead(id, Number(revision)) : null
    if (!found) throw notFound('revision')
    res.json(found)
  })

  router.post('/:id/duplicate', async (req, res) => {
    const copy = await designs.duplicate(req.params.id)
    if (!copy) throw notFound('design')
    res.status(201).location(`/api/designs/${copy.id}`).json({ id: copy.id, revision: copy.revision })
  })

  router.put('/:id/project', async (req, res) => {
    const { project } = parsed(HomeInput, req.body, 'The design stays where it is')
    const missing = await designs.move(req.params.id, project)
    if (missing) throw notFound(missing)
    res.status(204).end()
  })

  router.delete('/:id', async (req, res) => {
    if (!(await designs.setDeleted(req.params.id, true))) throw notFound('design')
    res.status(204).end()
  })

  router.post('/:id/restore', async (req, res) => {
    if (!(await designs.setDeleted(req.params.id, false))) throw notFound('design')
    res.status(204).end()
  })
  router.all('/:id', methodNotAllowed('GET', 'HEAD', 'PUT', 'DELETE'))
  router.all(['/:id/revisions', '/:id/revisions/:revision'], methodNotAllowed('GET', 'HEAD'))
  router.all('/:id/project', methodNotAllowed('PUT'))
  router.all(['/:id/duplicate', '/:id/restore'], methodNotAllowed('POST'))

  return router
}

/** Ids are letters, digits and hyphens: whatever else comes in an address names nothing that is kept. */
export const knownId =
  (what: string): RequestParamHandler =>
  (_req, _res, next, id: string) =>
    next(/^[\w-]{1,100}$/.test(id) ? undefined : notFound(what))

/** The revision that the writer has seen. Saving blindly is refused, so that nobody overwrites what they never saw. */
function seenRevision(ifMatch: string | undefined): number {
  if (ifMatch === undefined) {
    throw new Problem(428, 'Which version was edited?', 'Send If-Match with the ETag that came with the design.')
  }
  const revision = /^"(\d{1,15})"$/.exec(ifMatch)?.[1]
  if (revision === undefined)
    throw new Problem(400, 'If-Match is not an entity tag of a design', 'Send the ETag as it came, for example "3".')
  return Number(revision)
}
