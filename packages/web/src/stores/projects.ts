import {
  blankCircuit,
  type Design,
  type Circuit,
  designOfCircuit,
  designOfSpec,
  parseJson,
  parseSpec,
  readDesign,
  VoskelError,
  withSourceNamed,
} from '@voskel/core'
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { api, type ApiFailure, type ApiResult, type Bin, type ProjectSummary } from '../api/client'

/** Something deleted, and how to bring it back. */
export interface Deleted {
  name: string
  restore: () => Promise<void>
}

/** The server's list of projects and designs. */
export const useProjectsStore = defineStore('projects', () => {
  const projects = shallowRef<readonly ProjectSummary[] | null>(null)
  const failure = ref<ApiFailure | null>(null)
  /** Whoever came in with a token can sign out. */
  const canSignOut = ref(false)
  const deleted = shallowRef<Deleted | null>(null)
  let latest = 0

  async function load() {
    const run = ++latest
    const answer = await api.listProjects()
    if (run !== latest) return
    failure.value = answer.ok ? null : answer.failure
    if (answer.ok) projects.value = answer.value
  }

  async function askAccess() {
    const answer = await api.health()
    if (answer.ok) canSignOut.value = answer.value.access === 'token'
  }

  /** Gives the token up; what is open here is no longer to be seen. */
  async function signOut() {
    const answer = await api.signOut()
    if (answer.ok) window.location.assign('/')
    else failure.value = answer.failure
  }

  /** Does something and shows the list as it then is. */
  async function act<T>(request: Promise<ApiResult<T>>): Promise<ApiResult<T>> {
    const answer = await request
    if (answer.ok) await load()
    else failure.value = answer.failure
    return answer
  }

  const createProject = (name: string) => act(api.createProject(name))
  const renameProject = (id: string, name: string) => act(api.renameProject(id, name))
  const duplicateProject = (id: string) => act(api.duplicateProject(id))
  const moveDesign = (id: string, project: string) => act(api.moveDesign(id, project))
  const duplicateDesign = (id: string) => act(api.duplicateDesign(id))

  /** A new design from a specification that works, to be changed. */
  function createFromRequirement(projectId: string): Promise<string | null> {
    const spec = parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 5,
      passband: { edges: [10_000] },
      realization: { family: 'lc-ladder', source: 50, load: 50 },
    })
    return create(projectId, designOfSpec(freeName(projectId, 'New filter'), spec, 'exact'))
  }

  /** A new design on a blank sheet, with a source on it. */
  const createFromSheet = (projectId: string): Promise<string | null> =>
    create(projectId, { ...designOfCircuit(blankCircuit()), name: freeName(projectId, 'New circuit') })

  /** A new design around a circuit that was read or made ready. */
  const createFromCircuit = (projectId: string, circuit: Circuit, name?: string): Promise<string | null> => {
    const design = designOfCircuit(circuit)
    return create(projectId, withSourceNamed({ ...design, name: freeName(projectId, name ?? design.name) }))
  }

  async function create(projectId: string, design: Design): Promise<string | null> {
    const made = await act(api.createDesign(projectId, design))
    return made.ok ? made.value.id : null
  }

  /** A name that no design of the project has yet. */
  function freeName(projectId: string, name: string): string {
    const taken = new Set(projects.value?.find((p) => p.id === projectId)?.designs.map((d) => d.name))
    let free = name
    for (let k = 2; taken.has(free); k++) free = `${name} ${k}`
    return free
  }

  /** What is in the bin; null until it was asked for. */
  const bin = shallowRef<Bin | null>(null)

  async function loadBin() {
    const answer = await api.bin()
    if (answer.ok) bin.value = answer.value
    else failure.value = answer.failure
  }

  /** A design file as a design of a project. Returns its id. */
  const openDesignFile = (project: string, file: File) => fromFile(file, (value) => create(project, readDesign(value)))

  /** A project file as a project of its own. */
  const openProjectFile = (file: File) => fromFile(file, (value) => act(api.createProjectFromFile(value)))

  /** What is made of a file's JSON; null where it cannot be read, which `failure` then says, with the place. */
  async function fromFile<T>(file: File, make: (value: unknown) => Promise<T>): Promise<T | null> {
    failure.value = null
    const text = await file.text()
    let json: ReturnType<typeof parseJson> | null = null
    try {
      json = parseJson(text.replace(/^\ufeff/, ''))
      return await make(json.value)
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      const { path, line, column } = error.place
      const at = json && path !== undefined ? json.locate(path) : line === undefined ? null : { line, column }
      const where = at ? `, line ${at.line}, column ${at.column}` : ''
      failure.value = { status: 0, title: `${file.name}${where}: ${error.message}`, detail: error.remedy }
      return null
    }
  }

  async function deleteDesign(id: string, name: string) {
    if (!(await act(api.deleteDesign(id))).ok) return
    if (bin.value) await loadBin()
    deleted.value = { name, restore: () => restore(api.restoreDesign(id)) }
  }

  async function deleteProject(id: string, name: string) {
    if (!(await act(api.deleteProject(id))).ok) return
    if (bin.value) await loadBin()
    deleted.value = { name, restore: () => restore(api.restoreProject(id)) }
  }

  async function restore(request: Promise<ApiResult<void>>) {
    deleted.value = null
    await act(request)
    if (bin.value) await loadBin()
  }

  return {
    projects,
    failure,
    deleted,
    load,
    canSignOut,
    askAccess,
    signOut,
    createProject,
    renameProject,
    duplicateProject,
    duplicateDesign,
    moveDesign,
    createFromRequirement,
    createFromSheet,
    createFromCircuit,
    deleteDesign,
    deleteProject,
    bin,
    loadBin,
    restoreDesign: (id: string) => restore(api.restoreDesign(id)),
    restoreProject: (id: string) => restore(api.restoreProject(id)),
    openDesignFile,
    openProjectFile,
  }
})
