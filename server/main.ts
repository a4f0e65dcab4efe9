import { createServer } from 'node:http'
import { dirname } from 'node:path'
import { pino } from 'pino'
import { createApp } from './app'
import { closeServices, openServices } from './services'
import { loadDemoAccounts } from './services/demo-accounts'
import { loadDemo, loadLargeDemo } from './services/demo'

const { DATABASE_URL, PORT = '4600', KATAXIS_DEMO, KATAXIS_LOG, KATAXIS_DATA, KATAXIS_PROXY } = process.env

/** A log that cannot be written, as on a full disk, loses lines and stops nobody. */
const destination = pino.destination({ dest: KATAXIS_LOG ?? 2, mkdir: true, sync: false, maxLength: 4_000_000 })
destination.on('error', () => undefined)
destination.on('drop', () => undefined)
const log = pino({ level: 'info', serializers: { error: pino.stdSerializers.err } }, destination)

if (!DATABASE_URL) throw new Error('DATABASE_URL is needed; `npm start` sets it.')
const folders = [KATAXIS_LOG && dirname(KATAXIS_LOG), KATAXIS_DATA].filter((folder) => folder !== undefined && folder !== '')
const services = await openServices(DATABASE_URL, log, { isDemo: Boolean(KATAXIS_DEMO), folders: folders as string[] })
if (KATAXIS_DEMO) await loadDemoAccounts(services.users)
if (KATAXIS_DEMO) await loadDemo(services.db, services.plans, services.shelf)
if (KATAXIS_DEMO === 'large') await loadLargeDemo(services.db, services.plans, services.shelf)

const server = createServer(createApp(services, log, { trustedProxy: KATAXIS_PROXY }))
server.listen(Number(PORT), '127.0.0.1', () => {
  log.info({ port: Number(PORT) }, 'ready')
  process.send?.('ready')
  void services.desks.warm()
})

/** Running requests have so long to end, when the program is told to stop. */
const graceMs = 20_000

let stopping = false
/** Takes nothing new, ends live connections, lets running requests end, then closes the database. */
async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  log.info('stopping')
  setTimeout(() => server.closeAllConnections(), graceMs).unref()
  const closed = new Promise((done) => server.close(done))
  services.streams.close()
  server.closeIdleConnections()
  const sweep = setInterval(() => server.closeIdleConnections(), 100)
  await closed
  clearInterval(sweep)
  await closeServices(services).catch(() => undefined)
  process.exit(0)
}
for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) process.on(signal, () => void stop())
