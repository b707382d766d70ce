import { designOfSpec, parseSpec } from '@voskel/core'
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { api, type ApiFailure, type ApiResult, type ProjectSummary } from '../api/client'

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
  const duplicateDesign = (id: string) => act(api.duplicateDesign(id))

  /** A new design starts from a specification that works, to be changed. */
  async function createDesign(projectId: string, name: string): Promise<string | null> {
    const spec = parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 5,
      passband: { edges: [10_000] },
      realization: { family: 'lc-ladder', source: 50, load: 50 },
    })
    const made = await act(api.createDesign(projectId, designOfSpec(name, spec, 'exact')))
    return made.ok ? made.value.id : null
  }

  async function deleteDesign(id: string, name: string) {
    if (!(await act(api.deleteDesign(id))).ok) return
    deleted.value = { name, restore: () => restore(api.restoreDesign(id)) }
  }

  async function deleteProject(id: string, name: string) {
    if (!(await act(api.deleteProject(id))).ok) return
    deleted.value = { name, restore: () => restore(api.restoreProject(id)) }
  }

  async function restore(request: Promise<ApiResult<void>>) {
    deleted.value = null
    await act(request)
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
    createDesign,
    deleteDesign,
    deleteProject,
  }
})
