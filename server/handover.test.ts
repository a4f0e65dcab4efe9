import { createHash } from 'node:crypto'
import { spawnSync } from 'node:child_process'
import { strFromU8, unzipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import type { JobView, ReleaseView, RoleName } from '@kataxis/core'
import { demoProject } from './index'
import { call, demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let server: Running
const base = `/api/projects/${demoProject.id}`
beforeAll(async () => {
  server = await startServer(await demoDatabase())
})
afterAll(() => server.close())

const get = async (path: string) =>
  fetch(`${server.url}${path}`, { headers: headersOf(await visit(server, 'A')) })
const bytesOf = async (path: string) => Buffer.from(await (await get(path)).arrayBuffer())
const post = async (path: string, body: object, role: RoleName = 'owner') =>
  call(server.url, 'POST', `${base}${path}`, body, await visit(server, `by ${role}`, role))
const exported = (format: string, options?: object) =>
  bytesOf(
    `${base}/export/${format}${options ? `?options=${encodeURIComponent(JSON.stringify(options))}` : ''}`,
  )
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')
const ended = (id: string, by: Awaited<ReturnType<typeof visit>>) =>
  vi.waitFor(
    async () => {
      const { job } = (await call(server.url, 'GET', `/api/jobs/${id}`, undefined, by)).json as {
        job: JobView
      }
      expect(['done', 'failed']).toContain(job.state)
      return job
    },
    { timeout: 25_000, interval: 100 },
  )
async function release(name: string, more: object = {}) {
  const formats = ['csv', 'hosts', 'switches-pdf', 'changes']
  const { json } = await post('/releases', { name, formats, ...more })
  const by = await visit(server, 'by owner')
  return ended((json['job'] as JobView).id, by)
}
const releases = async () =>
  (await call(server.url, 'GET', `${base}/releases`)).json['releases'] as ReleaseView[]
const packageOf = async (name: string) =>
  unzipSync(await bytesOf(`${base}/releases/${encodeURIComponent(name)}/package`))
const change = async (command: object) => {
  const { revision, epoch } = (await call(server.url, 'GET', base)).json
  const { status, json } = await post('/commands', {
    ...{ commandId: `c-${Date.now()}`, baseRevision: revision, epoch, command },
  })
  expect([status, json['detail']]).toEqual([200, undefined])
}

describe('an export', () => {
  test('takes what was chosen for it', async () => {
    const text = new TextDecoder('utf-16le').decode(
      await exported('csv', { separator: ';', encoding: 'utf-16le', columns: ['tag', 'address'] }),
    )
    expect(text.split('\r\n')[1]).toBe('INT_P101_Run;%IX0.0')
  })
  test('as PDF is a file that somebody else reads', async () => {
    const { status, stdout } = spawnSync('pdftotext', ['-', '-'], {
      input: await exported('addresses-pdf', { paper: 'A3' }),
      encoding: 'utf8',
    })
    expect(status).toBe(0)
    expect(stdout).toContain('192.168.40.11')
    expect(stdout).toMatch(/Revision \d+/)
  })
  test.each([
    ['no JSON', '{', 'JSON'],
    ['an option that is none', '{"separator":"&"}', 'separator'],
  ])('%s is refused with a sentence', async (_, options, word) => {
    const answer = await get(`${base}/export/csv?options=${encodeURIComponent(options)}`)
    expect(answer.status).toBeGreaterThanOrEqual(400)
    expect(await answer.text()).toContain(word)
  })
  test('a character outside the encoding is refused with its line', async () => {
    await change({ type: 'editSignals', edits: [{ id: 's041', comment: 'Pegel 水' }] })
    const options = encodeURIComponent('{"encoding":"windows-1252"}')
    const answer = await get(`${base}/export/csv?options=${options}`)
    expect(answer.status).toBe(422)
    expect(await answer.text()).toMatch(/Line \d+: Windows-1252 has no/)
  })
  test('the change log has each revision once, oldest first, with who and when', async () => {
    const lines = strFromU8(await exported('changes'))
      .trim()
      .split('\n')
    const entries = lines.map(
      (line) => JSON.parse(line) as { revision: number; author: string; at: string },
    )
    const revisions = entries.map(({ revision }) => revision)
    expect(revisions).toEqual([...new Set(revisions)].toSorted((a, b) => a - b))
    expect(entries.at(-1)).toMatchObject({
      author: expect.stringMatching(/./) as string,
      command: { type: 'editSignals' },
      rows: 1,
    })
  })
})

describe('a release', () => {
  test('is a package with a table of contents, kept with its files’ hashes, signed by account', async () => {
    expect(await release('FAT 1')).toMatchObject({
      state: 'done',
      kind: 'release',
      fileName: 'FAT-1.zip',
    })
    const [made] = await releases()
    const files = await packageOf('FAT 1')
    expect(made).toMatchObject({ name: 'FAT 1', blockers: expect.any(Number) as number })
    expect(made!.author).not.toBe('')
    expect(made!.safetySignature).toMatch(/^[0-9a-f]{64}$/)
    expect(Object.keys(files)).toEqual([
      'CONTENTS.txt',
      ...made!.files.map(({ fileName }) => fileName),
    ])
    const contents = strFromU8(files['CONTENTS.txt']!)
    expect(contents).toContain(`Release FAT 1, signed by ${made!.author}`)
    for (const { fileName, sha256: said, bytes } of made!.files) {
      expect(sha256(files[fileName]!)).toBe(said)
      expect(files[fileName]).toHaveLength(bytes)
      expect(contents).toContain(said)
    }
    const { versions } = (await call(server.url, 'GET', `${base}/versions`)).json as {
      versions: { name: string; revision: number }[]
    }
    expect(versions).toContainEqual(
      expect.objectContaining({ name: 'FAT 1', revision: made!.revision }),
    )
  })
  test('its name is given once', async () => {
    const { status, json } = await post('/releases', { name: 'FAT 1', formats: ['csv'] })
    expect([status, json['detail'] ?? json['title']]).toEqual([
      409,
      'There already is a version "FAT 1".',
    ])
  })
  test('the next one says what changed since, and can leave out the rest', async () => {
    await change({ type: 'editSignals', edits: [{ id: 's041', comment: 'Another comment' }] })
    expect(await release('FAT 2', { onlyChanged: true })).toMatchObject({ state: 'done' })
    const [made] = await releases()
    expect(
      Object.fromEntries(made!.files.map(({ format, state }) => [format, state === 'unchanged'])),
    ).toEqual({
      csv: false,
      hosts: true,
      'switches-pdf': true,
      changes: false,
    })
    const files = await packageOf('FAT 2')
    expect(Object.keys(files)).toHaveLength(3)
    const contents = strFromU8(files['CONTENTS.txt']!)
    expect(contents).toContain('CHANGED since FAT 1')
    expect(contents).toContain('unchanged since FAT 1')
  })
  test('needs somebody who may plan', async () => {
    const { status } = await post('/releases', { name: 'FAT 3', formats: ['csv'] }, 'viewer')
    expect(status).toBe(403)
  })
  test('one that is not there is not found', async () => {
    expect((await get(`${base}/releases/none/package`)).status).toBe(404)
  })
})
