import {
  faultsOfChange,
  mend,
  missingOwners,
  nameOfRow,
  netChanges,
  ownership,
  replayChanges,
  rowOf,
  rowsAfter,
  rowsOfPlan,
  type Obstacle,
  type Plan,
  type PlanFault,
  type Refusal,
  type RowChange,
  type RowOf,
  type TableName,
} from '@kataxis/core'
import type { Connection } from '../db/connect'
import { refusedBy } from './refused'
import { lastToTouch, rememberedRows } from '../repositories/changes'

type Way = Extract<Refusal, { code: 'undo.blocked' }>['what']

interface Wish {
  readonly projectId: string
  readonly way: Way
  /** The change that is taken back, or brought again, or gone back to. */
  readonly target: number
  /** Also what others have built on it since: it goes, waits, or comes back with it. */
  readonly withDependents: boolean
}

const mostReasons = 4

/** Recorded changes once more on the plan as it is now, so that a valid plan is left. What stands
 *  in the way is told with who did it, unless the sender wants it to follow. */
export async function takeBack(
  db: Connection,
  plan: Plan,
  recorded: readonly RowChange[],
  wish: Wish,
): Promise<RowChange[]> {
  const { changes, obstacles } = replayChanges(plan, recorded)
  // What went by itself in the meantime needs no second removal, and stops nobody.
  const inTheWay = obstacles.filter(
    ({ how, table, id }) =>
      how !== 'gone' ||
      recorded.find((change) => change.table === table && change.id === id)!.after !== null,
  )
  const faults = faultsOfChange(plan, changes)
  if (inTheWay.length === 0 && faults.length === 0) return changes
  if (!wish.withDependents) throw refusedBy(await whatBlocks(db, plan, inTheWay, faults, wish))
  return faults.length === 0
    ? changes
    : netChanges([changes, await mendingOf(db, plan, changes, wish.projectId)])
}

/** What makes a plan valid again after changes that leave it broken. */
async function mendingOf(
  db: Connection,
  plan: Plan,
  changes: readonly RowChange[],
  projectId: string,
): Promise<RowChange[]> {
  const rows = rowsAfter(rowsOfPlan(plan), changes)
  const key = ({ table, id }: RowChange) => `${table}/${id}`
  const kept = new Set(changes.filter(({ after }) => after !== null).map(key))
  const gone = new Set(changes.filter(({ after }) => after === null).map(key))
  const remembered = new Map<string, RowOf[TableName]>()
  // Owners of owners: three steps at most from a module to its controller.
  for (
    let missing = missingOwners(rows, { gone, remembered });
    missing.length > 0;
    missing = missingOwners(rows, { gone, remembered })
  ) {
    const found = await rememberedRows(db, projectId, missing)
    if (found.size === 0) break
    for (const [name, row] of found) remembered.set(name, row)
  }
  return mend(rows, { kept, gone, remembered }).changes
}

async function whatBlocks(
  db: Connection,
  plan: Plan,
  obstacles: readonly Obstacle[],
  faults: readonly PlanFault[],
  { projectId, way, target }: Wish,
): Promise<Refusal> {
  const involved = [
    ...obstacles.map(({ table, id }) => `${table}/${id}`),
    ...faults.flatMap(keysOf),
  ]
  const authors = await lastToTouch(db, projectId, target, [...new Set(involved)])
  const by = (...keys: string[]) =>
    keys.map((key) => authors.get(key)).find((author) => author !== undefined) ?? 'Another person'
  const reasons = [
    ...obstacles.map(
      ({ table, id, name, how }) =>
        `${by(`${table}/${id}`)} ${obstacleWords[how]} ${words[table]} ${name}.`,
    ),
    ...faults.map((fault) => faultWords(fault, plan, by)),
  ]
  const different = [...new Set(reasons)]
  return {
    code: 'undo.blocked',
    what: way,
    target,
    reasons: different.slice(0, mostReasons),
    more: Math.max(0, different.length - mostReasons),
  }
}

const words: Record<RowChange['table'], string> = {
  project: 'the project',
  controllers: 'controller',
  networks: 'network',
  stations: 'station',
  modules: 'module',
  signals: 'signal',
}
const obstacleWords: Record<Obstacle['how'], string> = {
  changed: 'changed',
  gone: 'removed',
  there: 'put back',
}

function keysOf(fault: PlanFault): string[] {
  const own = `${fault.table}/${fault.id}`
  if (fault.code === 'owner.missing')
    return [own, ...ownership[fault.table]!.owners.map((table) => `${table}/${fault.owner}`)]
  return fault.code === 'id.twice' ? [own] : [own, `${fault.table}/${fault.other}`]
}

function faultWords(fault: PlanFault, plan: Plan, by: (...keys: string[]) => string): string {
  const { table, id, name } = fault
  if (fault.code === 'id.twice') return `The id of ${words[table]} ${name} is taken.`
  if (fault.code !== 'owner.missing') {
    // Of the two that contend the one that stands in the plan now is somebody else's.
    const standing = rowOf(plan, table, fault.other) ? fault.other : id
    const row = rowOf(plan, table, standing)
    return `${by(`${table}/${standing}`)} put ${words[table]} ${row ? nameOfRow(row) : name} into the same ${fault.code === 'slot.twice' ? 'slot' : 'channel'}.`
  }
  const owner = ownership[table]!.owners.find((one) => rowOf(plan, one, fault.owner))
  if (owner)
    return `${by(`${table}/${id}`)} put ${words[table]} ${name} on ${words[owner]} ${nameOfRow(rowOf(plan, owner, fault.owner)!)}.`
  return `${by(...ownership[table]!.owners.map((one) => `${one}/${fault.owner}`))} removed what ${words[table]} ${name} belongs to.`
}
