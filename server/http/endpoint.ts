import { brotliDecompressSync } from 'node:zlib'
import express, { type Express, type Request, type Response, type RequestHandler } from 'express'
import { wordIssue, type Right } from '@kataxis/core'
import type { ZodType, z } from 'zod'
import type { UserRow, Users } from '../services/users'
import { Refused } from './refused'
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
  constructor(readonly text: string) {}
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
  /** What the sender has to be allowed; left out, `read` for what only looks and `plan` for everything else. `none`: nobody has to be signed in. */
  readonly right?: Right | 'none'
  /** Looks at the request after its body was read. */
  readonly before?: RequestHandler
  readonly params?: P
  readonly query?: Q
  readonly body?: B
  /** A raw body of at most so many bytes instead of JSON. */
  readonly rawBytes?: number
  readonly answer: ZodType | 'file' | 'events'
}

export interface Endpoint extends Shape<ZodType, ZodType, ZodType> {
  readonly handle: (request: Request, response: Response, user: UserRow | null) => Promise<unknown>
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

/** One way into the program: what it takes is checked by Zod, described in OpenAPI from the same schemas, then called. */
export function endpoint<P extends ZodType, Q extends ZodType, B extends ZodType>(
  shape: Shape<P, Q, B>,
  call: (input: Input<P, Q, B>) => unknown,
): Endpoint {
  return {
    ...shape,
    handle: async (request, response, user) =>
      call({
        params: check(shape.params, request.params, 'address'),
        query: check(shape.query, request.query, 'query'),
        body: check(shape.body, request.body, 'body'),
        raw: shape.rawBytes !== undefined && Buffer.isBuffer(request.body) ? request.body : new Uint8Array(),
        user: user!,
        request,
        response,
      }),
  }
}

function check<S extends ZodType>(schema: S | undefined, value: unknown, where: string): z.output<S> {
  if (!schema) return undefined as z.output<S>
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  throw new Refused(400, 'request.invalid', `The ${where} is not as it should be: ${parsed.error.issues.slice(0, 3).map(wordIssue).join(' ')}`)
}

const maxJson = '64mb'

export function mount(app: Express, endpoints: readonly Endpoint[], users: Users): void {
  for (const entry of endpoints) {
    const readBody: RequestHandler = entry.rawBytes === undefined ? express.json({ limit: maxJson }) : express.raw({ type: () => true, limit: entry.rawBytes })
    const right = entry.right ?? (entry.method === 'get' ? 'read' : 'plan')
    const enter: RequestHandler = async (request, response, next) => {
      if (right !== 'none') response.locals['user'] = (await guard(users, request, right)).user
      next()
    }
    // Who may not enter sends no body either.
    app[entry.method](entry.path.replace(/\{(\w+)\}/g, ':$1'), enter, readBody, ...(entry.before ? [entry.before] : []), async (request, response) => {
      const result = await entry.handle(request, response, (response.locals['user'] as UserRow | undefined) ?? null)
      if (entry.answer === 'events') return
      if (result instanceof Download) {
        response.attachment(result.fileName).type(result.mediaType).send(Buffer.from(result.bytes))
      } else if (result instanceof JsonText) {
        response.type('json').send(result.text)
      } else if (result instanceof PackedJson) {
        response.type('json').vary('Accept-Encoding')
        if (request.acceptsEncodings('br')) response.set('Content-Encoding', 'br').send(Buffer.from(result.brotli))
        else response.send(brotliDecompressSync(result.brotli))
      } else {
        response.json(result)
      }
    })
  }
}
