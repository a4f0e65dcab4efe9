import { createServer } from 'node:http'
import { pino } from 'pino'
import { createApp } from './app'
import { closeServices, openServices } from './services'
import { loadDemoAccounts } from './services/demo-accounts'
import { loadDemo, loadLargeDemo } from './services/demo'

const { DATABASE_URL, PORT = '4600', KATAXIS_DEMO, KATAXIS_LOG } = process.env
const log = pino({ level: 'info', serializers: { error: pino.stdSerializers.err } }, pino.destination({ dest: KATAXIS_LOG ?? 2, mkdir: true, sync: false }))

if (!DATABASE_URL) throw new Error('DATABASE_URL is needed; `npm start` sets it.')
const services = await openServices(DATABASE_URL, log, Boolean(KATAXIS_DEMO))
if (KATAXIS_DEMO) await loadDemoAccounts(services.users)
if (KATAXIS_DEMO) await loadDemo(services.db, services.plans, services.shelf)
if (KATAXIS_DEMO === 'large') await loadLargeDemo(services.db, services.plans, services.shelf)
await services.plans.warm(2).catch((error: unknown) => log.warn({ error }, 'plans are read when asked for'))

const server = createServer(createApp(services, log))
server.listen(Number(PORT), '127.0.0.1', () => {
  log.info({ port: Number(PORT) }, 'ready')
  process.send?.('ready')
})

let stopping = false
/** Lets running requests end, closes live connections, then the database. */
async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  log.info('stopping')
  setTimeout(() => server.closeAllConnections(), 3000).unref()
  const closed = new Promise((done) => server.close(done))
  server.closeIdleConnections()
  await services.notifications.close()
  server.closeAllConnections()
  await closed
  await closeServices(services).catch(() => undefined)
  process.exit(0)
}
for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) process.on(signal, () => void stop())
