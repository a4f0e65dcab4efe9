import type {
  Id,
  ModuleRow,
  Plan,
  ProjectRow,
  RowOf,
  SignalRow,
  StationGroup,
  TableName,
} from './model'

/** One row before and after; `null` where it was or is not there. Swapped, it is its own
 *  inverse. */
export type RowChange =
  | {
      [T in TableName]: {
        readonly table: T
        readonly id: Id
        readonly before: RowOf[T] | null
        readonly after: RowOf[T] | null
      }
    }[TableName]
  | {
      readonly table: 'project'
      readonly id: Id
      readonly before: ProjectRow
      readonly after: ProjectRow
    }

/** Rows that one change may touch: all channels of the largest plan, and as many again. */
export const mostRowsOfChange = 250_000

/** Looks at one station, counted over all that a change looks through: some ten seconds of work. */
const mostVisits = 20_000_000

/** Ends a command that would go beyond. */
export class TooManyRows extends Error {}

type Mutable<T> = { -readonly [K in keyof T]: T[K] }

/** A plan being changed: copies every container once on first touch and remembers each row's before
 *  and after. */
export class Draft {
  plan: Plan
  private readonly owned = new WeakSet<object>()
  /** Grows with every change to what may hold an address. */
  touches = 0
  /** Stations whose groups this draft has changed, and may change further. */
  readonly touchedStations = new Set<Id>()
  private readonly log = new Map<string, RowChange>()
  /** The station where the last row was found: the next one usually stands beside it. */
  private near: Id | null = null
  /** The station of each signal, null for one that waits, and of each module; only once many are
   *  looked for. */
  private homes: Map<Id, Id | null> | null = null
  private moduleHomes: Map<Id, Id> | null = null
  private work = 0

  private stationCount: number

  constructor(plan: Plan) {
    this.plan = plan
    this.stationCount = Object.keys(plan.stations).length
  }

  get changes(): RowChange[] {
    return [...this.log.values()].filter(({ before, after }) => before !== after)
  }

  setProject(after: ProjectRow): void {
    const before = this.plan.project
    this.plan = { ...this.plan, project: after }
    this.remember({ table: 'project', id: after.id, before, after })
  }

  get<T extends TableName>(table: T, id: Id): RowOf[T] | null {
    if (table === 'signals' && this.homes) {
      const home = this.homes.get(id)
      const group = home === null ? this.plan.unplaced : this.plan.stations[home ?? '']?.signals
      return (group?.[id] as RowOf[T] | undefined) ?? null
    }
    if (table === 'modules' && this.moduleHomes)
      return (
        (this.plan.stations[this.moduleHomes.get(id) ?? '']?.modules[id] as RowOf[T] | undefined) ??
        null
      )
    const beside =
      table === 'modules' || table === 'signals'
        ? this.plan.stations[this.near ?? '']?.[table as 'modules' | 'signals'][id]
        : null
    if (beside) return beside as RowOf[T]
    if (table === 'modules' || table === 'signals') this.visitStations()
    return rowOf(this.plan, table, id)
  }

  /** Said before all stations are looked at, which one command may do only so often. */
  visitStations(weight = 1): void {
    this.work += weight * this.stationCount
    if (this.work > mostVisits) throw new TooManyRows()
  }

  /** Before so many signals are looked for: from a number on they are told where they stand,
   *  instead of searched for. */
  expectSignals(count: number): void {
    if (count < 200 || this.homes) return
    this.homes = new Map(Object.keys(this.plan.unplaced).map((id) => [id, null]))
    this.moduleHomes = new Map()
    for (const [stationId, { signals, modules }] of Object.entries(this.plan.stations)) {
      for (const id in signals) this.homes.set(id, stationId)
      for (const id in modules) this.moduleHomes.set(id, stationId)
    }
  }

  /** The station a module belongs to; the head's channels name the station itself. */
  stationOf(moduleId: Id): Id | null {
    if (this.moduleHomes)
      return this.plan.stations[moduleId] ? moduleId : (this.moduleHomes.get(moduleId) ?? null)
    const beside = this.plan.stations[this.near ?? '']
    if (!beside || (moduleId !== this.near && !beside.modules[moduleId])) {
      this.visitStations()
      this.near = stationIdOf(this.plan, moduleId)
    }
    return this.near
  }

  put<T extends TableName>(table: T, row: RowOf[T]): void {
    this.enter(table, row, this.leaveGroup[table]?.(row as never) ?? this.get(table, row.id))
  }

  /** A row that is nowhere in the plan yet. */
  add<T extends TableName>(table: T, row: RowOf[T]): void {
    this.enter(table, row, null)
  }

  private enter<T extends TableName>(table: T, row: RowOf[T], before: RowOf[T] | null): void {
    if (table === 'stations') {
      this.touchedStations.add(row.id)
      if (!before) this.stationCount++
    }
    if (table === 'signals') this.homes?.set(row.id, this.homeOf(row as SignalRow))
    if (table === 'modules') this.moduleHomes?.set(row.id, (row as ModuleRow).stationId)
    this.containerOf(table, row)[row.id] =
      table === 'stations' ? { ...emptyOr(this.plan.stations[row.id]), station: row } : row
    this.remember({ table, id: row.id, before, after: row } as RowChange)
  }

  remove<T extends TableName>(table: T, id: Id): void {
    const before = this.get(table, id)
    if (!before) return
    delete this.containerOf(table, before)[id]
    if (table === 'stations') this.stationCount--
    if (table === 'signals') this.homes?.delete(id)
    if (table === 'modules') this.moduleHomes?.delete(id)
    this.remember({ table, id, before, after: null } as RowChange)
  }

  /** Rows that may change their station leave the old group before they enter the new one; gives
   *  the row as it was. */
  private readonly leaveGroup: { [T in TableName]?: (next: RowOf[T]) => RowOf[T] | null } = {
    modules: (next) => {
      const standing = this.plan.stations[next.stationId]?.modules[next.id]
      if (standing) return standing
      const before = this.get('modules', next.id)
      if (!before || before.stationId === next.stationId) return before
      delete this.containerOf('modules', before)[next.id]
      // Its signals go with it; their rows stay as they are.
      const old = this.ownGroup(before.stationId, 'signals') as Record<Id, SignalRow>
      const moving = Object.values(old).filter(({ place }) => place?.moduleId === next.id)
      const entered = moving.length > 0 ? this.ownGroup(next.stationId, 'signals') : {}
      for (const signal of moving) {
        delete old[signal.id]
        entered[signal.id] = signal
        this.homes?.set(signal.id, next.stationId)
      }
      return before
    },
    signals: (next) => {
      const newGroup = next.place ? this.stationOf(next.place.moduleId) : null
      const stays =
        newGroup === null
          ? this.plan.unplaced[next.id]
          : this.plan.stations[newGroup]?.signals[next.id]
      if (stays) return stays
      const before = this.get('signals', next.id)
      if (before) delete this.containerOf('signals', before)[next.id]
      return before
    },
  }

  private containerOf(table: TableName, row: RowOf[TableName]): Record<Id, unknown> {
    if (table === 'controllers' || table === 'networks' || table === 'stations')
      return this.own(table)
    if (table === 'modules') return this.ownGroup((row as RowOf['modules']).stationId, 'modules')
    const stationId = this.homeOf(row as SignalRow)
    return stationId ? this.ownGroup(stationId, 'signals') : this.own('unplaced')
  }

  private homeOf({ place }: SignalRow): Id | null {
    return place && this.stationOf(place.moduleId)
  }

  private own(name: 'controllers' | 'networks' | 'stations' | 'unplaced'): Record<Id, unknown> {
    let rows = this.plan[name] as Record<Id, unknown>
    if (!this.owned.has(rows)) {
      rows = { ...rows }
      this.owned.add(rows)
      this.plan = { ...this.plan, [name]: rows }
    }
    return rows
  }

  private ownGroup(stationId: Id, name: 'modules' | 'signals'): Record<Id, unknown> {
    const groups = this.own('stations') as Record<Id, Mutable<StationGroup>>
    this.touchedStations.add(stationId)
    let group = groups[stationId]
    if (!group) throw new Error(`station ${stationId} is not in the plan`)
    if (!this.owned.has(group)) {
      group = { ...group }
      this.owned.add(group)
      groups[stationId] = group
    }
    let rows = group[name] as Record<Id, unknown>
    if (!this.owned.has(rows)) {
      rows = { ...rows }
      this.owned.add(rows)
      Object.assign(group, { [name]: rows })
    }
    return rows
  }

  private remember(change: RowChange): void {
    if (change.table !== 'signals') this.touches++
    const key = `${change.table}/${change.id}`
    const earlier = this.log.get(key)
    if (!earlier && this.log.size >= mostRowsOfChange) throw new TooManyRows()
    this.log.set(key, (earlier ? { ...change, before: earlier.before } : change) as RowChange)
  }
}

function emptyOr(group: StationGroup | undefined): Pick<StationGroup, 'modules' | 'signals'> {
  return group ?? { modules: {}, signals: {} }
}

/** The station a module belongs to; the head's channels name the station itself. */
export function stationIdOf(plan: Plan, moduleId: Id): Id | null {
  return plan.stations[moduleId] ? moduleId : findStation(plan, 'modules', moduleId)
}

export function rowOf<T extends TableName>(plan: Plan, table: T, id: Id): RowOf[T] | null {
  return readers[table](plan, id)
}

const readers: { [T in TableName]: (plan: Plan, id: Id) => RowOf[T] | null } = {
  controllers: (plan, id) => plan.controllers[id] ?? null,
  networks: (plan, id) => plan.networks[id] ?? null,
  stations: (plan, id) => plan.stations[id]?.station ?? null,
  modules: (plan, id) => inStation(plan, 'modules', id),
  signals: (plan, id) => plan.unplaced[id] ?? inStation(plan, 'signals', id),
}

function inStation<T extends 'modules' | 'signals'>(plan: Plan, table: T, id: Id): RowOf[T] | null {
  const stationId = findStation(plan, table, id)
  return stationId === null ? null : (plan.stations[stationId]![table][id] as RowOf[T])
}

/** Where rows stood that were found last, in whichever plan: a guess that is looked at before it is
 *  believed. */
const guesses = new Map<Id, Id>()
const mostGuesses = 10_000

function findStation({ stations }: Plan, table: 'modules' | 'signals', id: Id): Id | null {
  const guess = guesses.get(id)
  if (guess !== undefined && stations[guess]?.[table][id]) return guess
  for (const stationId in stations) {
    if (!stations[stationId]![table][id]) continue
    if (guesses.size >= mostGuesses) guesses.clear()
    guesses.set(id, stationId)
    return stationId
  }
  return null
}
