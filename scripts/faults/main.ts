import { edit, enter, type Sent } from './editors'
import { descriptorsOf, memoryMbOf, pause, Plant } from './plant'
import { judge } from './verdict'
import { worstRequests } from './worst'
import { fullDisk } from './full-disk'

const isShort = process.argv.includes('--short')
const editors = 20
const projectCount = isShort ? 2 : 4
/** Seconds from the beginning at which something goes wrong, and for how long the database is
 *  away. */
const schedule: readonly (readonly [
  at: number,
  what: 'killServer' | 'killDatabase' | 'worst' | number,
])[] = isShort
  ? [
      [6, 'killServer'],
      [12, 'worst'],
      [24, 1],
      [30, 'killDatabase'],
      [38, 'killServer'],
    ]
  : [
      [10, 'killServer'],
      [25, 'killDatabase'],
      [40, 'worst'],
      [70, 1],
      [90, 'killServer'],
      [105, 10],
      [140, 'killDatabase'],
      [160, 'worst'],
      [190, 'killServer'],
      [210, 60],
      [300, 'killServer'],
      [315, 'killDatabase'],
      [335, 'worst'],
      [365, 'killServer'],
    ]
const editS = isShort ? 44 : 380
/** Work before anything is measured, so that what is kept on purpose is there; and the time until
 *  idle threads and connections are gone. */
const warmUpS = isShort ? 0 : 25
const settleMs = isShort ? 4000 : 80_000
const say = (sentence: string) => process.stderr.write(`${sentence}\n`)

async function run(): Promise<number> {
  const began = Date.now()
  say('Starting two instances on one database …')
  const plant = await Plant.build()
  try {
    const [killed, steady] = plant.instances
    const owner = await enter(steady.url, 'owner', 'skarvholm')
    const people = await makePeople(steady.url, owner)
    const file = await fileHash(steady.url, owner)
    const projects = await makeProjects(steady.url, owner, file)
    const early: Sent[] = []
    if (warmUpS > 0) {
      say('Warming up …')
      const warming = edit([steady], people, projects, file)
      await worstRequests(steady.url, owner, projects[0]!)
      await pause(warmUpS * 1000)
      await warming.stop()
      early.push(...warming.sent)
    }
    await pause(settleMs)
    const before = { descriptors: descriptorsOf(steady.pid!), memoryMb: memoryMbOf(steady.pid!) }

    const blocks = new Map<string, number>()
    let peakMb = before.memoryMb
    const watch = setInterval(() => {
      peakMb = Math.max(peakMb, memoryMbOf(steady.pid!))
      for (const { url } of plant.instances)
        void fetch(`${url}/health`).then(
          async (response) =>
            blocks.set(
              url,
              Math.max(
                blocks.get(url) ?? 0,
                ((await response.json()) as { longestBlockMs?: number }).longestBlockMs ?? 0,
              ),
            ),
          () => undefined,
        )
    }, 500)

    const tally = edit(plant.instances, people, projects, file)
    const kills = { server: 0, database: 0 }
    const outages: { seconds: number; backAfterMs: number }[] = []
    const at = Date.now()
    for (const [seconds, what] of schedule) {
      await pause(Math.max(0, at + seconds * 1000 - Date.now()))
      say(
        `${seconds} s, ${tally.sent.length} commands: ${typeof what === 'number' ? `the database is away for ${what} s` : what}`,
      )
      if (what === 'killServer') {
        killed.kill()
        kills.server++
      } else if (what === 'killDatabase') {
        plant.killDatabase()
        kills.database++
        await pause(700)
        await plant.startDatabase()
      } else if (what === 'worst') await worstRequests(steady.url, owner, projects[0]!)
      else outages.push({ seconds: what, backAfterMs: await plant.outage(what) })
    }
    await pause(Math.max(0, at + editS * 1000 - Date.now()))
    await tally.stop()
    say('Looking at what is left …')
    await pause(settleMs)
    clearInterval(watch)
    const after = { descriptors: descriptorsOf(steady.pid!), memoryMb: memoryMbOf(steady.pid!) }
    const sent = [...early, ...tally.sent]
    const verdict = await judge(plant.databaseUrl, sent, projects)
    const count = (state: string) => sent.filter((entry) => entry.state === state).length
    const disk = isShort ? null : await fullDisk(say)
    const result = {
      contract: 1,
      minutes: Number(((Date.now() - began) / 60_000).toFixed(1)),
      editors,
      commands: sent.length,
      acknowledged: count('acknowledged'),
      refused: count('refused'),
      ...verdict,
      kills,
      outages,
      longestBlockMs: Math.max(0, ...blocks.values()),
      descriptors: { before: before.descriptors, after: after.descriptors },
      memoryMb: { before: before.memoryMb, peak: peakMb, after: after.memoryMb },
      ...(disk && { disk }),
    }
    process.stdout.write(`${JSON.stringify(result, null, 2)}\n`)
    return verdict.lost + verdict.doubled + verdict.invalidPlans === 0 ? 0 : 1
  } finally {
    await plant.end()
  }
}

const post = async (url: string, headers: Record<string, string>, path: string, body: object) => {
  const response = await fetch(url + path, { method: 'POST', headers, body: JSON.stringify(body) })
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`)
  return response.json() as Promise<{ id: string }>
}

async function makePeople(url: string, owner: Record<string, string>) {
  const password = 'a heron on the pier'
  const people = []
  for (let i = 0; i < editors; i++) {
    await post(url, owner, '/users', {
      name: `editor${i}`,
      fullName: `Editor ${i + 1}`,
      role: 'safety',
      password,
    })
    people.push(await enter(url, `editor${i}`, password))
  }
  return people
}

async function fileHash(url: string, owner: Record<string, string>): Promise<string> {
  const { files } = (await (await fetch(`${url}/files`, { headers: owner })).json()) as {
    files: { name: string; sha256: string }[]
  }
  return files.find(({ name }) => name.includes('Quillane-QH400'))!.sha256
}

async function makeProjects(
  url: string,
  owner: Record<string, string>,
  file: string,
): Promise<string[]> {
  const projects = []
  for (let i = 0; i < projectCount; i++) {
    const { id } = await post(url, owner, '/projects', { name: `Faults ${i}` })
    const commands = [
      { type: 'addController', id: 'k1', name: 'K1', inputBytes: 65_536, outputBytes: 65_536 },
      {
        type: 'addNetwork',
        id: 'n1',
        controllerId: 'k1',
        name: 'N1',
        settings: { controllerIp: '10.0.0.1' },
        prefixLength: 16,
      },
      { type: 'addStation', id: 's0', networkId: 'n1', file, device: 'H_QH401_V23' },
    ]
    await post(url, owner, `/projects/${id}/commands`, {
      commandId: `begin${i}`,
      baseRevision: 0,
      command: { type: 'batch', label: 'begin', commands },
    })
    projects.push(id)
  }
  return projects
}

process.exitCode = await run()
