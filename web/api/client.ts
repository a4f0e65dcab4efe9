import {
  answerOf,
  contract,
  newId,
  unpackFile,
  urlOf,
  type Answering,
  type AnswerOf,
  type Command,
  type Contract,
  type DeviceFile,
  type EndpointShape,
  type ExportName,
  type ExportOptions,
  type InputOf,
  type Presence,
  type Problem,
  type ProjectState,
  type Refusal,
  type RoleName,
  type RehearsalAction,
  type RehearsalWish,
} from '@kataxis/core'
import { takeEarly, type ArrivedPlan } from './early'

export type { Presence } from '@kataxis/core'

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

export type Told = AnswerOf<Contract['changes']>
export type ChangeEntry = Told['entries'][number]
export type PlanAnswer = AnswerOf<Contract['packedPlan']>
export type ShelfFile = AnswerOf<Contract['files']>['files'][number]
export type Session = AnswerOf<Contract['session']>
export type User = NonNullable<Session['user']>
/** With the database that the sender's plan comes from. */
export type Order = Omit<InputOf<Contract['repair']>['body'], 'epoch'> & { readonly epoch: string }
export type TakingBack = Partial<
  Pick<InputOf<Contract['undo']>['body'], 'withDependents' | 'skip'>
> & {
  readonly target?: number
}
export type Arrived = AnswerOf<Contract['addFile']>['arrivals'][number]
export type ShelfHit = AnswerOf<Contract['searchShelf']>['hits'][number]
export type FileUse = AnswerOf<Contract['fileUses']>['uses'][number]
export type HistoryEntry = AnswerOf<Contract['history']>['entries'][number]
export type Access = AnswerOf<Contract['access']>
export type Version = AnswerOf<Contract['versions']>['versions'][number]
export type RehearsalView = AnswerOf<Contract['actInRehearsal']>

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
  method: string,
  url: string,
  body?: unknown,
  timeout = timeoutMs,
): Promise<Response> {
  let response: Response
  try {
    const isRaw = body instanceof Blob
    response = await fetch(url, {
      method: method.toUpperCase(),
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

/** What a call may give, whichever it is. */
interface AnyInput {
  readonly params?: Readonly<Record<string, string>>
  readonly query?: Readonly<Record<string, string | number | undefined>>
  readonly body?: unknown
  readonly raw?: Blob
}

/** An answer as the contract says it is. */
function answerAs<A>(shape: Answering<A>, json: unknown): A {
  const answer = answerOf(shape, json)
  if (answer !== null) return answer
  throw new FailedInServer('The server answered what this page does not know; load the page again.')
}

/** One call by the contract: path, query and body from its parts, the answer checked. */
async function call<S extends EndpointShape, A>(
  shape: S & Answering<A>,
  input: InputOf<S>,
  timeout?: number,
): Promise<A> {
  const { params, query, body, raw } = input as AnyInput
  const url = urlOf(shape, params, query)
  const response = await ask(shape.method, url, raw ?? body, timeout)
  return answerAs(shape, await response.json())
}

/** Sends a file and tells how much of it is gone; `fetch` cannot tell that. An aborted one ends as
 *  `AbortError`. */
function upload<A>(
  shape: EndpointShape & Answering<A>,
  file: File,
  onSent: (share: number) => void,
  signal: AbortSignal,
): Promise<A> {
  return new Promise((resolve, reject) => {
    const sending = new XMLHttpRequest()
    sending.open('POST', urlOf(shape, {}, { name: file.name }))
    sending.upload.onprogress = ({ loaded, total }) => onSent(total === 0 ? 1 : loaded / total)
    sending.onerror = () => reject(new ServerAway('The server does not answer.'))
    sending.onabort = () => reject(new DOMException('cancelled', 'AbortError'))
    sending.onload = () => {
      const answer: unknown = JSON.parse(sending.responseText || '{}')
      if (sending.status < 300) resolve(answerAs(shape, answer))
      else reject(errorOf(sending.status, answer as object, null))
    }
    signal.addEventListener('abort', () => sending.abort())
    if (sessionWord.csrf !== '') sending.setRequestHeader('X-Kataxis-Token', sessionWord.csrf)
    sending.send(file)
  })
}

const of = (project: string) => ({ params: { project } })

/** Every call to the server. */
export const api = {
  session: () => call(contract.session, {}),
  signIn: (name: string, password: string) => call(contract.signIn, { body: { name, password } }),
  signOut: () => call(contract.signOut, {}),
  becomeOwner: (name: string, fullName: string, password: string) =>
    call(contract.becomeOwner, { body: { name, fullName, password } }),
  changePassword: (current: string, password: string) =>
    call(contract.changePassword, { body: { current, password } }),
  health: () => call(contract.health, {}),
  users: () => call(contract.users, {}),
  addUser: (body: InputOf<Contract['addUser']>['body']) => call(contract.addUser, { body }),
  changeUser: (user: string, body: { role?: RoleName; password?: string }) =>
    call(contract.changeUser, { params: { user }, body }),
  removeUser: (user: string) => call(contract.removeUser, { params: { user } }),

  history: (id: string, { words, before }: { words: string; before?: number }) =>
    call(contract.history, {
      ...of(id),
      query: {
        ...(words === '' ? {} : { words }),
        ...(before === undefined ? {} : { before: String(before) }),
      },
    }),
  backTo: (id: string, order: Order & TakingBack, revision: number) =>
    call(contract.backTo, { ...of(id), body: { ...order, revision } }, changeTimeoutMs),
  repair: (id: string, body: Order) => call(contract.repair, { ...of(id), body }, changeTimeoutMs),
  difference: (id: string, from: number, to: number) =>
    call(contract.difference, { ...of(id), query: { from: String(from), to: String(to) } }),
  sayPresence: (id: string, body: Omit<Presence, 'author'>) =>
    call(contract.sayPresence, { ...of(id), body }),
  versions: (id: string) => call(contract.versions, of(id)),
  nameVersion: (id: string, name: string) =>
    call(contract.nameVersion, { ...of(id), body: { name } }),
  forgetVersion: (project: string, name: string) =>
    call(contract.forgetVersion, { params: { project, name } }),

  projects: () => call(contract.projects, {}),
  createProject: (name: string) => call(contract.createProject, { body: { name } }),
  renameProject: (id: string, baseRevision: number, name: string) =>
    call(contract.command, {
      ...of(id),
      body: { commandId: newId(), baseRevision, command: { type: 'setProject', set: { name } } },
    }),
  access: (id: string) => call(contract.access, of(id)),
  setState: (id: string, state: ProjectState) =>
    call(contract.setState, { ...of(id), body: { state } }),
  copyProject: (id: string, name: string) =>
    call(contract.copyProject, { ...of(id), body: { name } }, changeTimeoutMs),
  members: (id: string) => call(contract.members, of(id)),
  setMembers: (id: string, body: InputOf<Contract['setMembers']>['body']) =>
    call(contract.setMembers, { ...of(id), body }),
  openDemo: () => call(contract.openDemo, {}, changeTimeoutMs),
  importProject: (raw: Blob) => call(contract.importProject, { raw }),
  /** As text, so that it can be kept as it came. */
  plan: async (project: string): Promise<ArrivedPlan<PlanAnswer>> => {
    const url = urlOf(contract.packedPlan, { project })
    const early = await takeEarly<PlanAnswer>(url)
    if (early) return early
    const text = await (await ask('get', url, undefined, changeTimeoutMs)).text()
    return { text, answer: JSON.parse(text) as PlanAnswer }
  },
  command: (id: string, order: Order, command: Command) =>
    call(contract.command, { ...of(id), body: { ...order, command } }, changeTimeoutMs),
  undo: (id: string, body: Order & TakingBack) =>
    call(contract.undo, { ...of(id), body }, changeTimeoutMs),
  redo: (id: string, body: Order & TakingBack) =>
    call(contract.redo, { ...of(id), body }, changeTimeoutMs),
  changesSince: (id: string, revision: number) =>
    call(contract.changes, { ...of(id), query: { since: String(revision) } }),
  exportUrl: (project: string, format: ExportName, options: Partial<ExportOptions> = {}) =>
    urlOf(
      contract.export,
      { project, format },
      { options: Object.keys(options).length === 0 ? undefined : JSON.stringify(options) },
    ),
  releases: (project: string) => call(contract.releases, of(project)),
  beginRelease: (project: string, body: InputOf<Contract['beginRelease']>['body']) =>
    call(contract.beginRelease, { ...of(project), body }),
  releaseUrl: (project: string, name: string) => urlOf(contract.releasePackage, { project, name }),

  jobs: () => call(contract.jobs, {}),
  beginExport: (project: string, format: ExportName, options: Partial<ExportOptions> = {}) =>
    call(contract.beginExport, { ...of(project), body: { format, options } }),
  jobOutcome: (job: string) => call(contract.jobOutcome, { params: { job } }),
  jobFileUrl: (job: string) => urlOf(contract.jobFile, { job }),
  cancelJob: (job: string) => call(contract.cancelJob, { params: { job } }),
  forgetJob: (job: string) => call(contract.forgetJob, { params: { job } }),

  files: () => call(contract.files, {}),
  addFile: (file: File, onSent: (share: number) => void, signal: AbortSignal) =>
    upload(contract.addFile, file, onSent, signal),
  beginReading: (file: File, onSent: (share: number) => void, signal: AbortSignal) =>
    upload(contract.beginReading, file, onSent, signal),
  catalog: async (sha256: string, language?: string): Promise<DeviceFile> =>
    unpackFile(
      await call(contract.catalog, {
        params: { sha256 },
        query: language === undefined ? {} : { language },
      }),
    ),
  /** As text, so that it can be kept as it came. */
  catalogText: async (sha256: string) =>
    (await ask('get', urlOf(contract.catalog, { sha256 }), undefined, changeTimeoutMs)).text(),
  searchShelf: (q: string) => call(contract.searchShelf, { query: { q } }),
  fileLines: (sha256: string, from: number, to: number) =>
    call(contract.fileLines, { params: { sha256 }, query: { from, to } }),
  fileUses: (sha256: string) => call(contract.fileUses, { params: { sha256 } }),
  compareFiles: (older: string, sha256: string) =>
    call(contract.compareFiles, { params: { sha256 }, query: { older } }),
  rawUrl: (sha256: string) => urlOf(contract.rawFile, { sha256 }),
  rawText: (sha256: string) =>
    fetch(urlOf(contract.rawFile, { sha256 })).then((response) => response.text()),
  removeFile: (sha256: string) => call(contract.removeFile, { params: { sha256 } }),

  rehearsal: (id: string) => call(contract.rehearsal, of(id)),
  beginRehearsal: (id: string, body: RehearsalWish) =>
    call(contract.beginRehearsal, { ...of(id), body }),
  actInRehearsal: (id: string, body: RehearsalAction) =>
    call(contract.actInRehearsal, { ...of(id), body }),
  endRehearsal: (id: string) => call(contract.endRehearsal, of(id)),
  captureUrl: (project: string) => urlOf(contract.capture, { project }),
}
