import { existsSync } from 'node:fs'
import { join } from 'node:path'
import compression from 'compression'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { mount } from './http/endpoint'
import { errorHandler, sendProblem } from './http/errors'
import { mountManual } from './http/manual'
import { describe } from './http/openapi'
import { projectRoot } from './paths'
import { allEndpoints } from './routes'
import type { Services } from './services'

const webFolder = join(projectRoot, 'web', 'dist')

export interface AppSettings {
  /** The proxies in front, as Express takes them ("loopback", addresses, a number of hops);
   *  without, nobody's word about addresses is taken. */
  readonly trustedProxy?: string | undefined
}

/** The whole HTTP side: API, health, OpenAPI, and the built interface. */
export function createApp(
  services: Services,
  log: Logger,
  { trustedProxy }: AppSettings = {},
): Express {
  const app = express()
  app.disable('x-powered-by')
  // Answers are never asked for again by their hash, and hashing a large one takes as long as
  // sending it.
  app.disable('etag')
  if (trustedProxy)
    app.set('trust proxy', /^\d+$/.test(trustedProxy) ? Number(trustedProxy) : trustedProxy)
  app.use(
    helmet({
      // Served over plain HTTP on loopback, so nothing may be upgraded to HTTPS; component styles
      // are set from script.
      contentSecurityPolicy: {
        directives: {
          'upgrade-insecure-requests': null,
          'style-src': ["'self'", "'unsafe-inline'"],
          'worker-src': ["'self'", 'blob:'],
        },
      },
      strictTransportSecurity: false,
    }),
  )
  // Events stay open; answers to commands are small and wanted at once, and packing them costs more
  // than sending them.
  app.use(
    compression({
      filter: (request, response) =>
        !/\/(events|commands)$/.test(request.path) && compression.filter(request, response),
    }),
  )
  app.use((request, response, next) => {
    const started = performance.now()
    response.on('finish', () =>
      log.info(
        {
          method: request.method,
          path: request.path,
          status: response.statusCode,
          ms: Math.round(performance.now() - started),
        },
        'request',
      ),
    )
    next()
  })

  const endpoints = allEndpoints(services)
  const description = JSON.stringify(describe(endpoints))
  app.get('/api/openapi.json', (_request, response) => void response.type('json').send(description))
  mount(app, endpoints, services)
  app.use('/api', (request, response) =>
    sendProblem(response, 404, 'not-found', `There is nothing at ${request.originalUrl}.`),
  )

  mountManual(app)
  if (existsSync(webFolder)) {
    app.use('/assets', express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y' }))
    app.use(express.static(webFolder, { index: false }))
    app.get('/{*path}', (_request, response) => response.sendFile(join(webFolder, 'index.html')))
  }
  app.use(errorHandler(log))
  return app
}
