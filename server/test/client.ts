import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import pg from 'pg'
import { pino } from 'pino'
import { inject } from 'vitest'
import { closeServices, createApp, openServices, type Services } from '../index'

/** A database of its own for one test file. */
export async function freshDatabase(): Promise<string> {
  const admin = new pg.Client({ connectionString: inject('databaseUrl') })
  await admin.connect()
  const name = `test_${Date.now().toString(36)}_${Math.random().toString(36).slice(2, 8)}`
  await admin.query(`create database ${name}`)
  await admin.end()
  return inject('databaseUrl').replace(/\/postgres$/, `/${name}`)
}

export interface Running {
  readonly url: string
  readonly services: Services
  readonly close: () => Promise<void>
}

/** One server instance on loopback, any free port. */
export async function startServer(databaseUrl: string): Promise<Running> {
  const log = pino({ level: 'silent' })
  const services = await openServices(databaseUrl, log)
  const server: Server = createServer(createApp(services, log))
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const close = async () => {
    server.closeAllConnections()
    await new Promise((done) => server.close(done))
    await closeServices(services)
  }
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, services, close }
}

export interface Reply {
  readonly status: number
  readonly type: string
  readonly json: Record<string, unknown>
}

export async function call(base: string, method: string, path: string, body?: unknown): Promise<Reply> {
  const isRaw = body instanceof Uint8Array
  const response = await fetch(base + path, {
    method,
    headers: body === undefined || isRaw ? {} : { 'Content-Type': 'application/json' },
    body: body === undefined ? null : isRaw ? (body as BodyInit) : typeof body === 'string' ? body : JSON.stringify(body),
  })
  const text = await response.text()
  return { status: response.status, type: response.headers.get('content-type') ?? '', json: text === '' ? {} : (JSON.parse(text) as Record<string, unknown>) }
}
