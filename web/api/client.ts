import {
  unpackFile,
  type Command,
  type ControllerRow,
  type DeviceFile,
  type Difference,
  type FileSummary,
  type ModuleRow,
  type NetworkRow,
  type PackedFile,
  type Problem,
  type ProjectRow,
  type Refusal,
  type RoleName,
  type RowChange,
  type SignalRow,
  type StationRow,
} from '@kataxis/core'

/** The server said no, with a sentence for people. */
export class RefusedByServer extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly problems: readonly Problem[],
    readonly refusal: Refusal | null = null,
  ) {
    super(sentence)
  }
}

/** The server did not answer, or said that it cannot at the moment; it is asked again. */
export class ServerAway extends Error {
  constructor(
    sentence: string,
    readonly retryAfterMs: number | null = null,
  ) {
    super(sentence)
  }
}

/** The server failed over this request, and would fail again. */
export class FailedInServer extends Error {}

export interface ChangeEntry {
  readonly revision: number
  readonly commandId: string
  readonly author: string
  readonly at: string
  readonly kind: 'do' | 'undo' | 'redo' | 'back' | 'repair'
  readonly changes: RowChange[]
}

/** What happened since, in the database of that name. */
export interface Told {
  readonly epoch: string
  readonly entries: ChangeEntry[]
}

export interface PlanAnswer {
  readonly epoch: string
  /** What is wrong with a damaged project, as sentences; nothing changes it but a repair. */
  readonly damage: readonly string[]
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
  readonly demo: {
    readonly password: string
    readonly accounts: readonly Omit<User, 'id'>[]
  } | null
}

export interface Order {
  readonly commandId: string
  readonly baseRevision: number
  /** The database that the sender's plan comes from. */
  readonly epoch: string
}

export interface TakingBack {
  readonly withDependents?: boolean
  /** Undo only: it stays, and older changes can be taken back. */
  readonly skip?: boolean
  /** The change that is meant, as a refusal named it. */
  readonly target?: number
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
  readonly kind: 'do' | 'undo' | 'redo' | 'back' | 'repair'
  readonly target: number | null
  readonly undone: boolean
  readonly command: Command | null
  /** Rows it touched, and the first of them. */
  readonly rows: number
  readonly first: readonly RowChange[]
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
/** A change of a hundred thousand rows takes its time; sent twice it would only take longer. */
const changeTimeoutMs = 300_000

/** The word of the session that changing requests bring along, and what happens when the server
 *  knows no session any more. */
export const sessionWord = {
  csrf: '',
  onLost(): void {
    /* The session store listens here. */
  },
}
const withWord = (headers: Record<string, string> = {}) =>
  sessionWord.csrf === '' ? headers : { ...headers, 'X-Kataxis-Token': sessionWord.csrf }

const awayStatus: ReadonlySet<number> = new Set([429, 502, 503, 504, 507])

/** An answer that is none: away, failed, or refused with a sentence. */
function errorOf(
  status: number,
  problem: { code?: string; detail?: string; problems?: Problem[]; refusal?: Refusal },
  retryAfter: string | null,
): Error {
  if (awayStatus.has(status))
    return new ServerAway(
      problem.detail ?? 'The server is in trouble.',
      Number(retryAfter) > 0 ? Number(retryAfter) * 1000 : null,
    )
  if (status >= 500) return new FailedInServer(problem.detail ?? `The server failed (${status}).`)
  if (problem.code === 'session.missing' || problem.code === 'session.word') {
    // Nothing is dropped: what waits to be sent waits for the next sign-in of the same person.
    sessionWord.onLost()
    return new ServerAway(problem.detail ?? 'You are not signed in.')
  }
  return new RefusedByServer(
    status,
    problem.code ?? 'unknown',
    problem.detail ?? `The server refused (${status}).`,
    problem.problems ?? [],
    problem.refusal ?? null,
  )
}

async function ask(
  method: 'GET' | 'POST' | 'DELETE',
  path: string,
  body?: unknown,
  timeout = timeoutMs,
): Promise<Response> {
  let response: Response
  try {
    const isRaw = body instanceof Blob
    response = await fetch(path, {
      method,
      signal: isRaw ? null : AbortSignal.timeout(timeout),
      headers: withWord(body === undefined || isRaw ? {} : { 'Content-Type': 'application/json' }),
      body: body === undefined ? null : isRaw ? body : JSON.stringify(body),
    })
  } catch {
    throw new ServerAway('The server does not answer.')
  }
  if (response.ok) return response
  throw errorOf(
    response.status,
    (await response.json().catch(() => ({}))) as object,
    response.headers.get('Retry-After'),
  )
}

async function request<T>(
  method: 'GET' | 'POST' | 'DELETE',
  path: string,
  body?: unknown,
  timeout?: number,
): Promise<T> {
  return (await ask(method, path, body, timeout)).json() as Promise<T>
}

/** Sends a file and tells how much of it is gone; `fetch` cannot tell that. An aborted one ends as
 *  `AbortError`. */
function upload(
  file: File,
  onSent: (share: number) => void,
  signal: AbortSignal,
): Promise<{ arrivals: Arrived[] }> {
  return new Promise((resolve, reject) => {
    const sending = new XMLHttpRequest()
    sending.open('POST', `/api/files?name=${encodeURIComponent(file.name)}`)
    sending.upload.onprogress = ({ loaded, total }) => onSent(total === 0 ? 1 : loaded / total)
    sending.onerror = () => reject(new ServerAway('The server does not answer.'))
    sending.onabort = () => reject(new DOMException('cancelled', 'AbortError'))
    sending.onload = () => {
      const answer = JSON.parse(sending.responseText || '{}') as {
        arrivals: Arrived[]
        code?: string
        detail?: string
        problems?: Problem[]
      }
      if (sending.status < 300) resolve(answer)
      else reject(errorOf(sending.status, answer, null))
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
  signIn: (name: string, password: string) =>
    request<Session>('POST', '/api/session', { name, password }),
  signOut: () => request<object>('DELETE', '/api/session'),
  becomeOwner: (name: string, fullName: string, password: string) =>
    request<Session>('POST', '/api/owner', { name, fullName, password }),
  changePassword: (current: string, password: string) =>
    request<object>('POST', '/api/session/password', { current, password }),
  health: () =>
    request<{ space?: { freeBytes: number | null; isScarce: boolean } }>('GET', '/api/health'),
  users: () => request<{ users: User[] }>('GET', '/api/users'),
  addUser: (user: Omit<User, 'id'> & { password: string }) =>
    request<object>('POST', '/api/users', user),
  changeUser: (id: string, set: { role?: RoleName; password?: string }) =>
    request<object>('POST', `/api/users/${id}`, set),
  removeUser: (id: string) => request<object>('DELETE', `/api/users/${id}`),

  history: (id: string, { words, before }: { words: string; before?: number }) =>
    request<{ entries: HistoryEntry[] }>(
      'GET',
      `${projectPath(id)}/history?${new URLSearchParams({ ...(words === '' ? {} : { words }), ...(before === undefined ? {} : { before: String(before) }) })}`,
    ),
  backTo: (id: string, order: Order & TakingBack, revision: number) =>
    request<Told>('POST', `${projectPath(id)}/back`, { ...order, revision }, changeTimeoutMs),
  repair: (id: string, order: Order) =>
    request<Told>('POST', `${projectPath(id)}/repair`, order, changeTimeoutMs),
  difference: (id: string, from: number, to: number) =>
    request<{ changes: RowChange[] }>('GET', `${projectPath(id)}/difference?from=${from}&to=${to}`),
  sayPresence: (id: string, presence: Omit<Presence, 'author'>) =>
    request<object>('POST', `${projectPath(id)}/presence`, presence),
  versions: (id: string) => request<{ versions: Version[] }>('GET', `${projectPath(id)}/versions`),
  nameVersion: (id: string, name: string) =>
    request<object>('POST', `${projectPath(id)}/versions`, { name }),
  forgetVersion: (id: string, name: string) =>
    request<object>('DELETE', `${projectPath(id)}/versions/${encodeURIComponent(name)}`),

  projects: () =>
    request<{ projects: { id: string; name: string; revision: number }[] }>('GET', '/api/projects'),
  createProject: (name: string) => request<{ id: string }>('POST', '/api/projects', { name }),
  importProject: (file: Blob) => request<{ id: string }>('POST', '/api/projects/import', file),
  /** As text, so that it can be kept as it came. */
  plan: async (id: string) =>
    (await ask('GET', projectPath(id), undefined, changeTimeoutMs)).text(),
  command: (id: string, order: Order, command: Command) =>
    request<Told>('POST', `${projectPath(id)}/commands`, { ...order, command }, changeTimeoutMs),
  undo: (id: string, order: Order & TakingBack) =>
    request<Told>('POST', `${projectPath(id)}/undo`, order, changeTimeoutMs),
  redo: (id: string, order: Order & TakingBack) =>
    request<Told>('POST', `${projectPath(id)}/redo`, order, changeTimeoutMs),
  changesSince: (id: string, revision: number) =>
    request<Told>('GET', `${projectPath(id)}/changes?since=${revision}`),
  exportUrl: (id: string, format: string) => `${projectPath(id)}/export/${format}`,

  files: () => request<{ files: ShelfFile[] }>('GET', '/api/files'),
  addFile: upload,
  catalog: (sha256: string, language?: string): Promise<DeviceFile> =>
    request<PackedFile>(
      'GET',
      `/api/files/${sha256}/catalog${language === undefined ? '' : `?language=${encodeURIComponent(language)}`}`,
    ).then(unpackFile),
  catalogText: async (sha256: string) =>
    (await ask('GET', `/api/files/${sha256}/catalog`, undefined, changeTimeoutMs)).text(),
  searchShelf: (text: string) =>
    request<{ hits: ShelfHit[]; isComplete: boolean }>(
      'GET',
      `/api/files/search?q=${encodeURIComponent(text)}`,
    ),
  fileLines: (sha256: string, from: number, to: number) =>
    request<{ lines: string[] }>('GET', `/api/files/${sha256}/lines?from=${from}&to=${to}`),
  fileUses: (sha256: string) => request<{ uses: FileUse[] }>('GET', `/api/files/${sha256}/uses`),
  compareFiles: (older: string, newer: string) =>
    request<{ differences: Difference[] }>('GET', `/api/files/${newer}/compare?older=${older}`),
  rawUrl: (sha256: string) => `/api/files/${sha256}/raw`,
  rawText: (sha256: string) =>
    fetch(`/api/files/${sha256}/raw`).then((response) => response.text()),
  removeFile: (sha256: string) => request<object>('DELETE', `/api/files/${sha256}`),

  rehearsal: <T>(id: string) =>
    request<{ rehearsal: T | null }>('GET', `${projectPath(id)}/rehearsal`),
  rehearsalStep: <T>(id: string, step: '' | '/scan' | '/blink' | '/assign', body: object = {}) =>
    request<T>('POST', `${projectPath(id)}/rehearsal${step}`, body),
  captureUrl: (id: string) => `${projectPath(id)}/rehearsal/capture`,
}
