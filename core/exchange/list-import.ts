import type { Derived } from '../derive/derive'
import { newId } from '../plan/new-id'
import type { CommandOf, SingleCommand } from '../plan/commands'
import type { SignalRow } from '../plan/model'
import { factColumns, factNames, tooLong, type FactName, type FactsEdit } from '../signals/facts'
import { tagFault, tagIdentity } from '../tags/identifier'
import { indexOf, placesOf, type Known, type ListIndex } from './list-index'
import { channelsInOrder, type ListOrder, type NextChannel } from './list-order'
import type { ListTable } from './list-table'

/** What a column of a list can be. */
export const listFields = [
  'tag',
  'comment',
  'terminal',
  'address',
  'station',
  'slot',
  'subslot',
  'channel',
  'position',
  'number',
  'controller',
  ...factNames,
] as const
export type ListField = (typeof listFields)[number]

/** Headings by which a column is recognised, in several languages (common practice). */
const usual: Readonly<Record<Exclude<ListField, FactName>, RegExp>> = {
  tag: /^(tag|tag ?name|signal( ?name)?|symbol(ic)?( ?name)?|alias|variable|name|kennzeichen|bezeichner)$/i,
  comment: /^(comment|description|desc\.?|text|function|kommentar|beschreibung|funktion|service)$/i,
  terminal: /^(terminal|clamp|klemme|connection|terminal (no\.?|number))$/i,
  address: /^(address|addr\.?|i\/?o address|adresse|io)$/i,
  station: /^(station|node|rack|device|remote i\/?o|panel)$/i,
  slot: /^(slot|module|position|steckplatz|card)$/i,
  subslot: /^(subslot|sub ?slot|submodule)$/i,
  position: /^(position in station|station position|point no\.?|station channel)$/i,
  number: /^(no\.?|nr\.?|number|#|running (no\.?|number)|lfd\.? ?nr\.?)$/i,
  controller: /^(controller|plc|cpu|resource|steuerung)$/i,
  channel: /^(channel|ch\.?|point|kanal|pin)$/i,
}
const usualFacts: Readonly<Partial<Record<FactName, RegExp>>> = {
  measures: /^(measures|range|measuring range|eu range|messbereich)$/i,
  transmitter: /^(transmitter|signal type|signal range|electrical|signalart)$/i,
  needs: /^(needs|kind|type|io type|i\/o type|typ)$/i,
  area: /^(area|unit|plant area|bereich|anlage)$/i,
  designation: /^(designation|plant designation|kks|iec 81346|anlagenkennzeichen)$/i,
  wires: /^(wires|wiring)$/i,
  supply: /^(fed by|supply|power)$/i,
}

export type Mapping = readonly (ListField | null)[]

/** What each column most likely is; `remembered` says what was chosen for a heading before. */
export function guessMapping(
  headings: readonly string[],
  remembered: Readonly<Record<string, ListField | ''>> = {},
): Mapping {
  const mapping: (ListField | null)[] = headings.map(() => null)
  const left = new Set<ListField>(listFields)
  const undecided = new Set(headings.keys())
  const take = (fieldOf: (heading: string) => ListField | '' | undefined) => {
    for (const [i, heading] of headings.entries()) {
      const field = undecided.has(i) ? fieldOf(heading.trim()) : undefined
      if (field === undefined || (field !== '' && !left.delete(field))) continue
      undecided.delete(i)
      mapping[i] = field || null
    }
  }
  const among = (words: Readonly<Partial<Record<ListField, RegExp>>>) => (heading: string) =>
    listFields.find((field) => left.has(field) && words[field]?.test(heading))
  take((heading) => remembered[heading.toLowerCase()])
  // Our own headings first: a list that was exported here has both `Needs` and `Kind`.
  take((heading) =>
    factNames.find((name) => factColumns[name].heading.toLowerCase() === heading.toLowerCase()),
  )
  take(among(usual))
  take(among(usualFacts))
  return mapping
}

export interface FieldChange {
  readonly field: string
  readonly before: string
  readonly after: string
}
/** What a row of the list would do. */
export interface ListDifference {
  readonly key: string
  /** In the file; null where the plan has what the list has not. */
  readonly line: number | null
  readonly kind: 'added' | 'changed' | 'removed' | 'ambiguous'
  readonly tag: string
  readonly where: string
  readonly changes: readonly FieldChange[]
  /** Why it cannot be taken, or what is odd about it. */
  readonly note: string
  /** None where it is ambiguous. */
  readonly edit: CommandOf<'editSignals'>['edits'][number] | null
}
export interface ListComparison {
  readonly differences: readonly ListDifference[]
  readonly same: number
}

/** What the rows before have named: tags, signals and channels, with the row that did. */
interface Met {
  readonly tags: Map<string, number>
  readonly signals: Map<string, number>
  readonly places: Map<Known, number>
}

/** Compares a list with the plan, row by row: found by tag, else by terminal, by address in any
 *  notation, or by station, slot and channel. Empty cells of a column that is mapped say nothing;
 *  they take nothing away. */
export function compareList(
  derived: Derived,
  table: ListTable,
  mapping: Mapping,
  order: ListOrder | null = null,
): ListComparison {
  const index = indexOf(derived)
  const next = order && channelsInOrder(derived, order)
  const met: Met = { tags: new Map(), signals: new Map(), places: new Map() }
  const rows = table.rows.map(({ line, cells }) => {
    const text = (field: ListField) => cells[mapping.indexOf(field)] ?? ''
    return compareRow({ derived, index, mapping, met, next }, line, text)
  })
  const isUnnamed = ({ id, tag }: SignalRow) =>
    tag !== '' && !met.signals.has(id) && !met.tags.has(tagIdentity(tag))
  const isAbout = scopeOf(derived, index, table, mapping)
  const isGone = (signal: SignalRow) => isUnnamed(signal) && isAbout(signal)
  const removed = mapping.includes('tag')
    ? [...index.signals].filter(isGone).map((signal): ListDifference => ({
        key: `gone-${signal.id}`,
        line: null,
        kind: 'removed',
        tag: signal.tag,
        where: index.whereOf(signal),
        changes: [],
        note: 'not in the list',
        edit: { id: signal.id },
      }))
    : []
  const differences = rows.filter((row) => row !== null)
  return {
    differences: [...differences, ...removed],
    same: rows.length - differences.length,
  }
}

/** What one row would do; null where it says what the plan says. */
function compareRow(
  {
    derived,
    index,
    mapping,
    met,
    next,
  }: {
    readonly derived: Derived
    readonly index: ListIndex
    readonly mapping: Mapping
    readonly met: Met
    readonly next: NextChannel | null
  },
  line: number,
  text: (field: ListField) => string,
): ListDifference | null {
  const tag = text('tag')
  const key = `line-${line}`
  const refused = (note: string, where = ''): ListDifference => ({
    key,
    line,
    kind: 'ambiguous',
    tag,
    where,
    changes: [],
    note,
    edit: null,
  })
  const fault = tag === '' ? null : tagFault(tag, derived.plan.project)
  if (fault) return refused(`${tag} is no tag: ${fault}.`)
  const before = tag === '' ? undefined : met.tags.get(tagIdentity(tag))
  if (before !== undefined) return refused(`${tag} stands in row ${before} of the list too.`)
  if (tag !== '') met.tags.set(tagIdentity(tag), line)
  const named = placesOf(index, {
    terminal: text('terminal'),
    address: text('address'),
    station: text('station'),
    slot: text('slot'),
    subslot: text('subslot'),
    channel: text('channel'),
    position: text('position'),
    controller: text('controller'),
  })
  if (typeof named === 'string') return refused(named)
  const own = tag === '' ? undefined : index.byTag.get(tagIdentity(tag))
  // A channel's row that is empty does not hold the signal that the plan has there.
  if (named?.signal && mapping.includes('tag') && saysNothing(text)) return null
  // Who has a channel keeps it, unless the row names another.
  const found = named ?? (next && !own?.place ? next(text('number')) : null)
  if (typeof found === 'string') return refused(`${tag || `Row ${line}`}: ${found}.`)
  if (own && found?.signal && found.signal.id !== own.id)
    return refused(
      `${tag} stands elsewhere, and its place in the list holds ${found.signal.tag || 'another signal'}.`,
      found.where,
    )
  const signal = own ?? found?.signal ?? null
  if (!signal && tag === '' && text('comment') === '')
    return found ? null : refused('The row names neither a tag nor a place that is in the plan.')
  const twice = (signal && met.signals.get(signal.id)) ?? (found && met.places.get(found))
  if (twice)
    return refused(
      `Row ${twice} of the list means the same ${signal && met.signals.has(signal.id) ? 'signal' : 'channel'}.`,
      found?.where,
    )
  const result = editOf(signal, found, text, mapping)
  if (typeof result === 'string')
    return refused(`${tag || `Row ${line}`}: ${result}.`, found?.where)
  if (signal) met.signals.set(signal.id, line)
  if (found) met.places.set(found, line)
  if (signal && result.changes.length === 0) return null
  return {
    key,
    line,
    kind: signal ? 'changed' : 'added',
    tag: tag || signal?.tag || '',
    where: found?.where ?? (signal?.place ? index.whereOf(signal) : 'no channel yet'),
    changes: result.changes,
    note: '',
    edit: result.edit,
  }
}

/** Whether a row tells nothing of a signal. */
function saysNothing(text: (field: ListField) => string): boolean {
  return (['tag', 'comment', 'terminal', ...factNames] as const).every(
    (field) => text(field) === '',
  )
}

/** The commands that take what somebody accepted over: one change, whatever its size. */
export function takeList(accepted: readonly ListDifference[]): SingleCommand[] {
  const edits = accepted.flatMap(({ kind, edit }) => (edit && kind !== 'removed' ? [edit] : []))
  const removed = accepted.flatMap(({ kind, edit }) =>
    edit && kind === 'removed' ? [edit.id] : [],
  )
  return [
    ...(removed.length > 0 ? [{ type: 'removeSignals' as const, ids: removed }] : []),
    ...(edits.length > 0 ? [{ type: 'editSignals' as const, edits }] : []),
  ]
}

function editOf(
  signal: SignalRow | null,
  found: Known | null,
  text: (field: ListField) => string,
  mapping: Mapping,
): { edit: CommandOf<'editSignals'>['edits'][number]; changes: FieldChange[] } | string {
  const changes: FieldChange[] = []
  const edit: CommandOf<'editSignals'>['edits'][number] = { id: signal?.id ?? newId() }
  for (const field of ['tag', 'comment', 'terminal'] as const) {
    const after = text(field)
    if (after === '' || after === (signal?.[field] ?? '').trim()) continue
    const fault = tooLong(field, after)
    if (fault) return fault
    edit[field] = after
    changes.push({ field, before: signal?.[field] ?? '', after })
  }
  let facts: FactsEdit = {}
  for (const name of factNames) {
    if (!mapping.includes(name) || text(name) === '') continue
    const read = factColumns[name].read(text(name))
    if (typeof read === 'string') return `${factColumns[name].heading}: ${read}`
    const [before, after] = [
      factColumns[name].word(signal?.facts ?? {}),
      factColumns[name].word(
        Object.fromEntries(Object.entries(read).filter(([, value]) => value !== null)),
      ),
    ]
    if (before === after) continue
    facts = { ...facts, ...read }
    changes.push({ field: factColumns[name].heading, before, after })
  }
  if (Object.keys(facts).length > 0) edit.facts = facts
  if (
    found &&
    !found.signal &&
    JSON.stringify(signal?.place ?? null) !== JSON.stringify(found.place)
  ) {
    edit.place = found.place
    changes.push({
      field: 'channel',
      before: signal?.place ? 'another channel' : '',
      after: found.where,
    })
  } else if (!signal) edit.place = null
  return { edit, changes }
}

/** Which signals a list would hold, so that it says something where they are missing: those of the
 *  controllers that it names, and in a file of variables those that can be one. */
function scopeOf(
  { plan }: Derived,
  { controllerOf, controllerOfSignal }: ListIndex,
  { rows, holds }: ListTable,
  mapping: Mapping,
): (signal: SignalRow) => boolean {
  const column = mapping.indexOf('controller')
  const named = new Set(
    column < 0 ? [] : rows.map(({ cells }) => controllerOf(cells[column] ?? '')),
  )
  named.delete(null)
  return (signal) =>
    (named.size === 0 || named.has(controllerOfSignal.get(signal.id) ?? null)) &&
    (holds !== 'variables' ||
      (signal.place !== null && tagFault(signal.tag, plan.project) === null))
}
