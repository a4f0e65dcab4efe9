// `npm run demo` and `npm start`: from a fresh machine to a running program. Plain Node, no
// packages.
import { spawn } from 'node:child_process'
import { join, resolve } from 'node:path'
import { ensureServerBuild, ensureWebBuild } from './setup/build.mjs'
import { ensureNpmPackages } from './setup/packages.mjs'
import { isFree, nextFree } from './setup/ports.mjs'
import { startPostgres } from './setup/postgres.mjs'
import { root } from './setup/run.mjs'
import { announce, claim, release } from './setup/running.mjs'
import { CannotGoOn, say } from './setup/say.mjs'

const isDemo = process.argv.includes('--demo')
/** `npm run demo -- --large`: a second project with 128,000 channels. */
const demo = !isDemo ? '' : process.argv.includes('--large') ? 'large' : 'works'
const home = resolve(process.env.KATAXIS_HOME ?? join(root, '.kataxis'))
const defaultPort = 4600

let server = null
let postgres = null
let stopping = false

async function start() {
  const holder = await claim(home)
  if (holder) {
    say(
      holder.url
        ? `Kataxis is already running: ${holder.url}`
        : `Kataxis is just being started by process ${holder.pid}.`,
    )
    return
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0))

  ensureNpmPackages()
  ensureServerBuild()
  ensureWebBuild()
  const port = await choosePort()
  if (!process.env.DATABASE_URL) postgres = await startPostgres(home)
  const url = `http://127.0.0.1:${port}`
  await startServer(port)
  announce(home, url)
  process.stdout.write(`Kataxis is ready: ${url}\n`)
  if (postgres) setInterval(watchPostgres, lookMs).unref()
}

const log = join(home, 'server.log')
const firstWaitMs = 500
const longestWaitMs = 30_000
/** After so long a server that crashes did not crash at once. */
const steadyMs = 60_000
const lookMs = 1000

let isSupervising = false

/** Starts the server and resolves when it is ready. One that has been ready is started again when
 *  it ends by itself. */
function startServer(port, waitMs = firstWaitMs) {
  return new Promise((ready) => {
    const startedAt = Date.now()
    server = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      detached: true,
      env: {
        ...process.env,
        DATABASE_URL: postgres?.url ?? process.env.DATABASE_URL,
        PORT: String(port),
        KATAXIS_DEMO: demo,
        KATAXIS_LOG: log,
        KATAXIS_DATA: postgres?.folder ?? '',
      },
    })
    server.once('message', () => {
      isSupervising = true
      ready()
    })
    server.on('exit', (code, signal) => {
      server = null
      if (stopping) return
      say(`The server ended unexpectedly (${code ?? signal}); see ${log}.`)
      // One that was never ready would not be ready the next time.
      if (!isSupervising) return stop(1)
      const next = Date.now() - startedAt > steadyMs ? firstWaitMs : waitMs
      say(`It is started again in ${next / 1000} s.`)
      setTimeout(() => !stopping && startServer(port, Math.min(longestWaitMs, next * 2)), next)
    })
  })
}
let isStartingPostgres = false
let postgresWaitMs = firstWaitMs
/** A database that has ended by itself is started again, on the same port. */
async function watchPostgres() {
  if (stopping || isStartingPostgres || postgres.isAlive()) return
  isStartingPostgres = true
  say('PostgreSQL ended unexpectedly; it is started again.')
  try {
    await postgres.startAgain()
    postgresWaitMs = firstWaitMs
  } catch (error) {
    say(error.message)
    await new Promise((done) => setTimeout(done, postgresWaitMs))
    postgresWaitMs = Math.min(longestWaitMs, postgresWaitMs * 2)
  }
  isStartingPostgres = false
}

async function choosePort() {
  const wanted = process.env.PORT
  if (wanted !== undefined && wanted !== '') {
    const port = Number(wanted)
    if (!Number.isInteger(port) || port < 1 || port > 65535)
      throw new CannotGoOn(`PORT is "${wanted}"; a number from 1 to 65535 is needed.`)
    if (!(await isFree(port)))
      throw new CannotGoOn(`Port ${port} is taken by another program; choose another with PORT.`)
    return port
  }
  const port = await nextFree(defaultPort)
  if (port === null)
    throw new CannotGoOn(`No free port from ${defaultPort} on; choose one with PORT.`)
  if (port !== defaultPort) say(`Port ${defaultPort} is taken; using ${port}.`)
  return port
}

async function stop(code) {
  if (stopping) return
  stopping = true
  if (server) {
    const ended = new Promise((done) => server.once('exit', done))
    server.kill('SIGTERM')
    const tooLong = setTimeout(() => server?.kill('SIGKILL'), 30_000)
    await ended
    clearTimeout(tooLong)
  }
  try {
    postgres?.stop()
  } catch (error) {
    say(error.message)
  }
  release(home)
  process.exit(code)
}

start().catch(async (error) => {
  say(error instanceof CannotGoOn ? error.message : String(error?.stack ?? error))
  await stop(1)
})
