import { strToU8, zipSync } from 'fflate'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { contract, readProjectFile, unsignedPlan } from '@kataxis/core'
import { sql } from 'drizzle-orm'
import { changes, projects, users } from './db/schema'
import { demoProject, loadDemo } from './index'
import { call, freshDatabase, headersOf, startServer, visit, type Running } from './test/client'

let databaseUrl: string
let one: Running
let two: Running
const base = `/api/projects/${demoProject.id}`
let counter = 0
const order = (author = 'A', baseRevision = 0, commandId = `c${++counter}`) => ({
  commandId,
  author,
  baseRevision,
})
const rename = (name: string, id = 'intake-a') => ({ type: 'updateStation', id, set: { name } })
const send = (command: object, who = order(), on = one) =>
  call(on.url, 'POST', `${base}/commands`, { ...who, command })
const revision = async (on = one) => (await call(on.url, 'GET', base)).json['revision'] as number
const stationName = async (id: string, on = one) =>
  ((await call(on.url, 'GET', base)).json['stations'] as { id: string; name: string }[]).find(
    (row) => row.id === id,
  )?.name
const gsdml = () =>
  new Uint8Array(
    readFileSync(
      fileURLToPath(new URL('../demo/GSDML-V2.35-Quillane-QH400-20260312.xml', import.meta.url)),
    ),
  )

beforeAll(async () => {
  databaseUrl = await freshDatabase()
  // Two instances that start together on an empty database: one migrates, the other waits.
  ;[one, two] = await Promise.all([startServer(databaseUrl), startServer(databaseUrl)])
  await loadDemo(one.services.db, one.services.plans, one.services.shelf)
})
afterAll(async () => {
  await Promise.all([one?.close(), two?.close()])
})

describe('commands', () => {
  test('each is one revision, stored with its inverse', async () => {
    const before = await revision()
    const reply = await send(rename('intake-x'), order('A', before))
    expect(reply.status).toBe(200)
    expect(reply.json['entries']).toMatchObject([
      {
        revision: before + 1,
        author: 'A',
        kind: 'do',
        changes: [
          {
            table: 'stations',
            id: 'intake-a',
            before: { name: 'intake-a' },
            after: { name: 'intake-x' },
          },
        ],
      },
    ])
    expect(await stationName('intake-a')).toBe('intake-x')
  })

  test('a command sent again is not refused for itself, though its sender has seen it in the meantime', async () => {
    const who = order('A')
    const first = (await send(rename('intake-seen'), who)).json as unknown as {
      entries: { revision: number }[]
    }
    const { revision } = first.entries.at(-1)!
    const again = await send(rename('intake-seen'), { ...who, baseRevision: revision })
    expect(again).toMatchObject({ status: 200, json: { entries: [] } })
    expect((await call(one.url, 'GET', base)).json['revision']).toBe(revision)
    const inserting = {
      type: 'insertModule',
      id: 'once',
      stationId: 'intake-b',
      slot: 9,
      module: 'M_DI8',
      shift: false,
    }
    const insertion = order('A', revision)
    const seen = ((await send(inserting, insertion)).json as unknown as typeof first).entries.at(
      -1,
    )!.revision
    expect(await send(inserting, { ...insertion, baseRevision: seen })).toMatchObject({
      status: 200,
      json: { entries: [] },
    })
    await call(one.url, 'POST', `${base}/undo`, order('A', seen))
  })

  test('a command sent twice is carried out once', async () => {
    const who = order('A', await revision())
    const first = await send(rename('intake-twice'), who)
    const second = await send(rename('intake-twice'), who)
    expect(second.json['entries']).toEqual(first.json['entries'])
    expect(await revision()).toBe(who.baseRevision + 1)
  })

  test('two editors of one slot: one gets through, the other is told', async () => {
    const seen = await revision()
    const insert = (id: string) => ({
      type: 'insertModule',
      id,
      stationId: 'intake-a',
      slot: 6,
      module: 'M_DI8',
    })
    const replies = await Promise.all([
      send(insert('m-a'), order('A', seen)),
      send(insert('m-b'), order('B', seen), two),
    ])
    expect(replies.map(({ status }) => status).sort()).toEqual([200, 409])
    const refused = replies.find(({ status }) => status === 409)!
    expect(refused.json).toMatchObject({
      code: 'slot.taken',
      detail: 'Slot 6 of intake-twice already holds 8 digital inputs 24 V.',
    })
    expect(await revision()).toBe(seen + 1)
  })

  test('the same value changed by two: the later one is told who was quicker; different values both survive', async () => {
    const seen = await revision()
    expect((await send(rename('intake-first', 'intake-b'), order('A', seen))).status).toBe(200)
    const late = await send(rename('intake-second', 'intake-b'), order('B', seen), two)
    expect(late).toMatchObject({
      status: 409,
      type: expect.stringContaining('application/problem+json'),
      json: { code: 'row.changed', detail: expect.stringContaining('A changed the station') },
    })
    const other = await send(
      { type: 'updateStation', id: 'intake-b', set: { comment: 'new' } },
      order('B', seen),
      two,
    )
    expect(other.status).toBe(200)
    expect(await stationName('intake-b', two)).toBe('intake-first')
  })

  test.each([
    ['no command', { type: 'fly' }, 400, 'request.invalid'],
    ['an unknown key', { ...rename('x'), more: 1 }, 400, 'request.invalid'],
    ['a station that is not there', rename('x', 'nobody'), 404, 'row.missing'],
    [
      'a module the slot does not take',
      { type: 'insertModule', id: 'z', stationId: 'screen-1', slot: 9, module: 'BW_LEVEL' },
      422,
      'slot.notAllowed',
    ],
  ])('%s is refused in words and leaves the revision alone', async (_, command, status, code) => {
    const before = await revision()
    const reply = await send(command)
    expect(reply).toMatchObject({
      status,
      json: { status, code, detail: expect.stringMatching(/^[A-Z].*\.$/) },
    })
    expect(await revision()).toBe(before)
  })

  test('a body that is not JSON, a project and an address that are not there', async () => {
    expect(await call(one.url, 'POST', `${base}/commands`, '{')).toMatchObject({
      status: 400,
      json: { code: 'body.json' },
    })
    expect(await call(one.url, 'GET', '/api/projects/none')).toMatchObject({
      status: 404,
      json: { detail: 'There is no such project.' },
    })
    expect(await call(one.url, 'GET', '/api/nothing')).toMatchObject({ status: 404 })
    expect(await call(one.url, 'GET', '/api/projects/a%20b')).toMatchObject({
      status: 400,
      json: { code: 'request.invalid' },
    })
  })
})

describe('undo and redo', () => {
  const step = (what: 'undo' | 'redo', author: string, on = one) =>
    call(on.url, 'POST', `${base}/${what}`, order(author, 0))

  test('run per author, over any instance, and end', async () => {
    const seen = await revision()
    await send(rename('one', 'membrane-1'), order('U', seen))
    await send(rename('two', 'membrane-1'), order('U', seen + 1))
    await send(
      { type: 'updateStation', id: 'screen-1', set: { comment: 'V was here' } },
      order('V', seen + 2),
    )
    const names: (string | undefined)[] = []
    for (const [what, on] of [
      ['undo', one],
      ['undo', two],
      ['redo', one],
      ['redo', two],
      ['undo', one],
    ] as const) {
      expect((await step(what, 'U', on)).status).toBe(200)
      names.push(await stationName('membrane-1'))
    }
    expect(names).toEqual(['one', 'membrane-1', 'one', 'two', 'one'])
    await send(rename('three', 'membrane-1'), order('U', await revision()))
    expect(await step('redo', 'U')).toMatchObject({ status: 409, json: { code: 'redo.nothing' } })
    expect(await step('undo', 'W')).toMatchObject({ status: 409, json: { code: 'undo.nothing' } })
  })

  test('know their person by the account, whatever it is called by now', async () => {
    await send(rename('before', 'membrane-1'), order('N', await revision()))
    await one.services.db.execute(
      sql`update ${users} set full_name = 'Married Name' where name = 'n'`,
    )
    const { entries } = (await call(one.url, 'GET', `${base}/history`)).json as {
      entries: { author: string }[]
    }
    expect(entries[0]!.author).toBe('N')
    expect((await step('undo', 'N')).status).toBe(200)
    expect(await stationName('membrane-1')).not.toBe('before')
  })

  test('what somebody changed since is not taken back behind his back', async () => {
    const seen = await revision()
    await send(rename('mine', 'screen-1'), order('X', seen))
    await send(rename('yours', 'screen-1'), order('Y', seen + 1))
    expect(await step('undo', 'X')).toMatchObject({
      status: 409,
      json: { code: 'undo.blocked', detail: expect.stringContaining('Y changed station yours.') },
    })
    expect(await stationName('screen-1')).toBe('yours')
  })
})

describe('going back and named versions', () => {
  const name = (text: string, author = 'H') =>
    call(one.url, 'POST', `${base}/versions`, { name: text, author })
  const differences = async (from: number, to: number, on = one) =>
    (await call(on.url, 'GET', `${base}/difference?from=${from}&to=${to}`)).json['changes'] as {
      table: string
      id: string
    }[]

  test('back to here is a new change that undo takes back', async () => {
    const seen = await revision()
    const was = await stationName('intake-a')
    await send(rename('back-a', 'intake-a'), order('H', seen))
    const copy = {
      type: 'copyStation',
      sourceId: 'intake-a',
      networkId: 'n-intake',
      copies: [{ id: 'copied', name: 'copied' }],
    }
    expect(
      (
        await send(
          {
            type: 'batch',
            label: 'Room and a copy',
            commands: [
              { type: 'updateController', id: 'k1', set: { inputBytes: 500, outputBytes: 500 } },
              copy,
            ],
          },
          order('H', seen + 1),
        )
      ).status,
    ).toBe(200)
    const went = await call(two.url, 'POST', `${base}/back`, {
      ...order('H', seen),
      revision: seen,
    })
    expect(went.status).toBe(200)
    expect([
      await revision(),
      await stationName('intake-a', one),
      await stationName('copied', one),
    ]).toEqual([seen + 3, was, undefined])
    expect(await differences(seen, seen + 3)).toEqual([])
    await call(one.url, 'POST', `${base}/undo`, order('H', await revision()))
    expect([await stationName('intake-a'), await stationName('copied', two)]).toEqual([
      'back-a',
      'copied',
    ])
    await call(one.url, 'POST', `${base}/redo`, order('H', await revision()))
    expect(await stationName('copied')).toBeUndefined()
    expect(
      await call(one.url, 'POST', `${base}/back`, { ...order('H', seen), revision: seen }),
    ).toMatchObject({ status: 409, json: { code: 'history.same' } })
    expect(
      await call(one.url, 'POST', `${base}/back`, { ...order('H', seen), revision: 0 }),
    ).toMatchObject({ status: 404, json: { code: 'history.missing' } })
  })

  test('two versions differ by what became of each row, however long the way', async () => {
    const seen = await revision()
    expect((await name('before the change')).status).toBe(200)
    for (const text of ['x', 'y', 'diff-b'])
      await send(rename(text, 'intake-b'), order('H', await revision()))
    const { versions } = (await call(two.url, 'GET', `${base}/versions`)).json as {
      versions: { name: string; revision: number; author: string }[]
    }
    expect(versions).toMatchObject([{ name: 'before the change', revision: seen, author: 'H' }])
    expect((await differences(seen, seen + 3, two)).map(({ table, id }) => [table, id])).toEqual([
      ['stations', 'intake-b'],
    ])
    expect(await name('before the change')).toMatchObject({
      status: 409,
      json: { code: 'version.exists' },
    })
    expect((await call(one.url, 'DELETE', `${base}/versions/before%20the%20change`)).status).toBe(
      200,
    )
    expect((await call(one.url, 'DELETE', `${base}/versions/before%20the%20change`)).status).toBe(
      404,
    )
    await send(rename('intake-b', 'intake-b'), order('H', await revision()))
  })

  test('the history comes in pages, newest first', async () => {
    const page = async (before = '') =>
      (await call(one.url, 'GET', `${base}/history${before}`)).json['entries'] as {
        revision: number
        rows: number
        kind: string
      }[]
    const all = await page()
    expect(all.map(({ revision: at }) => at)).toEqual(all.map((_, i) => all[0]!.revision - i))
    expect(all.some(({ kind, rows }) => kind === 'back' && rows > 1)).toBe(true)
    expect((await page(`?before=${all[2]!.revision}`))[0]).toEqual(all[3])
  })

  test('the history finds people, places and tags anywhere in it, and tells the values before and after', async () => {
    interface Line {
      readonly author: string
      readonly rows: number
      readonly first: readonly {
        readonly before: { tag?: string } | null
        readonly after: { tag?: string } | null
      }[]
    }
    const found = async (words: string) =>
      (await call(one.url, 'GET', `${base}/history?words=${encodeURIComponent(words)}`)).json[
        'entries'
      ] as Line[]
    const tags = ['old_tag_1', 'old_tag_2', 'old_tag_3', 'old_tag_4']
    await send(
      { type: 'editSignals', edits: tags.map((tag) => ({ id: tag, tag, place: null })) },
      order('Finder', await revision()),
    )
    await send(
      {
        type: 'editSignals',
        edits: tags.map((tag) => ({ id: tag, tag: tag.replace('old', 'new') })),
      },
      order('Finder', await revision()),
    )
    await send(
      {
        type: 'insertModule',
        id: 'found',
        stationId: 'intake-b',
        slot: 9,
        module: 'M_DI8',
        shift: false,
      },
      order('Finder', await revision()),
    )
    // Enough after it that the first page does not reach it.
    for (let i = 0; i < 101; i++)
      await send(
        { type: 'updateStation', id: 'screen-1', set: { comment: `step ${i}` } },
        order('Other', await revision()),
      )

    // Also what it was before it was called that.
    expect(await found('finder new_tag_2')).toMatchObject([
      { rows: 4, first: [{ before: { tag: 'old_tag_1' }, after: { tag: 'new_tag_1' } }, {}, {}] },
      { rows: 4, first: [{ before: null }, {}, {}] },
    ])
    expect(await found('finder old_tag_2')).toHaveLength(2)
    expect((await found('NEW_TAG_2'))[0]!.first).toHaveLength(3)
    expect(await found(`finder ${await stationName('intake-b')} insert`)).toMatchObject([
      { author: 'Finder', rows: 1 },
    ])
    expect(await found('finder other')).toEqual([])
    expect(await found("100%_' or")).toEqual([])
    expect(await found('step')).toHaveLength(100)
  })

  test('who is far behind is told the latest only, and loads the plan anew', async () => {
    const seen = await revision()
    await one.services.db.execute(sql`
      insert into ${changes} (project_id, revision, command_id, author, kind, command, changes)
      select ${demoProject.id}, ${seen} + n, 'many-' || n, 'H', 'do', '{"type": "batch", "label": "nothing", "commands": []}', '[]' from generate_series(1, 6000) as n`)
    await one.services.db.execute(
      sql`update ${projects} set revision = ${seen + 6000} where id = ${demoProject.id}`,
    )
    const { json } = await call(two.url, 'GET', `${base}/changes?since=${seen}`)
    const told = json['entries'] as { revision: number }[]
    expect([told.length, told.at(-1)?.revision]).toEqual([500, seen + 6000])
    // Compared with so many changes of others no command is carried out unseen.
    expect(await send(rename('late', 'intake-b'), order('Late', seen), two)).toMatchObject({
      status: 409,
      json: { code: 'plan.old', detail: expect.stringContaining('6000 changes') },
    })
    expect(await differences(seen, seen + 6000)).toEqual([])
  })
})

test('both instances see each change, at once and after a restart', async () => {
  const events = await fetch(`${two.url}${base}/events`, {
    headers: headersOf(await visit(two, 'A')),
  })
  const reader = events.body!.getReader()
  const seen = await revision()
  await send(rename('seen-by-all', 'intake-a'), order('A', seen))
  let told = ''
  while (!told.includes(`"revision":${seen + 1}`))
    told += new TextDecoder().decode((await reader.read()).value)
  await reader.cancel()
  expect(await stationName('intake-a', two)).toBe('seen-by-all')

  const three = await startServer(databaseUrl)
  expect(await stationName('intake-a', three)).toBe('seen-by-all')
  expect(await revision(three)).toBe(await revision())
  const { entries } = (await call(three.url, 'GET', `${base}/changes?since=${seen}`)).json
  expect(entries).toHaveLength(1)
  await three.close()
})

describe('the Shelf', () => {
  const add = (name: string, bytes: Uint8Array) =>
    call(one.url, 'POST', `/api/files?name=${name}`, bytes)
  const shaOf = (reply: { json: Record<string, unknown> }) =>
    (reply.json['arrivals'] as { sha256: string }[])[0]!.sha256
  const count = async () =>
    ((await call(one.url, 'GET', '/api/files')).json['files'] as unknown[]).length

  test('keeps a file once, and gives it back as it came', async () => {
    const before = await count()
    const again = await add('copy.xml', gsdml())
    expect(again.json).toMatchObject({ arrivals: [{ state: 'known' }] })
    expect(await count()).toBe(before)
    const raw = await fetch(`${one.url}/api/files/${shaOf(again)}/raw`, {
      headers: headersOf(await visit(one, 'A')),
    })
    expect(new Uint8Array(await raw.arrayBuffer())).toEqual(gsdml())
  })

  test.each([
    ['something else', new TextEncoder().encode('hello'), 422, 'xml.malformed'],
    ['a file cut off', gsdml().slice(0, 5000), 422, 'xml.truncated'],
    [
      'entities',
      new TextEncoder().encode(
        '<?xml version="1.0"?>\n<!DOCTYPE a [<!ENTITY b "c">]>\n<ISO15745Profile/>',
      ),
      422,
      'xml.doctype',
    ],
    ['100 MB', new Uint8Array(100_000_000), 413, 'body.tooLarge'],
  ])('%s is refused with a sentence and leaves nothing', async (_, bytes, status, code) => {
    const before = await count()
    const reply = await add('GSDML-bad.xml', bytes)
    expect(reply).toMatchObject({ status, json: { code, detail: expect.stringMatching(/\.$/) } })
    expect(await count()).toBe(before)
  })

  test('what is used cannot be thrown away', async () => {
    const sha256 = shaOf(await add('x.xml', gsdml()))
    expect((await call(one.url, 'GET', `/api/files/${sha256}/uses`)).json).toMatchObject({
      uses: expect.arrayContaining([expect.objectContaining({ project: demoProject.name })]),
    })
    expect(await call(one.url, 'DELETE', `/api/files/${sha256}`)).toMatchObject({
      status: 409,
      json: { code: 'file.used', detail: expect.stringContaining(demoProject.name) },
    })
  })
})

describe('a package of description files', () => {
  const gsd = (model: string, more = '') =>
    strToU8(
      `#Profibus_DP\nVendor_Name = "Tarn & Vey"\nModel_Name = "${model}"\nIdent_Number = 0x0F77\nModular_Station = 1\nMax_Module = 8\nModule = "16 DI quick" 0x11\n1\nEndModule\n${more}`,
    )
  const module = 'Module = "Temperature 4 PTX9" 0x53\n2\nEndModule\n'
  let files: { name: string; sha256: string; state: string }[] = []

  test('is read file by file; refused ones leave nothing', async () => {
    const zip = zipSync({
      'a/old.gsd': gsd('Wells'),
      'a/new.gsd': gsd('Wells', module),
      'b/bad.gsd': gsd('x').slice(0, 150),
      'b/same.gsd': gsd('Wells'),
      'logo.png': strToU8('x'),
    })
    const reply = await call(one.url, 'POST', '/api/files?name=all.zip', zip)
    files = reply.json['arrivals'] as typeof files
    expect(files.map(({ name, state }) => [name, state])).toEqual([
      ['old.gsd', 'new'],
      ['new.gsd', 'new'],
      ['bad.gsd', 'refused'],
      ['same.gsd', 'known'],
    ])
    expect(
      await call(
        one.url,
        'POST',
        '/api/files?name=none.zip',
        zipSync({ 'logo.png': strToU8('x') }),
      ),
    ).toMatchObject({
      status: 422,
      json: { detail: expect.stringContaining('no description file') },
    })
  })

  test.each([
    ['ptx9', ['Temperature 4 PTX9']],
    ['PTX9 tarn', ['Temperature 4 PTX9']],
    ['quick di', ['16 DI quick', '16 DI quick']],
    ['%', []],
    ['nothing-like-it', []],
  ])('its modules are found by "%s"', async (text, names) => {
    const { hits } = (await call(one.url, 'GET', `/api/files/search?q=${encodeURIComponent(text)}`))
      .json as { hits: { name: string; protocol: string }[] }
    expect(hits.map(({ name }) => name)).toEqual(names)
  })

  test('two versions are compared', async () => {
    const { differences } = (
      await call(one.url, 'GET', `/api/files/${files[1]!.sha256}/compare?older=${files[0]!.sha256}`)
    ).json as { differences: unknown[] }
    expect(differences).toMatchObject([
      { change: 'added', what: 'module', name: 'Temperature 4 PTX9' },
    ])
  })

  test('lines of a file are given as text', async () => {
    expect(
      (await call(one.url, 'GET', `/api/files/${files[0]!.sha256}/lines?from=2&to=3`)).json,
    ).toEqual({ lines: ['Vendor_Name = "Tarn & Vey"', 'Model_Name = "Wells"'] })
  })

  test('what an older reader left is read anew', async () => {
    const { pool, shelf } = one.services
    await pool.query(
      `update description_files set reader = 0, catalog = '{"packed":2,"shared":[],"file":{}}' where sha256 = $1`,
      [files[1]!.sha256],
    )
    // As each server does when it starts.
    expect(await shelf.refreshOutdated()).toBe(1)
    expect(
      (await call(one.url, 'GET', `/api/files/${files[1]!.sha256}/catalog`)).json,
    ).toMatchObject({ file: { modules: [{ key: '1' }, { key: '2' }] } })
    expect(await shelf.refreshOutdated()).toBe(0)
  })

  test('a file that goes takes its items with it', async () => {
    for (const { sha256, state } of files)
      if (state === 'new')
        expect((await call(one.url, 'DELETE', `/api/files/${sha256}`)).status).toBe(200)
    expect((await call(one.url, 'GET', '/api/files/search?q=ptx9')).json).toEqual({
      hits: [],
      isComplete: true,
    })
  })
})

describe('handover', () => {
  test('a project goes out and comes in without loss, with its files', async () => {
    const archive = new Uint8Array(
      await (
        await fetch(`${one.url}${base}/export/archive`, {
          headers: headersOf(await visit(one, 'A')),
        })
      ).arrayBuffer(),
    )
    const { id } = (await call(one.url, 'POST', '/api/projects/import', archive)).json as {
      id: string
    }
    const texts = await Promise.all(
      [base, `/api/projects/${id}`].map(async (path) =>
        (
          await fetch(`${one.url}${path}/export/kataxis`, {
            headers: headersOf(await visit(one, 'A')),
          })
        ).text(),
      ),
    )
    const [before, after] = texts.map((text) => readProjectFile(text))
    if ('fault' in before! || 'fault' in after!) throw new Error('not readable')
    // What somebody entered or released there is kept, and holds for nothing here.
    expect({ ...after!.plan, project: null }).toEqual({
      ...unsignedPlan(before!.plan, 'A'),
      project: null,
    })
  })

  test.each([
    ['no JSON', '{', 'not JSON'],
    ['another version', '{"kataxis":9}', 'version 9'],
    [
      'an edited value',
      '{"kataxis":1,"revision":0,"project":{"id":"x","name":"","tagLength":32},"controllers":[],"networks":[],"stations":[],"modules":[],"signals":[],"files":[]}',
      'project.name',
    ],
  ])('%s is refused with the path', async (_, text, part) => {
    expect(
      await call(one.url, 'POST', '/api/projects/import', new TextEncoder().encode(text)),
    ).toMatchObject({ status: 422, json: { detail: expect.stringContaining(part) } })
  })
})

test('health follows the database; OpenAPI names every way in', async () => {
  expect(await call(one.url, 'GET', '/api/health')).toMatchObject({
    status: 200,
    json: { status: 'ok', revision: expect.any(Number) },
  })
  const { paths } = (await call(one.url, 'GET', '/api/openapi.json')).json as unknown as {
    paths: Record<string, Record<string, object>>
  }
  for (const { method, path } of Object.values(contract))
    expect([path, Object.keys(paths[path] ?? {})]).toEqual([path, expect.arrayContaining([method])])

  const lonely = await startServer(await freshDatabase())
  lonely.services.pool.connect = () => Promise.reject(new Error('gone')) as never
  lonely.services.pool.query = () => Promise.reject(new Error('gone')) as never
  expect(await call(lonely.url, 'GET', '/api/health', undefined, null)).toMatchObject({
    status: 503,
    json: { code: 'database.away' },
  })
  await lonely.close()
})

test('live updates come back after the listening connection was cut', async () => {
  const admin = new pg.Client({ connectionString: databaseUrl })
  await admin.connect()
  await admin.query(
    `select pg_terminate_backend(pid) from pg_stat_activity where query ilike 'listen%' and pid <> pg_backend_pid()`,
  )
  await admin.end()
  let told = 0
  const leave = two.services.notifications.on(
    'project',
    (notice) => (told = 'revision' in notice ? notice.revision : told),
  )
  await expect
    .poll(
      async () => {
        await send(
          { type: 'updateStation', id: 'intake-a', set: { comment: `again ${++counter}` } },
          order('A', await revision()),
        )
        return told
      },
      { timeout: 10_000, interval: 300 },
    )
    .toBeGreaterThan(0)
  leave()
})

test('a plan that comes in whole is stored row by row, and a large edit in one change', async () => {
  const { id } = (await call(one.url, 'POST', '/api/projects', { name: 'Big' })).json as {
    id: string
  }
  const { files } = (await call(one.url, 'GET', '/api/files')).json as {
    files: { sha256: string; name: string }[]
  }
  const file = files.find(({ name }) => name.includes('Quillane'))!.sha256
  const commands = [
    { type: 'addController', id: 'k', name: 'K' },
    {
      type: 'addNetwork',
      id: 'n',
      controllerId: 'k',
      name: 'N',
      settings: { controllerIp: '10.0.0.1' },
    },
    { type: 'addStation', id: 's', networkId: 'n', file, device: 'H_QH401_V23' },
    ...Array.from({ length: 48 }, (_, i) => ({
      type: 'insertModule',
      id: `m${i}`,
      stationId: 's',
      slot: i + 1,
      module: 'M_DI16',
    })),
  ]
  const path = `/api/projects/${id}/commands`
  expect(
    (
      await call(one.url, 'POST', path, {
        ...order('A'),
        command: { type: 'batch', label: 'all', commands },
      })
    ).status,
  ).toBe(200)
  const edits = Array.from({ length: 48 * 16 }, (_, i) => ({
    id: `x${i}`,
    tag: `T${i}`,
    place: { moduleId: `m${i >> 4}`, subslot: 1, direction: 'in', offsetBits: i & 15 },
  }))
  expect(
    (
      await call(one.url, 'POST', path, {
        ...order('A', 1),
        command: { type: 'editSignals', edits },
      })
    ).status,
  ).toBe(200)
  const plan = (await call(two.url, 'GET', `/api/projects/${id}`)).json as {
    revision: number
    modules: unknown[]
    signals: unknown[]
  }
  expect([plan.revision, plan.modules.length, plan.signals.length]).toEqual([2, 48, 768])
  await call(two.url, 'POST', `/api/projects/${id}/undo`, order('A', 2))
  expect(
    ((await call(one.url, 'GET', `/api/projects/${id}`)).json['signals'] as unknown[]).length,
  ).toBe(0)
  const { entries } = (await call(one.url, 'GET', `/api/projects/${id}/history`)).json as {
    entries: { kind: string; author: string }[]
  }
  expect(entries.map(({ kind, author }) => `${kind} ${author}`)).toEqual(['undo A', 'do A', 'do A'])
})
