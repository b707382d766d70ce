import type { Design, KeptFacts, ProjectFile, Shelved } from '@voskel/core'

/** What went wrong with a request: the server's problem document, or no answer at all. */
export interface ApiFailure {
  /** HTTP status; 0 where the server did not answer. */
  status: number
  title: string
  detail: string
  /** Of a design that is there and cannot be read: what another state is saved over. */
  revision?: number
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

interface RequestOptions {
  readonly headers?: Record<string, string>
  /** Outlives the page. */
  readonly keepalive?: boolean
  /** Whether a body is what was asked for: something between here and the server may answer in its place. */
  readonly isAnswer?: (body: unknown) => boolean
}

/** An answer that is none: as if the server had not answered. */
const notUnderstood = {
  ok: false as const,
  failure: { status: 0, title: 'The server’s answer is not understood', detail: 'Reload the page.' },
}

/** Whether a body bears a revision and when it was saved, as everything about a design does. */
function isStored(body: unknown): boolean {
  const { revision, updatedAt } = (body ?? {}) as Partial<StoredDesign>
  return Number.isSafeInteger(revision) && typeof updatedAt === 'number'
}

const isDesign = (body: unknown): boolean => isStored(body) && typeof (body as StoredDesign).document === 'object'

/** What a design was before it was saved anew. */
export interface RevisionSummary {
  revision: number
  name: string
  savedAt: number
}

/** A block or model that is kept for the designs of a project; null: of all projects. */
export interface KeptPiece {
  id: string
  project: string | null
  name: string
  /** null where what was kept can no longer be read. */
  piece: Shelved | null
}

/** Pinned runs or measured data, without their numbers. */
export interface KeptSummary {
  id: string
  savedAt: number
  /** null where they can no longer be read. */
  facts: KeptFacts | null
}

/** What was deleted and can be brought back. */
export interface Bin {
  projects: { id: string; name: string; deletedAt: number }[]
  designs: { id: string; name: string; project: string; deletedAt: number }[]
}

async function request<T>(
  method: string,
  path: string,
  body?: unknown,
  { headers = {}, keepalive = false, isAnswer = () => true }: RequestOptions = {},
): Promise<ApiResult<T>> {
  let response: Response
  let text: string
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: {
        ...(body !== undefined && { 'Content-Type': body instanceof Uint8Array ? PACKED : 'application/json' }),
        ...headers,
      },
      // Bytes go as a blob: by themselves they would be copied on the page's own time.
      ...(body !== undefined && {
        body: body instanceof Uint8Array ? new Blob([body as Uint8Array<ArrayBuffer>]) : JSON.stringify(body),
      }),
      keepalive,
    })
    text = await response.text()
  } catch {
    return {
      ok: false,
      failure: { status: 0, title: 'The server does not answer', detail: 'Check that it is running.' },
    }
  }
  let parsed: unknown
  try {
    parsed = text === '' ? undefined : JSON.parse(text)
  } catch {
    return notUnderstood
  }
  if (response.ok) return isAnswer(parsed) ? { ok: true, value: parsed as T } : notUnderstood
  const { title = response.statusText, detail = '', revision } = (parsed ?? {}) as Partial<ApiFailure>
  const known = Number.isSafeInteger(revision) && { revision }
  return { ok: false, failure: { status: response.status, title, detail, ...known } }
}

const PACKED = 'application/octet-stream'

/** Bytes as they come; a problem as any other. */
async function requestBytes(path: string): Promise<ApiResult<Uint8Array>> {
  try {
    const response = await fetch(`/api${path}`)
    if (response.ok) return { ok: true, value: new Uint8Array(await response.arrayBuffer()) }
    const { title = response.statusText, detail = '' } = (await response.json()) as Partial<ApiFailure>
    return { ok: false, failure: { status: response.status, title, detail } }
  } catch {
    return {
      ok: false,
      failure: { status: 0, title: 'The server does not answer', detail: 'Check that it is running.' },
    }
  }
}

/** Characters of a body that a browser sends on behalf of a page that is gone: 64 KiB, some of them of three bytes. */
const KEEPALIVE_LIMIT = 21_000

const id = encodeURIComponent

/** A design that was asked for before its page could ask. */
let ahead: { design: string; answer: Promise<ApiResult<StoredDesign>> } | null = null

/** Begins to fetch a design, once; the next `readDesign` of it takes the answer over. */
export function prefetchDesign(design: string): Promise<ApiResult<StoredDesign>> {
  if (ahead?.design === design) return ahead.answer
  const answer = request<StoredDesign>('GET', `/designs/${id(design)}`, undefined, { isAnswer: isDesign })
  ahead = { design, answer }
  return answer
}

function readDesign(design: string): Promise<ApiResult<StoredDesign>> {
  const fetched = ahead?.design === design ? ahead.answer : null
  ahead = null
  return fetched ?? request<StoredDesign>('GET', `/designs/${id(design)}`, undefined, { isAnswer: isDesign })
}

export const api = {
  health: () => request<{ access: 'token' | 'loopback' }>('GET', '/health'),
  signOut: () => request<void>('DELETE', '/session'),
  listProjects: () => request<ProjectSummary[]>('GET', '/projects'),
  createProject: (name: string) => request<{ id: string }>('POST', '/projects', { name }),
  renameProject: (project: string, name: string) => request<void>('PATCH', `/projects/${id(project)}`, { name }),
  duplicateProject: (project: string) => request<{ id: string }>('POST', `/projects/${id(project)}/duplicate`),
  deleteProject: (project: string) => request<void>('DELETE', `/projects/${id(project)}`),
  bin: () => request<Bin>('GET', '/bin'),
  projectFile: (project: string) => request<ProjectFile>('GET', `/projects/${id(project)}/file`),
  createProjectFromFile: (file: unknown) => request<{ id: string }>('POST', '/projects/file', file),
  restoreProject: (project: string) => request<void>('POST', `/projects/${id(project)}/restore`),
  keptPieces: (project: string) => request<KeptPiece[]>('GET', `/pieces?project=${id(project)}`),
  /** @param project null: for all projects */
  keepPiece: (project: string | null, piece: Shelved) => request<{ id: string }>('PUT', '/pieces', { project, piece }),
  forgetPiece: (piece: string) => request<void>('DELETE', `/pieces/${id(piece)}`),
  keptCurves: (project: string) => request<KeptSummary[]>('GET', `/curves?project=${id(project)}`),
  /** @param packed as the core packs them */
  keepCurves: (project: string, packed: Uint8Array) =>
    request<{ id: string }>('POST', `/curves?project=${id(project)}`, packed),
  throwCurvesAway: (curves: string) => request<void>('DELETE', `/curves/${id(curves)}`),
  readCurves: (curves: string) => requestBytes(`/curves/${id(curves)}`),
  createDesign: (project: string, document: Design) =>
    request<{ id: string; revision: number }>('POST', `/projects/${id(project)}/designs`, document),
  readDesign,
  /** @param leaving the page goes away: the request is to outlive it, if it is small enough for that */
  saveDesign: (design: string, seen: number, document: Design, leaving = false) =>
    request<{ revision: number; updatedAt: number }>('PUT', `/designs/${id(design)}`, document, {
      headers: { 'If-Match': `"${seen}"` },
      isAnswer: isStored,
      keepalive: leaving && JSON.stringify(document).length < KEEPALIVE_LIMIT,
    }),
  listRevisions: (design: string) => request<RevisionSummary[]>('GET', `/designs/${id(design)}/revisions`),
  readRevision: (design: string, revision: number) =>
    request<{ document: Design }>('GET', `/designs/${id(design)}/revisions/${revision}`),
  moveDesign: (design: string, project: string) => request<void>('PUT', `/designs/${id(design)}/project`, { project }),
  duplicateDesign: (design: string) => request<{ id: string }>('POST', `/designs/${id(design)}/duplicate`),
  deleteDesign: (design: string) => request<void>('DELETE', `/designs/${id(design)}`),
  restoreDesign: (design: string) => request<void>('POST', `/designs/${id(design)}/restore`),
}
