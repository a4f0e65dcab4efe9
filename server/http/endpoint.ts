import { brotliDecompressSync } from 'node:zlib'
import express, { type Express, type Request, type RequestHandler, type Response } from 'express'
import { wordIssue, type Right } from '@kataxis/core'
import type { ZodType, z } from 'zod'
import type { Answer, Call, Desk, Desks } from '../engine/desks'
import type { UserRow, Users } from '../services/users'
import { readJson, refuseUnstorable } from './json'
import { Refused } from '../services/refused'
import type { Sent } from './sent'
import { guard } from './session'

type Method = 'get' | 'post' | 'delete'

/** A file as an answer. */
export class Download {
  constructor(
    readonly bytes: Uint8Array,
    readonly mediaType: string,
    readonly fileName: string,
  ) {}
}

/** JSON that is written already. */
export class JsonText {
  constructor(readonly text: string | Uint8Array) {}
}

/** JSON that is written and packed already. */
export class PackedJson {
  constructor(readonly brotli: Uint8Array) {}
}

interface Shape<P extends ZodType, Q extends ZodType, B extends ZodType> {
  readonly method: Method
  /** OpenAPI form: `/api/projects/{project}`. */
  readonly path: string
  readonly summary: string
  /** What the sender has to be allowed; left out, `read` for what only looks and `plan` for
   *  everything else. `none`: nobody has to be signed in. */
  readonly right?: Right | 'none'
  /** The thread that does it, so that nothing large holds up everybody else; left out: here, at
   *  once. */
  readonly at?: Desk
  readonly params?: P
  readonly query?: Q
  readonly body?: B
  /** Largest body, in bytes; looked at before it is read. */
  readonly most?: number
  /** A raw body instead of JSON. */
  readonly isRaw?: boolean
  readonly answer: ZodType | 'file' | 'events'
}

export interface Endpoint extends Shape<ZodType, ZodType, ZodType> {
  readonly handle: (sent: Sent) => Promise<unknown>
}

interface Input<P extends ZodType, Q extends ZodType, B extends ZodType> {
  readonly params: z.output<P>
  readonly query: z.output<Q>
  readonly body: z.output<B>
  readonly raw: Uint8Array
  /** Who sends it; only where the endpoint asks for no right may this be nobody. */
  readonly user: UserRow
  readonly request: Request
  readonly response: Response
}

/** One way into the program: what it takes is checked by Zod, described in OpenAPI from the same
 *  schemas, then called. */
export function endpoint<P extends ZodType, Q extends ZodType, B extends ZodType>(
  shape: Shape<P, Q, B>,
  call: (input: Input<P, Q, B>) => unknown,
): Endpoint {
  return {
    ...shape,
    handle: async ({ params, query, body, user, request, response }) =>
      call({
        params: check(shape.params, params, 'address'),
        query: check(shape.query, query, 'query'),
        body: check(shape.body, shape.body && readJson(body), 'body'),
        raw: shape.isRaw ? body : new Uint8Array(),
        user: user!,
        request: request!,
        response: response!,
      }),
  }
}

function check<S extends ZodType>(
  schema: S | undefined,
  value: unknown,
  where: string,
): z.output<S> {
  if (!schema) return undefined as z.output<S>
  if (where !== 'body') refuseUnstorable(value, where)
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  throw new Refused(
    'invalid',
    'request.invalid',
    `The ${where} is not as it should be: ${parsed.error.issues.slice(0, 3).map(wordIssue).join(' ')}`,
  )
}

/** An endpoint's name between threads. */
export const nameOf = ({ method, path }: Pick<Endpoint, 'method' | 'path'>) => `${method} ${path}`

/** What a handler gave, as bytes to send. */
export function answerOf(result: unknown, acceptsBrotli: boolean): Answer {
  if (result instanceof Download)
    return { bytes: result.bytes, mediaType: result.mediaType, fileName: result.fileName }
  if (result instanceof PackedJson && acceptsBrotli)
    return { bytes: result.brotli, mediaType: 'application/json', isPacked: true }
  if (result instanceof PackedJson)
    return { bytes: brotliDecompressSync(result.brotli), mediaType: 'application/json' }
  const text = result instanceof JsonText ? result.text : JSON.stringify(result)
  return {
    bytes: typeof text === 'string' ? new TextEncoder().encode(text) : text,
    mediaType: 'application/json',
  }
}

const mostJson = 100_000

export function mount(
  app: Express,
  endpoints: readonly Endpoint[],
  users: Users,
  desks: Desks,
): void {
  for (const entry of endpoints) {
    // Who may not enter sends no body either; a packed one could unpack to anything.
    const readBody: RequestHandler = express.raw({
      type: () => true,
      limit: entry.most ?? mostJson,
      inflate: false,
    })
    const right = entry.right ?? (entry.method === 'get' ? 'read' : 'plan')
    const enter: RequestHandler = async (request, response, next) => {
      if (right !== 'none') response.locals['user'] = (await guard(users, request, right)).user
      next()
    }
    app[entry.method](
      entry.path.replace(/\{(\w+)\}/g, ':$1'),
      enter,
      ...(entry.method === 'get' ? [] : [readBody]),
      async (request, response) => {
        const user = (response.locals['user'] as UserRow | undefined) ?? null
        const body = Buffer.isBuffer(request.body) ? request.body : new Uint8Array()
        const sent = { params: { ...request.params }, query: { ...request.query }, body, user }
        const acceptsBrotli = request.acceptsEncodings('br') !== false
        if (entry.answer === 'events')
          return void (await entry.handle({ ...sent, request, response }))
        const call: Call = { name: nameOf(entry), sent, acceptsBrotli }
        give(
          response,
          entry.at
            ? await desks.run(entry.at, call)
            : answerOf(await entry.handle({ ...sent, request, response }), acceptsBrotli),
        )
      },
    )
  }
}

function give(response: Response, { bytes, mediaType, fileName, isPacked }: Answer): void {
  if (fileName !== undefined) response.attachment(fileName)
  response.type(mediaType)
  if (mediaType === 'application/json') response.vary('Accept-Encoding')
  if (isPacked) response.set('Content-Encoding', 'br')
  response.send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength))
}
