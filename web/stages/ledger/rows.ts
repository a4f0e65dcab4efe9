import {
  placeOf,
  placeText,
  channelAddress,
  channelsOfStation,
  deviceNotations,
  factColumns,
  factNames,
  formatAddress,
  kindOfChannel,
  type FactName,
  type Finding,
  type ProjectRow,
  type SignalFacts,
  notationOf,
  electricalOf,
  rangeOfChannel,
  rangeSources,
  settingsOf,
  wordRange,
  type Catalog,
  tagFault,
  tagIdentity,
  type Derived,
  type DeviceNotationName,
  type NotationName,
  type SignalPlace,
  type StationChannel,
  type DerivedStation,
} from '@kataxis/core'

/** One row of the Ledger: a channel with its signal, or a signal that has no channel yet. */
export interface LedgerRow extends Partial<Readonly<Record<FactName, string>>> {
  readonly key: string
  readonly signalId: string | null
  readonly place: SignalPlace | null
  readonly listed: StationChannel | null
  readonly station: string
  readonly slot: string
  readonly module: string
  readonly channel: string
  readonly kind: string
  readonly type: string
  readonly address: string
  /** The same place in a second notation, where one is chosen. */
  readonly address2: string
  /** The channel's electrical range in everybody's words, and who says it; empty where nobody
   *  does. */
  readonly range: string
  readonly rangeSource: string
  readonly terminal: string
  readonly tag: string
  readonly comment: string
  readonly facts: SignalFacts
}

const texts = ['terminal', 'tag', 'comment', 'range'] as const
export type Editable = (typeof texts)[number] | FactName
export const isFact = (column: string): column is FactName => Object.hasOwn(factColumns, column)
export const isEditable = (column: string): column is Editable =>
  (texts as readonly string[]).includes(column) || isFact(column)

/** Sets of columns: what somebody looks at together. The station always stands at the left. */
export const columnSets = {
  addressing: {
    words: 'Addresses',
    columns: [
      'slot',
      'channel',
      'kind',
      'address',
      'address2',
      'tag',
      'comment',
      'terminal',
      'range',
      'type',
      'module',
    ],
  },
  scaling: {
    words: 'Scaling',
    columns: ['slot', 'channel', 'kind', 'tag', 'range', ...factsOf('scaling'), 'comment'],
  },
  wiring: {
    words: 'Wiring',
    columns: [
      'slot',
      'channel',
      'kind',
      'tag',
      'terminal',
      ...factsOf('wiring'),
      'comment',
      'module',
    ],
  },
  project: {
    words: 'Project',
    columns: ['slot', 'channel', 'kind', 'tag', 'comment', ...factsOf('project')],
  },
} as const satisfies Readonly<
  Record<string, { readonly words: string; readonly columns: readonly (keyof LedgerRow)[] }>
>
export type ColumnSet = keyof typeof columnSets

function factsOf(set: string): FactName[] {
  return factNames.filter((name) => factColumns[name].set === set)
}

const noFacts: SignalFacts = {}
const isDeviceNotation = (name: NotationName | DeviceNotationName): name is DeviceNotationName =>
  name in deviceNotations

interface Look {
  readonly notation: NotationName | ''
  readonly second: NotationName | DeviceNotationName | ''
  readonly set: ColumnSet
}

/** Facts are written out only for the set of columns that is shown. */
export function ledgerRows(
  derived: Derived,
  notation: Look['notation'] = '',
  second: Look['second'] = '',
  set: ColumnSet = 'addressing',
): LedgerRow[] {
  const look = { notation, second, set }
  const stations = derived.controllers.flatMap(({ networks }) =>
    networks.flatMap((network) => network.stations),
  )
  const rows = stations.flatMap((view) => rowsOfStation(derived, view, look))
  const written = writer(set)
  for (const { id, tag, comment, terminal, facts } of Object.values(derived.plan.unplaced)) {
    rows.push({
      ...blankRow(id),
      signalId: id,
      kind: facts.kind ?? '',
      terminal,
      tag,
      comment,
      facts,
      ...written?.(facts),
    })
  }
  return rows
}

/** What is wrong with a tag by itself or beside others, in words; `doubled` are the identities that
 *  the checks found more than once. */
export function wordTagFault(
  tag: string,
  project: ProjectRow,
  doubled: ReadonlySet<string>,
): string | null {
  if (tag === '') return null
  const isDoubled = doubled.has(tagIdentity(tag))
  return tagFault(tag, project) ?? (isDoubled ? 'the tag stands more than once' : null)
}

/** Identities of the tags that the checks found more than once. */
export const doubledTags = (findings: readonly Finding[]): ReadonlySet<string> =>
  new Set(
    findings
      .filter(({ code }) => code === 'tag.duplicate')
      .map(({ facts }) => tagIdentity((facts as { tag: string }).tag)),
  )

/** A row without a channel and without a signal yet. */
export function blankRow(key: string): LedgerRow {
  return {
    key,
    signalId: null,
    place: null,
    listed: null,
    station: 'no channel',
    slot: '',
    module: '',
    channel: '',
    kind: '',
    type: '',
    address: '',
    address2: '',
    range: '',
    rangeSource: '',
    terminal: '',
    tag: '',
    comment: '',
    facts: noFacts,
  }
}

type Written = Partial<Record<FactName, string>>
/** Null where the set shows no facts. */
function writer(set: ColumnSet): ((facts: SignalFacts) => Written) | null {
  const shown = columnSets[set].columns.filter(isFact)
  if (shown.length === 0) return null
  return (facts) => Object.fromEntries(shown.map((name) => [name, factColumns[name].word(facts)]))
}

/** What the rows of a station are shown by. */
interface RowLook {
  readonly catalog: Catalog
  readonly project: ProjectRow
  readonly view: DerivedStation
  readonly notation: NotationName
  readonly second: Look['second']
  readonly written: ReturnType<typeof writer>
}

/** The row of a channel. Of a hundred thousand only those that are looked at say what they show. */
class ChannelRow implements LedgerRow {
  private ranged: Pick<LedgerRow, 'range' | 'rangeSource'> | undefined = undefined

  constructor(
    private readonly look: RowLook,
    readonly listed: StationChannel,
  ) {
    if (look.written) Object.assign(this, look.written(this.facts))
  }

  get key(): string {
    const { module, channel } = this.listed
    return `${module.id}/${placeText(channel)}`
  }
  get signalId(): string | null {
    return this.listed.signal?.id ?? null
  }
  get place(): SignalPlace {
    const { module, channel } = this.listed
    return { moduleId: module.id, ...placeOf(channel) }
  }
  get station(): string {
    return this.look.view.station.name
  }
  get slot(): string {
    return String(this.listed.module.slot)
  }
  get module(): string {
    return this.listed.module.described?.name ?? ''
  }
  get channel(): string {
    return this.listed.channel.name
  }
  get kind(): string {
    return kindOfChannel(this.listed.channel)
  }
  get type(): string {
    return this.listed.channel.type
  }
  get address(): string {
    return this.inImage(this.look.notation)
  }
  get address2(): string {
    const { second, view } = this.look
    if (second === '') return ''
    return isDeviceNotation(second)
      ? (deviceNotations[second]!.format(view, this.listed) ?? '')
      : this.inImage(second)
  }
  get range(): string {
    return this.inWords.range
  }
  get rangeSource(): string {
    return this.inWords.rangeSource
  }
  get terminal(): string {
    return this.listed.signal?.terminal ?? ''
  }
  get tag(): string {
    return this.listed.signal?.tag ?? ''
  }
  get comment(): string {
    return this.listed.signal?.comment ?? ''
  }
  get facts(): SignalFacts {
    return this.listed.signal?.facts ?? noFacts
  }

  private inImage(notation: NotationName): string {
    const place = channelAddress(this.listed.module, this.listed.channel)
    return place ? formatAddress(place, notation) : ''
  }
  private get inWords() {
    return (this.ranged ??= rangeOf(this.look, this.listed))
  }
}

/** What the rows of a station follow from, beside the station itself. */
const made = new WeakMap<
  DerivedStation,
  { readonly from: readonly unknown[]; readonly rows: readonly LedgerRow[] }
>()

/** The rows of a station; the same ones as long as nothing changes that they show, so that an edit
 *  makes few anew. */
function rowsOfStation(
  derived: Derived,
  view: DerivedStation,
  { notation, second, set }: Look,
): readonly LedgerRow[] {
  const shownNotation = notation || notationOf(derived.plan, view.station)
  const from = [derived.catalog, derived.plan.project, shownNotation, second, set]
  const known = made.get(view)
  if (known?.from.every((one, i) => one === from[i])) return known.rows
  const { catalog, plan } = derived
  const look = {
    ...{ catalog, view, second },
    project: plan.project,
    notation: shownNotation,
    written: writer(set),
  }
  const rows = Array.from(channelsOfStation(view), (listed) => new ChannelRow(look, listed))
  made.set(view, { from, rows })
  return rows
}

/** A module's parameter may say more than a range, such as a sensor of its maker's own; then its
 *  words stand. */
function rangeOf(
  { catalog, project }: Pick<RowLook, 'catalog' | 'project'>,
  { view, module, channel, signal }: StationChannel,
): Pick<LedgerRow, 'range' | 'rangeSource'> {
  const settings = settingsOf(catalog, view, module, channel, project.meanings)
  const found =
    channel.kind === 'analog'
      ? rangeOfChannel(settings, electricalOf(module.described), signal?.facts ?? noFacts)
      : null
  const words = settings.get('range')?.words
  if (words !== undefined) return { range: words, rangeSource: rangeSources.parameter }
  return found
    ? { range: wordRange(found.range), rangeSource: rangeSources[found.source] }
    : { range: '', rangeSource: '' }
}

/** What a filter asks of a row: words that stand anywhere in it, phrases in quotes that stand there
 *  as whole words, and what a field says: `slot 2`, `slot:2`, `comment:"pump 1"`. */
export function readFilter(text: string): (row: LedgerRow) => boolean {
  const pieces = text.toLowerCase().match(/[a-z]*:?"[^"]*"?|\S+/g) ?? []
  const tests: ((row: LedgerRow) => boolean)[] = []
  for (let i = 0; i < pieces.length; i++) {
    const piece = pieces[i]!
    const [, field, said] = /^([a-z]+):"?([^"]+)"?$/.exec(piece) ?? []
    if (piece === 'slot' && /^\d+$/.test(pieces[i + 1] ?? '')) {
      const wanted = pieces[++i]!
      tests.push(({ slot }) => slot === wanted)
    } else if (field !== undefined && isFilterField(field)) {
      const has = wholeWords(said!)
      tests.push((row) => has(String(row[field] ?? '')))
    } else if (piece.startsWith('"')) {
      const has = wholeWords(piece.replaceAll('"', ''))
      tests.push((row) => has(haystackOf(row)))
    } else tests.push((row) => haystackOf(row).includes(piece))
  }
  return (row) => tests.every((test) => test(row))
}

/** Columns that a filter can name, as they are headed. */
const filterFields = [
  'station',
  'slot',
  'module',
  'channel',
  'kind',
  'type',
  'address',
  'range',
  'terminal',
  'tag',
  'comment',
] as const
const isFilterField = (name: string): name is (typeof filterFields)[number] =>
  (filterFields as readonly string[]).includes(name)

/** Whether a phrase stands in a text and no letter or digit right beside it. */
function wholeWords(phrase: string): (text: string) => boolean {
  const wanted = phrase.trim().replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
  const shape = new RegExp(`(^|[^\\p{L}\\p{N}])${wanted}($|[^\\p{L}\\p{N}])`, 'iu')
  return (text) => shape.test(text)
}

/** Rows that a filter asks for. */
export function filterRows(rows: readonly LedgerRow[], text: string): readonly LedgerRow[] {
  return text.trim() === '' ? rows : rows.filter(readFilter(text))
}

const haystacks = new WeakMap<LedgerRow, string>()
/** All that a row says, written together once. */
export function haystackOf(row: LedgerRow): string {
  const known = haystacks.get(row)
  if (known !== undefined) return known
  const facts =
    Object.keys(row.facts).length > 0 ? factNames.map((name) => row[name] ?? '').join(' ') : ''
  const text =
    `${row.station} ${row.slot} ${row.module} ${row.channel} ${row.kind} ${row.type} ${row.address} ${row.address2} ${row.range} ${row.terminal} ${row.tag} ${row.comment} ${facts}${row.tag === '' ? ' free' : ''}`.toLowerCase()
  haystacks.set(row, text)
  return text
}

const inOrder = new Intl.Collator('en', { numeric: true })
/** Two rows by a column: numbers in texts by what they count, addresses by where they are, and what
 *  is empty behind the rest either way. */
export function compareRows(
  by: keyof LedgerRow,
  a: LedgerRow,
  b: LedgerRow,
  isDescending = false,
): number {
  const [one, other] = [String(a[by] ?? ''), String(b[by] ?? '')]
  if (one === '' || other === '') return Number(one === '') - Number(other === '')
  return (
    (by === 'address' ? bitOf(a) - bitOf(b) : inOrder.compare(one, other)) * (isDescending ? -1 : 1)
  )
}

/** Inputs before outputs, each from bit to bit. */
function bitOf({ listed }: LedgerRow): number {
  const place = listed && channelAddress(listed.module, listed.channel)
  return place ? (place.direction === 'in' ? 0 : 2 ** 32) + place.byte * 8 + place.bit : Infinity
}
