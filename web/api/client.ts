import type { Command, ControllerRow, DeviceFile, FileSummary, ModuleRow, NetworkRow, Problem, ProjectRow, RowChange, SignalRow, StationRow } from '@kataxis/core'

/** The server said no, with a sentence for people. */
export class RefusedByServer extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly problems: readonly Problem[],
  ) {
    super(sentence)
  }
}

/** The server did not answer at all. */
export class ServerAway extends Error {}

export interface ChangeEntry {
  readonly revision: number
  readonly commandId: string
  readonly author: string
  readonly at: string
  readonly kind: 'do' | 'undo' | 'redo'
  readonly changes: RowChange[]
}

export interface PlanAnswer {
  readonly revision: number
  readonly project: ProjectRow
  readonly controllers: ControllerRow[]
  readonly networks: NetworkRow[]
  readonly stations: StationRow[]
  readonly modules: ModuleRow[]
  readonly signals: SignalRow[]
}

export interface ShelfFile {
  readonly sha256: string
  readonly name: string
  readonly bytes: number
  readonly addedAt: string
  readonly summary: FileSummary
}

export interface Order {
  readonly commandId: string
  readonly author: string
  readonly baseRevision: number
}

const timeoutMs = 15_000

async function request<T>(method: 'GET' | 'POST' | 'DELETE', path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    const isRaw = body instanceof Blob
    response = await fetch(path, {
      method,
      signal: isRaw ? null : AbortSignal.timeout(timeoutMs),
      headers: body === undefined || isRaw ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? null : isRaw ? body : JSON.stringify(body),
    })
  } catch {
    throw new ServerAway('The server does not answer.')
  }
  if (response.ok) return (await response.json()) as T
  const problem = (await response.json().catch(() => ({}))) as { code?: string; detail?: string; problems?: Problem[] }
  if (response.status >= 500) throw new ServerAway(problem.detail ?? 'The server is in trouble.')
  throw new RefusedByServer(response.status, problem.code ?? 'unknown', problem.detail ?? `The server refused (${response.status}).`, problem.problems ?? [])
}

const projectPath = (id: string) => `/api/projects/${encodeURIComponent(id)}`

/** Every call to the server. */
export const api = {
  projects: () => request<{ projects: { id: string; name: string; revision: number }[] }>('GET', '/api/projects'),
  createProject: (name: string) => request<{ id: string }>('POST', '/api/projects', { name }),
  importProject: (file: Blob) => request<{ id: string }>('POST', '/api/projects/import', file),
  plan: (id: string) => request<PlanAnswer>('GET', projectPath(id)),
  command: (id: string, order: Order, command: Command) => request<{ entries: ChangeEntry[] }>('POST', `${projectPath(id)}/commands`, { ...order, command }),
  undo: (id: string, order: Order) => request<{ entries: ChangeEntry[] }>('POST', `${projectPath(id)}/undo`, order),
  redo: (id: string, order: Order) => request<{ entries: ChangeEntry[] }>('POST', `${projectPath(id)}/redo`, order),
  changesSince: (id: string, revision: number) => request<{ entries: ChangeEntry[] }>('GET', `${projectPath(id)}/changes?since=${revision}`),
  events: (id: string) => new EventSource(`${projectPath(id)}/events`),
  exportUrl: (id: string, format: string) => `${projectPath(id)}/export/${format}`,

  files: () => request<{ files: ShelfFile[] }>('GET', '/api/files'),
  addFile: (file: File) => request<{ sha256: string; isNew: boolean }>('POST', `/api/files?name=${encodeURIComponent(file.name)}`, file),
  catalog: (sha256: string) => request<DeviceFile>('GET', `/api/files/${sha256}/catalog`),
  removeFile: (sha256: string) => request<object>('DELETE', `/api/files/${sha256}`),

  rehearsal: <T>(id: string) => request<{ rehearsal: T | null }>('GET', `${projectPath(id)}/rehearsal`),
  rehearsalStep: <T>(id: string, step: '' | '/scan' | '/blink' | '/assign', body: object = {}) => request<T>('POST', `${projectPath(id)}/rehearsal${step}`, body),
  captureUrl: (id: string) => `${projectPath(id)}/rehearsal/capture`,
}
