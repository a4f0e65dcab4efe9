import { workerData } from 'node:worker_threads'
import { pino, type Logger } from 'pino'
import { Piscina, transferableSymbol, valueSymbol } from 'piscina'
import { connect } from '../db/connect'
import { answerOf, nameOf, type Endpoint } from '../http/endpoint'
import { problemOf } from '../http/problem'
import { engineEndpoints } from '../routes'
import { putTogether, type PlanServices } from '../services'
import { warmUp, type Answer, type Call, type Reply } from './desks'

const { databaseUrl, isDemo } = workerData as { databaseUrl: string; isDemo: boolean }
const connections = 8
/** Plans that are read before anybody asks for them. */
const mostWarm = 2
/** Opened when something has failed for the first time, and then kept. */
let opened: Logger | null = null
let services: PlanServices | null = null
let endpoints: ReadonlyMap<string, Endpoint> = new Map()

/** One request, on a thread of its own. */
export default async function engine(call: Call | typeof warmUp): Promise<unknown> {
  if (!services) {
    services = putTogether(connect(databaseUrl, connections).db, isDemo)
    endpoints = new Map(engineEndpoints(services).map((entry) => [nameOf(entry), entry]))
  }
  if (call === warmUp) return services.plans.warm(mostWarm)
  const { name, sent, acceptsBrotli } = call
  try {
    return moving({ answer: answerOf(await endpoints.get(name)!.handle(sent), acceptsBrotli) })
  } catch (error) {
    const { status, code, detail, extra, isFault } = problemOf(error)
    if (isFault || status === 503)
      log().error(
        { error: pino.stdSerializers.err(error as Error), request: name },
        'request failed',
      )
    return { refused: { status, code, detail, extra } } satisfies Reply
  }
}

function log(): Logger {
  if (!opened) {
    const destination = pino.destination({
      dest: process.env['KATAXIS_LOG'] ?? 2,
      sync: false,
      maxLength: 1_000_000,
    })
    // A full disk loses lines and stops nobody.
    destination.on('error', () => undefined)
    opened = pino(destination)
  }
  return opened
}

/** The bytes of an answer change hands instead of being copied. */
function moving(reply: { answer: Answer }): unknown {
  const { bytes } = reply.answer
  // What is packed is kept for the next one who asks.
  const own =
    bytes.byteLength === bytes.buffer.byteLength && !reply.answer.isPacked
      ? bytes
      : Uint8Array.from(bytes)
  const value = { answer: { ...reply.answer, bytes: own } }
  return Piscina.move({ [transferableSymbol]: [own.buffer], [valueSymbol]: value } as never)
}
