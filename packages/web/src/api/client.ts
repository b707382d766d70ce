import type { Design } from '@voskel/core'

/** What went wrong with a request: the server's problem document, or no answer at all. */
export interface ApiFailure {
  /** HTTP status; 0 where the server did not answer. */
  status: number
  title: string
  detail: string
}

/** Requests resolve to one of these; they never reject. */
export type ApiResult<T> = { ok: true; value: T } | { ok: false; failure: ApiFailure }

export interface DesignSummary {
  id: string
  name: string
  revision: number
  updatedAt: number
}

export interface ProjectSummary {
  id: string
  name: string
  description: string
  updatedAt: number
  designs: DesignSummary[]
}

export interface StoredDesign {
  id: string
  projectId: string
  revision: number
  updatedAt: number
  document: Design
}

async function request<T>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<ApiResult<T>> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: { ...(body !== undefined && { 'Content-Type': 'application/json' }), ...headers },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
  } catch {
    return {
      ok: false,
      failure: { status: 0, title: 'The server does not answer', detail: 'Check that it is running.' },
    }
  }
  const text = await response.text()
  let parsed: unknown
  try {
    parsed = text === '' ? undefined : JSON.parse(text)
  } catch {
    return {
      ok: false,
      failure: { status: response.status, title: 'The server’s answer is not understood', detail: 'Reload the page.' },
    }
  }
  if (response.ok) return { ok: true, value: parsed as T }
  const { title = response.statusText, detail = '' } = (parsed ?? {}) as Partial<ApiFailure>
  return { ok: false, failure: { status: response.status, title, detail } }
}

const id = encodeURIComponent

/** A design that was asked for before its page could ask. */
let ahead: { design: string; answer: Promise<ApiResult<StoredDesign>> } | null = null

/** Begins to fetch a design; the next `readDesign` of it takes the answer over. */
export function prefetchDesign(design: string): Promise<ApiResult<StoredDesign>> {
  const answer = request<StoredDesign>('GET', `/designs/${id(design)}`)
  ahead = { design, answer }
  return answer
}

function readDesign(design: string): Promise<ApiResult<StoredDesign>> {
  const fetched = ahead?.design === design ? ahead.answer : null
  ahead = null
  return fetched ?? request<StoredDesign>('GET', `/designs/${id(design)}`)
}

export const api = {
  health: () => request<{ access: 'token' | 'loopback' }>('GET', '/health'),
  signOut: () => request<void>('DELETE', '/session'),
  listProjects: () => request<ProjectSummary[]>('GET', '/projects'),
  createProject: (name: string) => request<{ id: string }>('POST', '/projects', { name }),
  renameProject: (project: string, name: string) => request<void>('PATCH', `/projects/${id(project)}`, { name }),
  duplicateProject: (project: string) => request<{ id: string }>('POST', `/projects/${id(project)}/duplicate`),
  deleteProject: (project: string) => request<void>('DELETE', `/projects/${id(project)}`),
  restoreProject: (project: string) => request<void>('POST', `/projects/${id(project)}/restore`),
  createDesign: (project: string, document: Design) =>
    request<{ id: string; revision: number }>('POST', `/projects/${id(project)}/designs`, document),
  readDesign,
  saveDesign: (design: string, seen: number, document: Design) =>
    request<{ revision: number; updatedAt: number }>('PUT', `/designs/${id(design)}`, document, {
      'If-Match': `"${seen}"`,
    }),
  duplicateDesign: (design: string) => request<{ id: string }>('POST', `/designs/${id(design)}/duplicate`),
  deleteDesign: (design: string) => request<void>('DELETE', `/designs/${id(design)}`),
  restoreDesign: (design: string) => request<void>('POST', `/designs/${id(design)}/restore`),
}
