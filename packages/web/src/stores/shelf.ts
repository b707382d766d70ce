import { readDesign, type Shelved, shelfOf, VoskelError } from '@voskel/core'
import { ElMessage } from 'element-plus'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { api, type ApiFailure } from '../api/client'
import { useDesignStore } from './design'
import { useProjectsStore } from './projects'

/** Something from elsewhere that can be used in the open design. */
export type OnShelf = Shelved & {
  readonly from: string
  /** Of what is kept apart from designs: its id, and for whom. */
  readonly kept?: { readonly id: string; readonly scope: Scope }
}

/** For whom something is kept. */
export type Scope = 'project' | 'all'

const FROM: Readonly<Record<Scope, string>> = { project: 'this project', all: 'all projects' }

/** Blocks and models that are kept for the project or for all, and those of the other designs. Looked for when somebody wants one. */
export const useShelfStore = defineStore('shelf', () => {
  const design = useDesignStore()
  const projects = useProjectsStore()
  const kept = shallowRef<readonly OnShelf[]>([])
  const others = shallowRef<readonly OnShelf[]>([])
  let latest = 0

  /** The project of the open design. */
  async function home() {
    if (!projects.projects) await projects.load()
    return projects.projects?.find((p) => p.designs.some((d) => d.id === design.id)) ?? null
  }

  async function look() {
    const run = ++latest
    const own = await home()
    if (own) await lookAtKept(own.id)
    const all = [...(own ? [own] : []), ...(projects.projects ?? []).filter((p) => p !== own)]
    const found: OnShelf[] = []
    for (const project of all) {
      const answer = await api.projectFile(project.id)
      if (run !== latest) return
      if (!answer.ok) {
        tell(`The blocks of ${project.name} are not listed`, answer.failure)
        continue
      }
      for (const stored of answer.value.designs) {
        const read = readable(stored)
        if (!read || (project === own && read.name === design.document?.name)) continue
        const from = project === own ? read.name : `${project.name}, ${read.name}`
        found.push(...shelfOf(read).map((s) => ({ ...s, from })))
      }
      others.value = [...found]
    }
    others.value = found
  }

  async function lookAtKept(project: string) {
    const answer = await api.keptPieces(project)
    if (!answer.ok) return tell('What is kept is not listed', answer.failure)
    const damaged = answer.value.filter((k) => k.piece === null).map((k) => k.name)
    if (damaged.length > 0)
      ElMessage.warning(`Kept, and no longer readable: ${damaged.join(', ')}. Keep it anew from a design that has it.`)
    kept.value = answer.value.flatMap(({ id, project, piece }) => {
      const scope: Scope = project === null ? 'all' : 'project'
      return piece ? [{ ...piece, from: FROM[scope], kept: { id, scope } }] : []
    })
  }

  /** Keeps a block or model for the project or for all, in the place of one of its name. */
  async function keep(piece: Shelved, scope: Scope) {
    const own = await home()
    if (!own) return
    const answer = await api.keepPiece(scope === 'all' ? null : own.id, piece)
    if (!answer.ok) return tell(`${piece.name} is not kept`, answer.failure)
    await lookAtKept(own.id)
  }

  /** Lets go of what is kept; designs that use it have it still. */
  async function forget(id: string) {
    const own = await home()
    const answer = await api.forgetPiece(id)
    if (!answer.ok) tell('It is still kept', answer.failure)
    if (own) await lookAtKept(own.id)
  }

  const items = computed(() => [...kept.value, ...others.value])
  const blocks = computed(() => items.value.filter((s) => s.kind === 'block'))
  /** Models of a kind of part. */
  const modelsOf = (kind: string) => items.value.filter((s) => s.kind === 'model' && s.of === kind)

  return { kept, items, blocks, modelsOf, look, keep, forget }
})

const tell = (what: string, { title, detail }: ApiFailure) => void ElMessage.warning(`${what}: ${title}. ${detail}`)

/** One damaged design does not hide the others. */
function readable(stored: unknown) {
  try {
    return readDesign(stored)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}
