import { createHash } from 'node:crypto'
import {
  closeSync,
  createReadStream,
  existsSync,
  openSync,
  readFileSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs'
import { join } from 'node:path'
import { spawn } from 'node:child_process'
import { ensurePostgresInstalled, serverPrograms, startPostgres } from './postgres.mjs'
import { root } from './run.mjs'
import { CannotGoOn } from './say.mjs'

const version = 1
/** The first line of a backup: what it is, and the sum over the dump behind it. */
const headerBytes = 1024

/** Does something with the database: the one of DATABASE_URL, or the cluster below `home`, which is
 *  started for that long if nobody has. */
export async function withDatabase(home, work) {
  ensurePostgresInstalled()
  if (process.env.DATABASE_URL) return work(process.env.DATABASE_URL)
  const cluster = await startPostgres(home)
  try {
    return await work(cluster.url)
  } finally {
    if (!cluster.wasRunning) cluster.stop()
  }
}

/** Writes a backup as the database is at this moment; the program may run meanwhile. */
export async function writeBackup(url, file) {
  if (existsSync(file)) throw new CannotGoOn(`${file} is there already; name another file.`)
  const counts = await countsOf(url)
  const part = `${file}.part`
  const out = openSync(part, 'wx', 0o600)
  try {
    writeSync(out, ' '.repeat(headerBytes))
    const hash = createHash('sha256')
    await program(
      'pg_dump',
      ['--format=plain', '--no-owner', '--no-privileges', '--compress=6', url],
      {
        onOutput: (chunk) => {
          hash.update(chunk)
          writeSync(out, chunk)
        },
      },
    )
    const header = JSON.stringify({
      kataxisBackup: version,
      madeAt: new Date().toISOString(),
      ...counts,
      migrations: newestMigration(),
      sha256: hash.digest('hex'),
    })
    writeSync(out, `${header.padEnd(headerBytes - 1)}\n`, 0)
  } catch (error) {
    rmSync(part, { force: true })
    throw error
  } finally {
    closeSync(out)
  }
  renameSync(part, file)
  return { ...counts, bytes: statSync(file).size }
}

/** Checks a backup, by its sum and by restoring it into a database beside the real one, then puts
 *  it in the real one's place, all in one transaction: what fails leaves everything as it was.
 *  Browsers learn by the new epoch that it is another database. */
export async function restoreBackup(url, file) {
  const header = readHeader(file)
  if ((await sumOf(file)) !== header.sha256)
    throw new CannotGoOn(`${file} is damaged: its contents are not those that were written.`)
  const scratch = `kataxis_check_${Date.now()}`
  const at = (database) => Object.assign(new URL(url), { pathname: `/${database}` }).href
  await query(url, `create database ${scratch}`)
  try {
    await load(at(scratch), file)
    const counts = await countsOf(at(scratch))
    const broken = await query(
      at(scratch),
      `select count(*) from description_files where sha256 <> encode(sha256(content), 'hex')`,
    )
    if (counts.projects !== header.projects || counts.files !== header.files || broken !== '0')
      throw new CannotGoOn(`${file} is damaged: it does not hold what it says.`)
  } finally {
    await query(url, `drop database if exists ${scratch}`)
  }
  await load(
    url,
    file,
    'drop schema if exists drizzle cascade; drop schema public cascade; create schema public;',
    `update instance set epoch = gen_random_uuid()::text;`,
  )
  return header
}

function readHeader(file) {
  if (!existsSync(file)) throw new CannotGoOn(`There is no file ${file}.`)
  const bytes = Buffer.alloc(headerBytes)
  const at = openSync(file, 'r')
  readSync(at, bytes, 0, headerBytes, 0)
  closeSync(at)
  let header
  try {
    header = JSON.parse(bytes.toString('utf8'))
  } catch {
    throw new CannotGoOn(`${file} is no backup of Kataxis.`)
  }
  if (header.kataxisBackup !== version)
    throw new CannotGoOn(`${file} is no backup that this version of Kataxis reads.`)
  if (header.migrations > newestMigration())
    throw new CannotGoOn(
      `${file} was made by a newer version of Kataxis than this one; update the program first.`,
    )
  return header
}

async function sumOf(file) {
  const hash = createHash('sha256')
  for await (const chunk of createReadStream(file, { start: headerBytes })) hash.update(chunk)
  return hash.digest('hex')
}

/** The dump as one transaction, with what goes before and after. */
async function load(url, file, before = '', after = '') {
  const unpacked = createReadStream(file, { start: headerBytes }).pipe(
    (await import('node:zlib')).createGunzip(),
  )
  await program(
    'psql',
    ['-X', '-q', '-v', 'ON_ERROR_STOP=1', '--single-transaction', '-f', '-', url],
    {
      input: async function* () {
        yield `${before}\n`
        // A dump of the schema `public` makes it anew; it is there.
        yield* unpacked
        yield `\nset search_path = public; ${after}\n`
      },
    },
  )
}

async function countsOf(url) {
  return {
    projects: Number(await query(url, 'select count(*) from projects')),
    files: Number(await query(url, 'select count(*) from description_files')),
  }
}

async function query(url, statement) {
  let text = ''
  await program('psql', ['-X', '-q', '-A', '-t', '-v', 'ON_ERROR_STOP=1', '-c', statement, url], {
    onOutput: (chunk) => (text += chunk),
  })
  return text.trim()
}

/** The name of the newest migration that this program knows, by its time. */
function newestMigration() {
  const { entries } = JSON.parse(
    readFileSync(join(root, 'server', 'db', 'migrations', 'meta', '_journal.json'), 'utf8'),
  )
  return Math.max(...entries.map(({ when }) => when))
}

/** Runs one of PostgreSQL's programs. */
function program(name, args, { onOutput = () => undefined, input } = {}) {
  const beside = join(serverPrograms() ?? '', name)
  return new Promise((resolve, reject) => {
    const child = spawn(existsSync(beside) ? beside : name, args, {
      cwd: '/',
      stdio: [input ? 'pipe' : 'ignore', 'pipe', 'pipe'],
    })
    let said = ''
    child.stdout.on('data', onOutput)
    child.stderr.on('data', (chunk) => (said += chunk))
    child.on('error', (error) =>
      reject(new CannotGoOn(`${name} could not be started: ${error.message}.`)),
    )
    child.on('close', (code) =>
      code === 0
        ? resolve()
        : reject(
            new CannotGoOn(
              `${name} ended with ${code}: ${said.trim().split('\n').slice(0, 5).join(' ')}`,
            ),
          ),
    )
    if (input) feed(child.stdin, input()).catch(reject)
  })
}

async function feed(stdin, chunks) {
  stdin.on('error', () => undefined)
  for await (const chunk of chunks)
    if (!stdin.write(chunk)) await new Promise((go) => stdin.once('drain', go))
  stdin.end()
}
