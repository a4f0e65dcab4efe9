import { dirname } from 'node:path'
import { pino } from 'pino'
import { CannotStart } from './db/connect'
import { serve } from './serve'
import { openServices } from './services'
import { loadDemoAccounts } from './services/demo-accounts'
import { loadDemo, loadLargeDemo } from './services/demo'

const {
  DATABASE_URL,
  PORT = '4600',
  KATAXIS_DEMO,
  KATAXIS_LOG,
  KATAXIS_DATA,
  KATAXIS_PROXY,
} = process.env

/** A log that cannot be written, as on a full disk, loses lines and stops nobody. */
const destination = pino.destination({
  dest: KATAXIS_LOG ?? 2,
  mkdir: true,
  sync: false,
  maxLength: 4_000_000,
})
destination.on('error', () => undefined)
destination.on('drop', () => undefined)
const log = pino({ level: 'info', serializers: { error: pino.stdSerializers.err } }, destination)

/** Whoever started this is gone before it was ready. */
const orphaned = () => process.exit(1)
process.on('disconnect', orphaned)

if (!DATABASE_URL) throw new Error('DATABASE_URL is needed; `npm start` sets it.')
const folders = [KATAXIS_LOG && dirname(KATAXIS_LOG), KATAXIS_DATA].filter(
  (folder) => folder !== undefined && folder !== '',
)
const services = await openServices(DATABASE_URL, log, {
  isDemo: Boolean(KATAXIS_DEMO),
  folders: folders as string[],
}).catch((error: unknown) => {
  if (!(error instanceof CannotStart)) throw error
  process.stderr.write(`${error.message}\n`)
  process.exit(1)
})
if (KATAXIS_DEMO) await loadDemoAccounts(services.users)
if (KATAXIS_DEMO) await loadDemo(services.db, services.plans, services.shelf)
if (KATAXIS_DEMO === 'large') await loadLargeDemo(services.db, services.plans, services.shelf)

const serving = await serve(services, log, Number(PORT), { trustedProxy: KATAXIS_PROXY })
services.loop.reset()
log.info({ port: serving.port }, 'ready')
process.send?.('ready')
void services.desks.warm()
void services.jobs.open().catch((error: unknown) => log.warn({ error }, 'no jobs for now'))

let stopping = false
process.off('disconnect', orphaned)
for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) {
  process.on(signal, () => {
    if (stopping) return
    stopping = true
    log.info('stopping')
    void serving.stop().then(() => process.exit(0))
  })
}
