import { pause, type Instance } from './plant'

/** What became of a command that somebody sent, as far as its sender knows. */
export interface Sent {
  readonly id: string
  readonly project: string
  state: 'open' | 'acknowledged' | 'refused'
}

export interface Tally {
  readonly sent: Sent[]
  readonly stop: () => Promise<void>
}

const pick = <T>(from: readonly T[]): T => from[Math.floor(Math.random() * from.length)]!
const number = (below: number) => Math.floor(Math.random() * below)

/** A command at random, on few names, so that people meet all the time. */
function someCommand(file: string): { what: string; body: object } {
  const station = `s${number(6)}`
  const module = `${station}.m${number(8)}`
  const commands: object[] = [
    { type: 'addStation', id: station, networkId: 'n1', file, device: 'H_QH401_V23' },
    {
      type: 'insertModule',
      id: module,
      stationId: station,
      slot: 1 + number(8),
      module: pick(['M_DI8', 'M_DI16', 'M_DO16']),
    },
    {
      type: 'insertModule',
      id: module,
      stationId: station,
      slot: 1 + number(8),
      module: 'M_DI8',
      shift: true,
    },
    { type: 'moveModule', id: module, stationId: `s${number(6)}`, slot: 1 + number(8) },
    { type: 'removeModules', ids: [module] },
    {
      type: 'editSignals',
      edits: [
        {
          id: `g${number(200)}`,
          tag: `T${number(1e6)}`,
          place: { moduleId: module, subslot: 1, direction: 'in', offsetBits: number(8) },
        },
      ],
    },
    { type: 'updateStation', id: station, set: { comment: `c${number(1e6)}` } },
    {
      type: 'copyStation',
      sourceId: station,
      networkId: 'n1',
      copies: [{ id: `k${number(1e6)}` }],
    },
    ...(Math.random() < 0.2 ? [{ type: 'removeStation', id: station }] : []),
  ]
  const chance = Math.random()
  if (chance < 0.15) return { what: 'undo', body: { withDependents: Math.random() < 0.5 } }
  if (chance < 0.25) return { what: 'redo', body: { withDependents: Math.random() < 0.5 } }
  return { what: 'commands', body: { command: pick(commands) } }
}

/** Somebody who is signed in on an instance. */
export async function enter(
  url: string,
  name: string,
  password: string,
): Promise<Record<string, string>> {
  const response = await fetch(`${url}/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name, password }),
  })
  if (!response.ok) throw new Error(`${name} cannot sign in (${response.status}).`)
  return {
    'Content-Type': 'application/json',
    Cookie: response.headers.get('set-cookie')!.split(';')[0]!,
    'X-Kataxis-Token': ((await response.json()) as { csrf: string }).csrf,
  }
}

/** People who edit the same projects over both instances until they are stopped. Whatever is not
 *  answered is sent again, sometimes on the other instance, until it is; some of what was answered
 *  is sent again too. */
export function edit(
  instances: readonly Instance[],
  people: readonly Record<string, string>[],
  projects: readonly string[],
  file: string,
): Tally {
  const sent: Sent[] = []
  let isOver = false
  const work = people.map(async (headers, person) => {
    const seen = new Map<string, number>()
    while (!isOver) {
      const { what, body } = someCommand(file)
      const entry: Sent = {
        id: `f${person}-${sent.length}-${number(1e9)}`,
        project: pick(projects),
        state: 'open',
      }
      sent.push(entry)
      for (let tries = 0; entry.state === 'open'; tries++) {
        entry.state = await send(pick(instances).url, headers, entry, what, body, seen)
        if (entry.state === 'open') await pause(100 + number(400))
      }
      if (entry.state === 'acknowledged' && Math.random() < 0.1)
        await send(pick(instances).url, headers, entry, what, body, seen)
      await pause(number(120))
    }
  })
  return {
    sent,
    stop: async () => {
      isOver = true
      await Promise.all(work)
    },
  }
}

async function send(
  url: string,
  headers: Record<string, string>,
  { id, project }: Sent,
  what: string,
  body: object,
  seen: Map<string, number>,
): Promise<Sent['state']> {
  try {
    const response = await fetch(`${url}/projects/${project}/${what}`, {
      method: 'POST',
      headers,
      signal: AbortSignal.timeout(20_000),
      body: JSON.stringify({ commandId: id, baseRevision: seen.get(project) ?? 0, ...body }),
    })
    const answer = (await response.json()) as {
      entries?: { revision: number; commandId: string }[]
    }
    if (response.ok) {
      const last = answer.entries?.at(-1)?.revision
      if (last !== undefined) seen.set(project, Math.max(seen.get(project) ?? 0, last))
      return 'acknowledged'
    }
    // Who was refused looks at the plan before the next try.
    if (response.status === 409) await look(url, headers, project, seen)
    return response.status >= 500 || response.status === 429 || response.status === 401
      ? 'open'
      : 'refused'
  } catch {
    return 'open'
  }
}

async function look(
  url: string,
  headers: Record<string, string>,
  project: string,
  seen: Map<string, number>,
): Promise<void> {
  const response = await fetch(
    `${url}/projects/${project}/changes?since=${seen.get(project) ?? 0}`,
    { headers, signal: AbortSignal.timeout(20_000) },
  ).catch(() => null)
  const { entries = [] } = response?.ok
    ? ((await response.json()) as { entries: { revision: number }[] })
    : {}
  for (const { revision } of entries) seen.set(project, Math.max(seen.get(project) ?? 0, revision))
}
