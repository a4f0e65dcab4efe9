import { unpackFile, type Command, type ControllerRow, type DeviceFile, type Difference, type FileSummary, type ModuleRow, type NetworkRow, type PackedFile, type Problem, type ProjectRow, type RoleName, type RowChange, type SignalRow, type StationRow } from '@kataxis/core'

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
  readonly kind: 'do' | 'undo' | 'redo' | 'back'
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

export interface User {
  readonly id: string
  readonly name: string
  readonly fullName: string
  readonly role: RoleName
}

export interface Session {
  readonly user: User | null
  readonly csrf: string | null
  readonly needsOwner: boolean
  readonly demo: { readonly password: string; readonly accounts: readonly Omit<User, 'id'>[] } | null
}

export interface Order {
  readonly commandId: string
  readonly baseRevision: number
}

export interface Arrived {
  readonly name: string
  readonly state: 'new' | 'known' | 'refused'
  readonly sha256: string | null
  readonly sentence: string
  readonly problems: readonly Problem[]
}

export interface ShelfHit {
  readonly sha256: string
  readonly kind: 'head' | 'module' | 'submodule'
  readonly key: string
  readonly name: string
  readonly orderNumber: string | null
  readonly info: string
  readonly fileName: string
  readonly vendor: string
  readonly protocol: string | null
}

export interface FileUse {
  readonly projectId: string
  readonly project: string
  readonly stationId: string
  readonly station: string
}

export interface HistoryEntry {
  readonly revision: number
  readonly author: string
  readonly at: string
  readonly kind: 'do' | 'undo' | 'redo' | 'back'
  readonly target: number | null
  readonly undone: boolean
  readonly command: Command | null
  /** Rows it touched. */
  readonly rows: number
}

/** Where somebody is who looks at the same project. */
export interface Presence {
  /** The browser window, so that two of one person stay apart. */
  readonly client: string
  readonly author: string
  /** Id of the thing in focus. */
  readonly at: string | null
  /** Whether the others shall say where they are. */
  readonly asks: boolean
}

export interface Version {
  readonly name: string
  readonly revision: number
  readonly author: string
  readonly at: string
}

const timeoutMs = 15_000

/** The word of the session that changing requests bring along, and what happens when the server knows no session any more. */
export const sessionWord = { csrf: '', onLost(): void { /* The session store listens here. */ } }
const withWord = (headers: Record<string, string> = {}) => (sessionWord.csrf === '' ? headers : { ...headers, 'X-Kataxis-Token': sessionWord.csrf })

async function request<T>(method: 'GET' | 'POST' | 'DELETE', path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    const isRaw = body instanceof Blob
    response = await fetch(path, {
      method,
      signal: isRaw ? null : AbortSignal.timeout(timeoutMs),
      headers: withWord(body === undefined || isRaw ? {} : { 'Content-Type': 'application/json' }),
      body: body === undefined ? null : isRaw ? body : JSON.stringify(body),
    })
  } catch {
    throw new ServerAway('The server does not answer.')
  }
  if (response.ok) return (await response.json()) as T
  const problem = (await response.json().catch(() => ({}))) as { code?: string; detail?: string; problems?: Problem[] }
  if (response.status >= 500) throw new ServerAway(problem.detail ?? 'The server is in trouble.')
  if (problem.code === 'session.missing') {
    // Nothing is dropped: what waits to be sent waits for the next sign-in.
    sessionWord.onLost()
    throw new ServerAway(problem.detail ?? 'You are not signed in.')
  }
  throw new RefusedByServer(response.status, problem.code ?? 'unknown', problem.detail ?? `The server refused (${response.status}).`, problem.problems ?? [])
}

/** Sends a file and tells how much of it is gone; `fetch` cannot tell that. An aborted one ends as `AbortError`. */
function upload(file: File, onSent: (share: number) => void, signal: AbortSignal): Promise<{ arrivals: Arrived[] }> {
  return new Promise((resolve, reject) => {
    const sending = new XMLHttpRequest()
    sending.open('POST', `/api/files?name=${encodeURIComponent(file.name)}`)
    sending.upload.onprogress = ({ loaded, total }) => onSent(total === 0 ? 1 : loaded / total)
    sending.onerror = () => reject(new ServerAway('The server does not answer.'))
    sending.onabort = () => reject(new DOMException('cancelled', 'AbortError'))
    sending.onload = () => {
      const answer = JSON.parse(sending.responseText || '{}') as { arrivals: Arrived[]; code?: string; detail?: string; problems?: Problem[] }
      if (sending.status < 300) resolve(answer)
      else if (sending.status >= 500) reject(new ServerAway(answer.detail ?? 'The server is in trouble.'))
      else reject(new RefusedByServer(sending.status, answer.code ?? 'unknown', answer.detail ?? 'refused', answer.problems ?? []))
    }
    signal.addEventListener('abort', () => sending.abort())
    if (sessionWord.csrf !== '') sending.setRequestHeader('X-Kataxis-Token', sessionWord.csrf)
    sending.send(file)
  })
}

const projectPath = (id: string) => `/api/projects/${encodeURIComponent(id)}`

/** Every call to the server. */
export const api = {
  session: () => request<Session>('GET', '/api/session'),
  signIn: (name: string, password: string) => request<Session>('POST', '/api/session', { name, password }),
  signOut: () => request<object>('DELETE', '/api/session'),
  becomeOwner: (name: string, fullName: string, password: string) => request<Session>('POST', '/api/owner', { name, fullName, password }),
  changePassword: (current: string, password: string) => request<object>('POST', '/api/session/password', { current, password }),
  users: () => request<{ users: User[] }>('GET', '/api/users'),
  addUser: (user: Omit<User, 'id'> & { password: string }) => request<object>('POST', '/api/users', user),
  changeUser: (id: string, set: { role?: RoleName; password?: string }) => request<object>('POST', `/api/users/${id}`, set),
  removeUser: (id: string) => request<object>('DELETE', `/api/users/${id}`),

  history: (id: string, before?: number) => request<{ entries: HistoryEntry[] }>('GET', `${projectPath(id)}/history${before === undefined ? '' : `?before=${before}`}`),
  backTo: (id: string, order: Order, revision: number) => request<{ entries: ChangeEntry[] }>('POST', `${projectPath(id)}/back`, { ...order, revision }),
  difference: (id: string, from: number, to: number) => request<{ changes: RowChange[] }>('GET', `${projectPath(id)}/difference?from=${from}&to=${to}`),
  sayPresence: (id: string, presence: Omit<Presence, 'author'>) => request<object>('POST', `${projectPath(id)}/presence`, presence),
  versions: (id: string) => request<{ versions: Version[] }>('GET', `${projectPath(id)}/versions`),
  nameVersion: (id: string, name: string) => request<object>('POST', `${projectPath(id)}/versions`, { name }),
  forgetVersion: (id: string, name: string) => request<object>('DELETE', `${projectPath(id)}/versions/${encodeURIComponent(name)}`),

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
  addFile: upload,
  catalog: (sha256: string, language?: string): Promise<DeviceFile> => request<PackedFile>('GET', `/api/files/${sha256}/catalog${language === undefined ? '' : `?language=${encodeURIComponent(language)}`}`).then(unpackFile),
  searchShelf: (text: string) => request<{ hits: ShelfHit[]; isComplete: boolean }>('GET', `/api/files/search?q=${encodeURIComponent(text)}`),
  fileLines: (sha256: string, from: number, to: number) => request<{ lines: string[] }>('GET', `/api/files/${sha256}/lines?from=${from}&to=${to}`),
  fileUses: (sha256: string) => request<{ uses: FileUse[] }>('GET', `/api/files/${sha256}/uses`),
  compareFiles: (older: string, newer: string) => request<{ differences: Difference[] }>('GET', `/api/files/${newer}/compare?older=${older}`),
  rawUrl: (sha256: string) => `/api/files/${sha256}/raw`,
  rawText: (sha256: string) => fetch(`/api/files/${sha256}/raw`).then((response) => response.text()),
  removeFile: (sha256: string) => request<object>('DELETE', `/api/files/${sha256}`),

  rehearsal: <T>(id: string) => request<{ rehearsal: T | null }>('GET', `${projectPath(id)}/rehearsal`),
  rehearsalStep: <T>(id: string, step: '' | '/scan' | '/blink' | '/assign', body: object = {}) => request<T>('POST', `${projectPath(id)}/rehearsal${step}`, body),
  captureUrl: (id: string) => `${projectPath(id)}/rehearsal/capture`,
}
