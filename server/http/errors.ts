import type { ErrorRequestHandler, Response } from 'express'
import type { Logger } from 'pino'
import { problemOf } from './problem'

/** The one place where errors become answers. */
export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error)
    const { status, code, detail, extra, isFault } = problemOf(error)
    const about = { code, method: request.method, path: request.path }
    if (isFault || status === 503) log.error({ error, ...about }, 'request failed')
    else if (status === 403)
      log.warn(
        {
          user: (response.locals['user'] as { name?: string } | undefined)?.name ?? null,
          ...about,
        },
        detail,
      )
    sendProblem(response, status, code, detail, extra)
  }
}

export function sendProblem(
  response: Response,
  status: number,
  code: string,
  detail: string,
  extra: object = {},
): void {
  if (status === 503 || status === 429) response.set('Retry-After', '2')
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title: code, status, code, detail, ...extra }))
}
