import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import compression from 'compression'
import { sql, max } from 'drizzle-orm'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { projects } from './db/schema'
import { mount } from './http/endpoint'
import { errorHandler, sendProblem } from './http/errors'
import { describe } from './http/openapi'
import { accountEndpoints } from './routes/accounts'
import { fileEndpoints } from './routes/files'
import { projectEndpoints } from './routes/projects'
import { rehearsalEndpoints } from './routes/rehearsal'
import type { Services } from './services'

const webFolder = fileURLToPath(new URL('../web/dist', import.meta.url))

/** The whole HTTP side: API, health, OpenAPI, and the built interface. */
export function createApp(services: Services, log: Logger): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(helmet({
    // Served over plain HTTP on loopback, so nothing may be upgraded to HTTPS; component styles are set from script.
    contentSecurityPolicy: { directives: { 'upgrade-insecure-requests': null, 'style-src': ["'self'", "'unsafe-inline'"], 'worker-src': ["'self'", 'blob:'] } },
    strictTransportSecurity: false,
  }))
  // Events stay open; answers to commands are small and wanted at once, and packing them costs more than sending them.
  app.use(compression({ filter: (request, response) => !/\/(events|commands)$/.test(request.path) && compression.filter(request, response) }))
  app.use((request, response, next) => {
    const started = performance.now()
    response.on('finish', () => log.info({ method: request.method, path: request.path, status: response.statusCode, ms: Math.round(performance.now() - started) }, 'request'))
    next()
  })

  app.get('/api/health', async (_request, response) => {
    try {
      const [row] = await services.db.select({ revision: max(projects.revision), now: sql`now()` }).from(projects)
      response.json({ status: 'ok', revision: row?.revision ?? 0 })
    } catch (error) {
      log.error({ error }, 'the database does not answer')
      sendProblem(response, 503, 'database.away', 'The database does not answer.')
    }
  })
  const endpoints = [...accountEndpoints(services), ...projectEndpoints(services), ...fileEndpoints(services), ...rehearsalEndpoints(services)]
  const description = describe(endpoints)
  app.get('/api/openapi.json', (_request, response) => void response.json(description))
  mount(app, endpoints, services.users)
  app.use('/api', (request, response) => sendProblem(response, 404, 'not-found', `There is nothing at ${request.originalUrl}.`))

  if (existsSync(webFolder)) {
    app.use('/assets', express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y' }))
    app.use(express.static(webFolder, { index: false }))
    app.get('/{*path}', (_request, response) => response.sendFile(join(webFolder, 'index.html')))
  }
  app.use(errorHandler(log))
  return app
}
