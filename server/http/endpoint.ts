import { brotliDecompressSync } from 'node:zlib'
import express, { type Express, type Request, type RequestHandler, type Response } from 'express'
import {
  contract,
  wordIssue,
  type Contract,
  type EndpointName,
  type EndpointShape,
} from '@kataxis/core'
import type { ZodType, z } from 'zod'
import type { Answer, Call } from '../engine/desks'
import { refusal } from '../services/refusals'
import type { Services } from '../services'
import type { UserRow } from '../services/users'
import { readJson, refuseUnstorable } from './json'
import type { Sent } from './sent'
import { allow, senderOf } from './session'

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

/** One way into the program, with what answers it. */
export interface Endpoint extends EndpointShape {
  readonly handle: (sent: Sent) => Promise<unknown>
}

type Given<S> = S extends ZodType ? z.output<S> : undefined
interface Input<N extends EndpointName> {
  readonly params: Given<Contract[N] extends { params: infer P } ? P : undefined>
  readonly query: Given<Contract[N] extends { query: infer Q } ? Q : undefined>
  readonly body: Given<Contract[N] extends { body: infer B } ? B : undefined>
  readonly raw: Uint8Array
  /** Who sends it; only where the endpoint asks for no right may this be nobody. */
  readonly user: UserRow
  readonly request: Request
  readonly response: Response
}
/** What a handler may give: what the contract says, or the same written already. */
type Answering<N extends EndpointName> = Contract[N]['answer'] extends ZodType
  ? z.input<Contract[N]['answer']> | JsonText | PackedJson
  : Contract[N]['answer'] extends 'file'
    ? Download
    : unknown

/** What comes is checked by the contract's schemas before the handler is called, and what goes
 *  afterwards. */
export function endpoint<N extends EndpointName>(
  name: N,
  call: (input: Input<N>) => Answering<N> | Promise<Answering<N>>,
): Endpoint {
  const shape: EndpointShape = contract[name]
  return {
    ...shape,
    handle: async ({ params, query, body, user, request, response }) => {
      const result = await call({
        params: check(shape.params, params, 'address'),
        query: check(shape.query, query, 'query'),
        body: check(shape.body, shape.body && readJson(body), 'body'),
        raw: shape.isRaw ? body : new Uint8Array(),
        user: user!,
        request: request!,
        response: response!,
      } as Input<N>)
      return answered(name, shape, result)
    },
  }
}

/** Whether answers that are written already are looked at too; tests do, since it takes as long as
 *  writing them. */
const looksAtWritten = process.env['KATAXIS_CHECK_ANSWERS'] === '1'

function answered(name: string, { answer }: EndpointShape, result: unknown): unknown {
  if (answer === 'file' || answer === 'events' || result instanceof Download) return result
  const isWritten = result instanceof JsonText || result instanceof PackedJson
  if (isWritten && !looksAtWritten) return result
  const checked = answer.safeParse(isWritten ? read(result) : result)
  if (!checked.success)
    throw new Error(
      `The answer of ${name} is not what the contract says: ${checked.error.issues.slice(0, 3).map(wordIssue).join(' ')}`,
    )
  return isWritten ? result : checked.data
}

function read(written: JsonText | PackedJson): unknown {
  const bytes = written instanceof PackedJson ? brotliDecompressSync(written.brotli) : written.text
  return JSON.parse(typeof bytes === 'string' ? bytes : new TextDecoder().decode(bytes))
}

function check(schema: ZodType | undefined, value: unknown, where: string): unknown {
  if (!schema) return undefined
  if (where !== 'body') refuseUnstorable(value, where)
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  throw refusal('request.invalid', {
    where,
    why: parsed.error.issues.slice(0, 3).map(wordIssue).join(' '),
  })
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
  { users, projects, desks }: Pick<Services, 'users' | 'projects' | 'desks'>,
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
      if (right === 'none') return next()
      const sender = await senderOf(users, request)
      const id = request.params['project']
      const user =
        typeof id === 'string'
          ? await projects.enter(sender, id, { changes: right !== 'read', reaches: entry.reaches })
          : sender
      allow(user, right)
      response.locals['user'] = user
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
