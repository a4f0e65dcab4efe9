import { Refused, type Reason } from '../services/refused'

/** A refusal as it is sent: problem+json (RFC 9457) with a sentence, never a stack trace. */
export interface Problem {
  readonly status: number
  readonly code: string
  readonly detail: string
  readonly extra: object
  /** Whether it is the program's own fault and belongs into the log. */
  readonly isFault: boolean
}

/** A refusal of another thread, which has put it into its form already. */
export class ToldByThread extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

const plain = (status: number, code: string, detail: string): Problem => ({
  status,
  code,
  detail,
  extra: {},
  isFault: false,
})

/** Status codes of HTTP (RFC 9110, RFC 6585) by why something is refused. */
const statusOf: Readonly<Record<Reason, number>> = {
  invalid: 400,
  signedOut: 401,
  forbidden: 403,
  missing: 404,
  conflict: 409,
  tooLarge: 413,
  impossible: 422,
  tooOften: 429,
  away: 503,
  tooSlow: 504,
}

/** What the body reader throws, in words. */
const bodyFaults: Readonly<Record<string, Problem>> = {
  'entity.too.large': plain(
    413,
    'body.tooLarge',
    'The upload is larger than what is taken here; description files may have up to 67 MB.',
  ),
  'encoding.unsupported': plain(415, 'body.encoding', 'The body is packed; send it as it is.'),
  'request.aborted': plain(400, 'body.aborted', 'The upload was broken off; nothing was kept.'),
}

const away = plain(
  503,
  'database.away',
  'The database does not answer; nothing was changed. It is tried again.',
)
const busy = plain(
  503,
  'server.busy',
  'The server has too much to do at the moment; nothing was changed. Try again.',
)
const tooMuch = plain(
  422,
  'request.tooMuch',
  'That needs more memory or time than the server gives to one request; it was stopped and nothing was changed.',
)
const full = plain(
  507,
  'disk.full',
  'The disk of the server is full; nothing was changed. Somebody has to make room there.',
)
const value = plain(
  400,
  'value.invalid',
  'A value is one that the database cannot hold; nothing was changed.',
)
const meeting = plain(
  409,
  'row.changed',
  'Another person changed the same at the same time; look at it and decide again.',
)

/** Codes and classes of PostgreSQL (appendix A of its manual), of sockets, and of the thread
 *  pool. */
const causes: readonly [RegExp, Problem][] = [
  [/^(53100|58030|ENOSPC)$/, full],
  [
    /^(08...|57P0[1-5]|53[34]00|55000|3D000|25006|ECONNREFUSED|ECONNRESET|ENOTFOUND|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENOENT)$/,
    away,
  ],
  [/^(40001|40P01|55P03|25P03|57014)$/, busy],
  [/^22...$/, value],
  [/^23...$/, meeting],
  [/^(ERR_WORKER_OUT_OF_MEMORY|53200)$/, tooMuch],
]
const messages: readonly [RegExp, Problem][] = [
  [
    /Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|not queryable/i,
    away,
  ],
  [/Terminating worker thread|worker (thread )?(ended|exited)/i, busy],
]

/** What became of a request that failed, told to whoever sent it. */
export function problemOf(error: unknown): Problem {
  if (error instanceof ToldByThread) return error.problem
  if (error instanceof Refused)
    return {
      status: statusOf[error.reason],
      code: error.code,
      detail: error.message,
      extra: error.extra,
      isFault: false,
    }
  const { type, status } = error as { type?: string; status?: number }
  const fault = type === undefined ? undefined : bodyFaults[type]
  if (fault) return fault
  if (status !== undefined && status >= 400 && status < 500)
    return plain(status, 'request.invalid', 'The request could not be read.')
  return (
    knownCause(error) ?? {
      ...plain(
        500,
        'internal',
        'Something went wrong in the program; nothing was changed. The server’s log has the details.',
      ),
      isFault: true,
    }
  )
}

/** Whether the database was not there, which passes. */
export function isAway(error: unknown): boolean {
  const { code } = problemOf(error)
  return code === away.code || code === busy.code
}

/** Whether the same may work another time: the database was away or busy, or the disk full. */
export function passes(error: unknown): boolean {
  return isAway(error) || problemOf(error).code === full.code
}

function knownCause(error: unknown): Problem | null {
  for (
    let cause = error as { code?: unknown; message?: string; cause?: unknown } | undefined,
      depth = 0;
    cause && depth < 5;
    cause = cause.cause as typeof cause, depth++
  ) {
    const { code, message } = cause
    const found =
      causes.find(([pattern]) => pattern.test(String(code ?? ''))) ??
      messages.find(([pattern]) => pattern.test(message ?? ''))
    if (found) return found[1]
  }
  return null
}
