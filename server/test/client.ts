import pg from 'pg'
import { pino } from 'pino'
import type { RoleName } from '@kataxis/core'
import { inject } from 'vitest'
import { loadDemo, openServices, serve, type Services } from '../index'

const nameOf = (databaseUrl: string) => new URL(databaseUrl).pathname.slice(1)

/** A database of its own for one test file: empty, or a copy. */
export async function freshDatabase(copied = 'template1'): Promise<string> {
  const admin = new pg.Client({ connectionString: inject('databaseUrl') })
  await admin.connect()
  const name = `test_${Date.now().toString(36)}_${Math.random().toString(36).slice(2, 8)}`
  await admin.query(`create database ${name} template ${copied}`)
  await admin.end()
  return inject('databaseUrl').replace(/\/postgres$/, `/${name}`)
}

let demo: Promise<string> | null = null

/** The same with the demo in it, which is read once for all test files of a thread. */
export async function demoDatabase(): Promise<string> {
  demo ??= (async () => {
    const databaseUrl = await freshDatabase()
    const { services, close } = await startServer(databaseUrl)
    await loadDemo(services.db, services.plans, services.shelf)
    await close()
    return nameOf(databaseUrl)
  })()
  return freshDatabase(await demo)
}

export interface Running {
  readonly url: string
  readonly services: Services
  readonly close: () => Promise<void>
}

const servicesAt = new Map<string, Services>()

/** One server instance on loopback, any free port. */
export async function startServer(databaseUrl: string): Promise<Running> {
  const log = pino({ level: 'silent' })
  const services = await openServices(databaseUrl, log)
  const { port, stop } = await serve(services, log, 0)
  const url = `http://127.0.0.1:${port}`
  servicesAt.set(url, services)
  return { url, services, close: stop }
}

export interface Reply {
  readonly status: number
  readonly type: string
  readonly json: Record<string, unknown>
}

interface Visit {
  readonly cookie: string
  readonly csrf: string
}
const visits = new Map<string, Promise<Visit>>()
const password = 'long enough'

/** Signs somebody in, once a server; the account is made where it is missing. */
export async function visit(
  running: Pick<Running, 'url'>,
  name: string,
  role: RoleName = 'owner',
): Promise<Visit> {
  const key = `${running.url} ${name}`
  let known = visits.get(key)
  if (!known) visits.set(key, (known = enter(running.url, name, role)))
  return known
}

async function enter(url: string, name: string, role: RoleName): Promise<Visit> {
  await servicesAt
    .get(url)!
    .users.create({ name, fullName: name, role, password })
    .catch(() => undefined)
  const response = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name, password }),
  })
  const { csrf } = (await response.json()) as { csrf: string }
  return { cookie: response.headers.get('set-cookie')!.split(';')[0]!, csrf }
}

/** A request of somebody signed in: of who is named as `author` in the body, else of A; both
 *  owners. */
export async function call(
  base: string,
  method: string,
  path: string,
  body?: unknown,
  by?: Visit | null,
): Promise<Reply> {
  const { author } = (typeof body === 'object' && body !== null ? body : {}) as { author?: string }
  return send(
    base,
    method,
    path,
    body,
    by === undefined ? await visit({ url: base }, author ?? 'A') : by,
  )
}

/** The headers of somebody signed in. */
export const headersOf = ({ cookie, csrf }: Visit) => ({ Cookie: cookie, 'X-Kataxis-Token': csrf })

async function send(
  base: string,
  method: string,
  path: string,
  body: unknown,
  by: Visit | null,
): Promise<Reply> {
  const isRaw = body instanceof Uint8Array
  const response = await fetch(base + path, {
    method,
    headers: {
      ...(by && headersOf(by)),
      ...(body === undefined || isRaw ? {} : { 'Content-Type': 'application/json' }),
    },
    body:
      body === undefined
        ? null
        : isRaw
          ? (body as BodyInit)
          : typeof body === 'string'
            ? body
            : JSON.stringify(body),
  })
  const text = await response.text()
  return {
    status: response.status,
    type: response.headers.get('content-type') ?? '',
    json: text === '' ? {} : (JSON.parse(text) as Record<string, unknown>),
  }
}
