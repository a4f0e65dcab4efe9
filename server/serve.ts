import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Logger } from 'pino'
import { createApp, type AppSettings } from './app'
import { closeServices, type Services } from './services'

/** Running requests have so long to end when the program is told to stop. */
const graceMs = 20_000

export interface Serving {
  readonly port: number
  /** Takes nothing new, ends live connections, lets running requests end, then closes the
   *  database. */
  readonly stop: () => Promise<void>
}

/** Answers on loopback from now on; port 0 is any free one. */
export async function serve(
  services: Services,
  log: Logger,
  port: number,
  settings: AppSettings = {},
): Promise<Serving> {
  const server = createServer(createApp(services, log, settings))
  await new Promise<void>((ready, failed) =>
    server.once('error', failed).listen(port, '127.0.0.1', ready),
  )

  async function stop(): Promise<void> {
    const late = setTimeout(() => server.closeAllConnections(), graceMs)
    const closed = new Promise((done) => server.close(done))
    services.streams.close()
    // Connections that are kept alive close as soon as their last request has ended.
    const sweep = setInterval(() => server.closeIdleConnections(), 50)
    await closed
    clearInterval(sweep)
    clearTimeout(late)
    await closeServices(services).catch(() => undefined)
  }
  return { port: (server.address() as AddressInfo).port, stop }
}
