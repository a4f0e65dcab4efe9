import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { nextFree } from './setup/ports.mjs'
import { removePostgres } from './setup/postgres.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const home = `${root}.kataxis-test-start`
let port = 0

interface Started {
  readonly child: ChildProcess
  readonly said: () => string
  readonly ended: Promise<number | null>
}

/** The real start command. */
function start(env: Record<string, string> = {}): Started {
  const child = spawn(process.execPath, ['scripts/start.mjs', '--demo'], {
    cwd: root,
    env: { ...process.env, KATAXIS_HOME: home, PORT: String(port), DATABASE_URL: '', ...env },
  })
  let text = ''
  child.stdout.on('data', (chunk) => (text += String(chunk)))
  child.stderr.on('data', (chunk) => (text += String(chunk)))
  return { child, said: () => text, ended: new Promise((done) => child.on('exit', done)) }
}
async function ready(started: Started): Promise<void> {
  await expect
    .poll(started.said, { timeout: 60_000 })
    .toContain(`Kataxis is ready: http://127.0.0.1:${port}`)
}
const health = async () => (await fetch(`http://127.0.0.1:${port}/api/health`)).json()
/** The headers of the demo's planner. */
async function signedIn(): Promise<Record<string, string>> {
  const response = await fetch(`http://127.0.0.1:${port}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{"name":"planner","password":"skarvholm"}',
  })
  return {
    Cookie: response.headers.get('set-cookie')!.split(';')[0]!,
    'X-Kataxis-Token': ((await response.json()) as { csrf: string }).csrf,
  }
}
const projects = async () =>
  (await fetch(`http://127.0.0.1:${port}/api/projects`, { headers: await signedIn() })).json()

beforeAll(async () => {
  removePostgres(home)
  port = (await nextFree(4750))!
})
afterAll(() => removePostgres(home))

describe('the start command', () => {
  test('starts, says so when started twice, survives a crash and a left-over pid file, and keeps the data', async () => {
    const first = start()
    await ready(first)
    expect(await health()).toMatchObject({ status: 'ok' })

    const second = start()
    expect(await second.ended).toBe(0)
    expect(second.said()).toContain(`Kataxis is already running: http://127.0.0.1:${port}`)

    await fetch(`http://127.0.0.1:${port}/api/projects`, {
      method: 'POST',
      headers: { ...(await signedIn()), 'Content-Type': 'application/json' },
      body: '{"name":"Kept"}',
    })
    first.child.kill('SIGKILL')
    await first.ended
    // The server notices that its starter is gone and stops by itself.
    await expect
      .poll(
        () =>
          health().then(
            () => 'up',
            () => 'down',
          ),
        { timeout: 15_000 },
      )
      .toBe('down')

    const third = start()
    await ready(third)
    expect((await projects()).projects).toContainEqual(expect.objectContaining({ name: 'Kept' }))
    third.child.kill('SIGTERM')
    expect(await third.ended).toBe(0)

    // A pid file of the database whose number now belongs to another program.
    const pidFile = readFileSync(`${home}/postgres-port`, 'utf8')
    mkdirSync(`${home}/postgres/data`, { recursive: true })
    writeFileSync(
      `${home}/postgres/data/postmaster.pid`,
      `${process.pid}\n${home}/postgres/data\n0\n${pidFile}\n${home}/postgres\n127.0.0.1\n`,
    )
    writeFileSync(
      `${home}/running.json`,
      JSON.stringify({ pid: process.pid, url: 'http://127.0.0.1:1' }),
    )
    const fourth = start()
    await ready(fourth)
    fourth.child.kill('SIGINT')
    expect(await fourth.ended).toBe(0)
  }, 240_000)

  test('a server and a database that crash are started again, and the data are there', async () => {
    const started = start()
    await ready(started)
    const serverPid = Number(
      spawnSync('pgrep', ['-P', String(started.child.pid), '-f', 'server/dist/main.js'], {
        encoding: 'utf8',
      }).stdout,
    )
    process.kill(serverPid, 'SIGKILL')
    await expect
      .poll(
        () =>
          health().then(
            (is) => (is as { status: string }).status,
            () => 'down',
          ),
        { timeout: 20_000, interval: 20 },
      )
      .toBe('down')
    await expect
      .poll(
        () =>
          health().then(
            (is) => (is as { status: string }).status,
            () => 'down',
          ),
        { timeout: 30_000 },
      )
      .toBe('ok')
    expect(started.said()).toContain('The server ended unexpectedly')

    process.kill(
      Number(readFileSync(`${home}/postgres/data/postmaster.pid`, 'utf8').split('\n')[0]),
      'SIGKILL',
    )
    await expect
      .poll(started.said, { timeout: 20_000 })
      .toContain('PostgreSQL ended unexpectedly; it is started again.')
    await expect
      .poll(
        () =>
          health().then(
            (is) => (is as { status: unknown }).status,
            () => 'down',
          ),
        { timeout: 30_000 },
      )
      .toBe('ok')
    expect((await projects()).projects).toContainEqual(expect.objectContaining({ name: 'Kept' }))
    started.child.kill('SIGTERM')
    expect(await started.ended).toBe(0)
  }, 120_000)

  test('a port that somebody else has is told; the database finds another for itself', async () => {
    const taken = createServer().listen(port, '127.0.0.1')
    await new Promise((done) => taken.once('listening', done))
    const refused = start()
    expect(await refused.ended).toBe(1)
    expect(refused.said()).toContain(
      `Port ${port} is taken by another program; choose another with PORT.`,
    )
    await new Promise((done) => taken.close(done))

    const databasePort = Number(readFileSync(`${home}/postgres-port`, 'utf8'))
    const squatter = createServer().listen(databasePort, '127.0.0.1')
    await new Promise((done) => squatter.once('listening', done))
    const started = start()
    await ready(started)
    expect(Number(readFileSync(`${home}/postgres-port`, 'utf8'))).not.toBe(databasePort)
    started.child.kill('SIGTERM')
    expect(await started.ended).toBe(0)
    squatter.close()
  }, 120_000)

  test.each([
    ['abc', 'PORT is "abc"'],
    ['99999', 'PORT is "99999"'],
  ])('PORT=%s is refused in a sentence', async (wrong, sentence) => {
    const refused = start({ PORT: wrong })
    expect(await refused.ended).toBe(1)
    expect(refused.said()).toContain(sentence)
    expect(refused.said()).not.toMatch(/\n\s+at /)
  })
})
