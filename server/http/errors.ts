import type { ErrorRequestHandler, Response } from 'express'
import type { Logger } from 'pino'
import { Refused } from './refused'

/** What the body reader throws, in words. */
const bodyFaults: Readonly<Record<string, { code: string; detail: string }>> = {
  'entity.too.large': { code: 'body.tooLarge', detail: 'The upload is larger than what is taken; description files may have up to 67 MB.' },
  'entity.parse.failed': { code: 'body.json', detail: 'The body is not JSON.' },
  'request.aborted': { code: 'body.aborted', detail: 'The upload was broken off; nothing was kept.' },
}

/** The one place where errors become answers: problem+json (RFC 9457) with a sentence; never a stack trace. */
export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error)
    if (error instanceof Refused && error.status === 403) log.warn({ user: (response.locals['user'] as { name?: string } | undefined)?.name ?? null, code: error.code, method: request.method, path: request.path }, error.message)
    if (error instanceof Refused) return sendProblem(response, error.status, error.code, error.message, error.extra)
    const { type, status } = error as { type?: string; status?: number }
    const fault = type === undefined ? undefined : bodyFaults[type]
    if (fault && status !== undefined) return sendProblem(response, status, fault.code, fault.detail)
    if (status !== undefined && status >= 400 && status < 500) return sendProblem(response, status, 'request.invalid', 'The request could not be read.')
    log.error({ error, method: request.method, path: request.path }, 'request failed')
    sendProblem(response, 500, 'internal', 'Something went wrong in the program; nothing was changed. The server’s log has the details.')
  }
}

export function sendProblem(response: Response, status: number, code: string, detail: string, extra: object = {}): void {
  response.status(status).type('application/problem+json').send(JSON.stringify({ type: 'about:blank', title: code, status, code, detail, ...extra }))
}
