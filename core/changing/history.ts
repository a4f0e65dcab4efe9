import { oneOr, plural } from '../vocabulary/plural'
import { findDevice, findModule, type Catalog } from '../catalog/catalog'
import type { Command, CommandType, CommandOf } from '../plan/commands'
import { stationIdOf, type RowChange } from '../plan/draft'
import { entityParameters } from '../signals/entity'
import { factColumns, factNames } from '../signals/facts'
import type {
  AddressMap,
  Plan,
  Plugged,
  PortLinks,
  RowOf,
  SignalFacts,
  TableName,
} from '../plan/model'

/** A change in words, and the place it is about. */
export interface ChangeWords {
  readonly how: 'added' | 'removed' | 'changed'
  readonly kind: 'project' | 'controller' | 'network' | 'station' | 'module' | 'signal'
  readonly id: string
  /** The station it belongs to, where there is one. */
  readonly stationId: string | null
  readonly words: string
}

const kinds = {
  project: 'project',
  controllers: 'controller',
  networks: 'network',
  stations: 'station',
  modules: 'module',
  signals: 'signal',
} as const
const fieldWords: Readonly<Record<string, string>> = {
  name: 'name',
  position: 'place in the list',
  tagLength: 'longest tag',
  tagCase: 'letters of tags',
  reservedWords: 'reserved words',
  sparePercent: 'wanted spare',
  inputBytes: 'input bytes',
  outputBytes: 'output bytes',
  aligned: 'alignment',
  notation: 'notation',
  controllerIp: 'controller’s address',
  prefixLength: 'prefix length',
  networkId: 'network',
  ip: 'address',
  deviceNumber: 'number',
  file: 'description file',
  device: 'head',
  connection: 'connection',
  comment: 'comment',
  addresses: 'bytes',
  slot: 'slot',
  module: 'type',
  stationId: 'station',
  place: 'channel',
  plugged: 'subslots',
  links: 'links',
  ports: 'ports',
  feed: 'supply',
  secondFeed: 'second supply',
  sendsEveryS: 'how often it sends',
  outputVolts: 'output voltage',
  operationMode: 'operation mode',
  sharedWith: 'shared device',
  redundancy: 'redundancy',
  secondController: 'second controller',
  sameBothWays: 'same times both ways',
  isMulticast: 'multicast',
  canKbit: 'bit rate',
  ring: 'ring',
  ringManager: 'who watches over the ring',
  sendClockUs: 'send clock',
  inputRatio: 'reduction ratio of the inputs',
  outputRatio: 'reduction ratio of the outputs',
  watchdogFactor: 'watchdog factor',
  dataHoldFactor: 'data hold factor',
  bitRateKbit: 'bit rate',
  masterClass: 'class of the master',
  masterAddress: 'own address of the controller',
  watchdogMs: 'watchdog',
  cycleUs: 'cycle',
  railMm: 'rail length',
  packsBits: 'bits side by side',
  firstInput: 'first input byte',
  firstOutput: 'first output byte',
  reserveBytes: 'reserve in bytes',
  reservePercent: 'reserve in per cent',
  areas: 'areas',
  byteOrder: 'byte order',
  cable: 'cable',
  pool: 'pool',
  namePattern: 'name pattern',
  rolePattern: 'role pattern',
  tied: 'tied numbers',
  line: 'line settings',
  requestMs: 'request period',
  roleName: 'role name',
  switches: 'switches',
  orders: 'turned octets',
  values: 'parameters',
  iParameterSums: 'check sums of own parameters',
  monitored: 'times of fail-safe connections',
  startUp: 'start-up list',
  outputIntervalUs: 'requested interval of the outputs',
  inputIntervalUs: 'requested interval of the inputs',
  timeoutMultiplier: 'time-out multiplier',
  onLost: 'reaction on lost communication',
  alarmPrefix: 'prefix of alarms',
  safetyNetworkNumber: 'safety network number',
  safetyConfiguration: 'configuration signature',
  parameterSets: 'parameter sets',
  supplements: 'added sheets',
  safetyRelease: 'safety release',
  meanings: 'meanings of parameters',
  tag: 'tag',
  terminal: 'terminal',
  facts: 'facts',
  ownFormats: 'raw formats',
  moduleFormats: 'raw formats of modules',
  dataLayouts: 'data layouts',
  layouts: 'data layouts',
  identity: 'who it is',
  reported: 'reported devices',
}

/** One row's change as a person would tell it. `before` and `after` are the plans around it, for
 *  the names of what it refers to. */
export function wordChange(
  change: RowChange,
  before: Plan,
  after: Plan,
  catalog: Catalog,
): ChangeWords {
  const how = change.before === null ? 'added' : change.after === null ? 'removed' : 'changed'
  const plan = how === 'removed' ? before : after
  const row = (change.after ?? change.before) as RowOf[TableName]
  const stationId = change.table === 'project' ? null : stationOf(plan, change.table, row)
  const subject = subjects[change.table](row as never, plan, catalog)
  const fields = how === 'changed' ? changedFields(change, before, after, catalog) : []
  return {
    how,
    kind: kinds[change.table],
    id: change.id,
    stationId,
    words: how === 'changed' ? `${subject}: ${fields.join(', ')}` : `${subject} ${how}`,
  }
}

const nameOr = (name: string | undefined) => (name ? name : '(no name)')
const moduleWords = (row: RowOf['modules'], plan: Plan, catalog: Catalog) => {
  const station = plan.stations[row.stationId]?.station
  return {
    station: nameOr(station?.name),
    type: (station && findModule(catalog, station.file, row.module)?.name) ?? row.module,
  }
}

const subjects: Record<RowChange['table'], (row: never, plan: Plan, catalog: Catalog) => string> = {
  project: () => 'The project',
  controllers: ({ name }: RowOf['controllers']) => `Controller ${nameOr(name)}`,
  networks: ({ name }: RowOf['networks']) => `Network ${nameOr(name)}`,
  stations: ({ name }: RowOf['stations']) => `Station ${nameOr(name)}`,
  modules: (row: RowOf['modules'], plan, catalog) => {
    const { station, type } = moduleWords(row, plan, catalog)
    return `${station} · slot ${row.slot}: ${type}`
  },
  signals: ({ tag, comment, id }: RowOf['signals']) => `Signal ${tag || comment || id}`,
}

function changedFields(
  { before, after }: RowChange,
  planBefore: Plan,
  planAfter: Plan,
  catalog: Catalog,
): string[] {
  const [old, next] = [flat(before), flat(after)]
  return Object.keys(next)
    .filter((key) => JSON.stringify(old[key]) !== JSON.stringify(next[key]))
    .flatMap((key) =>
      key === 'facts'
        ? changedFacts(old[key] as SignalFacts, next[key] as SignalFacts)
        : [
            `${fieldWords[key] ?? key} ${wordValue(key, old, planBefore, catalog)} → ${wordValue(key, next, planAfter, catalog)}`,
          ],
    )
}

/** A row with its settings beside its other fields. */
function flat(row: object | null): Record<string, unknown> {
  const { settings, ...others } = row as Record<string, unknown>
  return { ...others, ...(settings as object | undefined) }
}

/** What changed of a signal's facts, as the Ledger's columns say it, and its entity parameters. */
function changedFacts(old: SignalFacts, next: SignalFacts): string[] {
  const said = (facts: SignalFacts) => [
    ...factNames.map((name) => [factColumns[name].heading, factColumns[name].word(facts)] as const),
    ...entityParameters.map(
      ([key, words, unit]) =>
        [words, facts.ex?.[key] === undefined ? '' : `${facts.ex[key]} ${unit}`] as const,
    ),
  ]
  const before = said(old)
  return said(next).flatMap(([heading, words], i) =>
    before[i]![1] === words ? [] : [`${heading} ${before[i]![1] || 'none'} → ${words || 'none'}`],
  )
}

function wordValue(
  key: string,
  row: Record<string, unknown>,
  plan: Plan,
  catalog: Catalog,
): string {
  const value = row[key]
  if (key === 'networkId') return nameOr(plan.networks[String(value)]?.name)
  if (key === 'stationId') return nameOr(plan.stations[String(value)]?.station.name)
  if (key === 'file')
    return catalog.get(String(value))?.family.product || `${String(value).slice(0, 8)}…`
  if (key === 'device')
    return findDevice(catalog, String(row['file']), String(value))?.name ?? String(value)
  if (key === 'module')
    return (
      findModule(
        catalog,
        plan.stations[String(row['stationId'])]?.station.file ?? '',
        String(value),
      )?.name ?? String(value)
    )
  if (key === 'addresses') return wordAddresses(value as AddressMap)
  if (key === 'plugged') return wordPlugged(value as Plugged, catalog)
  if (key === 'links') return wordLinks(value as PortLinks, plan)
  if (key === 'place')
    return value === null
      ? 'none'
      : wordPlace(value as { moduleId: string; offsetBits: number }, plan)
  if (typeof value === 'object' && value !== null) return wordParts(value)
  if (typeof value === 'boolean') return value ? 'on' : 'off'
  return value === '' || value === undefined || value === null ? 'none' : String(value)
}

function wordAddresses(addresses: AddressMap): string {
  const word = (
    name: string,
    byte: number | undefined,
    bit: number | undefined,
    fixed: true | undefined,
  ) =>
    byte === undefined
      ? []
      : [`${name} ${byte}${bit === undefined ? '' : `.${bit}`}${fixed ? ' fixed' : ''}`]
  const parts = Object.values(addresses).flatMap((one) => [
    ...word('in', one.in, one.inBit, one.inFixed),
    ...word('out', one.out, one.outBit, one.outFixed),
  ])
  return parts.join(' ') || 'none'
}

/** Settings with parts: each part with its value. */
function wordParts(value: object): string {
  const parts = Object.entries(value)
    .filter(([, part]) => part !== null && part !== '')
    .map(([name, part]) =>
      typeof part === 'object'
        ? `(${wordParts(part as object)})`
        : Array.isArray(value)
          ? String(part)
          : `${name} ${String(part)}`,
    )
  return parts.join(' ') || 'none'
}

function wordLinks(links: PortLinks, plan: Plan): string {
  const parts = Object.entries(links).map(
    ([port, { to }]) =>
      `${port}: port ${to.port} of ${nameOr(plan.stations[to.node]?.station.name ?? plan.networks[to.node]?.name)}`,
  )
  return parts.join(', ') || 'none'
}

function wordPlugged(plugged: Plugged, catalog: Catalog): string {
  const parts = Object.entries(plugged).map(
    ([subslot, { submodule, file, device, cycleUs }]) =>
      `${subslot}: ${[submodule, file === '' ? '' : (findDevice(catalog, file, device)?.name ?? device)].filter(Boolean).join(' with ')}${cycleUs === undefined ? '' : ` at ${cycleUs / 1000} ms`}`,
  )
  return parts.join(', ') || 'none'
}

function wordPlace(
  { moduleId, offsetBits }: { moduleId: string; offsetBits: number },
  plan: Plan,
): string {
  const stationId = stationIdOf(plan, moduleId)
  if (stationId === null) return 'a module that is gone'
  const { station, modules } = plan.stations[stationId]!
  return `${nameOr(station.name)} · slot ${modules[moduleId]?.slot ?? 0}, bit ${offsetBits}`
}

function stationOf(plan: Plan, table: TableName, row: RowOf[TableName]): string | null {
  if (table === 'stations') return row.id
  if (table === 'modules') return (row as RowOf['modules']).stationId
  const place = table === 'signals' ? (row as RowOf['signals']).place : null
  return place ? stationIdOf(plan, place.moduleId) : null
}

const many = (count: number, one: string) => oneOr(count, `a ${one}`, `${one}s`)
const commandWords: { [T in CommandType]: (command: CommandOf<T>) => string } = {
  setProject: () => 'Changed the project',
  addController: ({ name }) => `Added the controller ${name}`,
  updateController: () => 'Changed a controller',
  removeController: () => 'Removed a controller',
  addNetwork: ({ name }) => `Added the network ${name}`,
  updateNetwork: () => 'Changed a network',
  removeNetwork: () => 'Removed a network',
  addStation: ({ name }) => `Added ${name ? `the station ${name}` : 'a station'}`,
  updateStation: ({ set }) =>
    `Set ${Object.keys(flat(set))
      .map((key) => fieldWords[key] ?? key)
      .join(' and ')} of a station`,
  removeStation: () => 'Removed a station',
  copyStation: ({ copies }) => `Made ${oneOr(copies.length, 'a copy', 'copies')} of a station`,
  moveStations: ({ ids }) => `Moved ${many(ids.length, 'station')}`,
  replaceHead: () => 'Put a station on another head',
  insertModule: ({ slot }) => `Inserted a module in slot ${slot}`,
  moveModule: ({ slot }) => `Moved a module to slot ${slot}`,
  replaceModule: () => 'Replaced a module',
  removeModules: ({ ids }) => `Removed ${many(ids.length, 'module')}`,
  linkPorts: ({ links }) => `Linked ${oneOr(links.length, 'two ports', 'pairs of ports')}`,
  updateLinks: ({ edits }) => `Changed ${many(edits.length, 'link')}`,
  unlinkPorts: ({ ends }) => `Removed ${many(ends.length, 'link')}`,
  lineUp: () => 'Linked stations in a line',
  starOn: ({ stationIds }) => `Linked ${many(stationIds.length, 'station')} to one node`,
  closeRing: () => 'Closed a ring',
  openRing: () => 'Opened a ring',
  insertBetween: () => 'Put a station into a link',
  setPorts: ({ edits }) => `Set ${many(edits.length, 'port')}`,
  setFeeds: ({ edits }) =>
    `Set ${oneOr(edits.length, 'the supply of one part', 'supplies of parts')}`,
  setSubslot: ({ subslot }) => `Set subslot ${subslot} of a module`,
  setDeviceIdentities: ({ edits }) =>
    `Said who ${many(edits.length, 'device')} ${plural(edits.length, 'is', 'are')}`,
  setSendTimes: ({ edits }) =>
    `Set how often ${many(edits.length, 'device')} ${plural(edits.length, 'sends', 'send')}`,
  setReported: ({ reported }) =>
    reported === null
      ? 'Took away what a gateway reported'
      : `Entered ${oneOr(reported.length, 'the device', 'devices')} that a gateway reported`,
  setPort: ({ port }) => `Set port ${port}`,
  setAddress: ({ byte }) => `Set an address to byte ${byte}`,
  repack: ({ tight }) =>
    `Gave data of a controller new addresses, ${tight ? 'as tight as can be' : 'in the order of the slots'}`,
  setByteOrder: ({ values }) => `Turned the octets of ${many(values.length, 'value')}`,
  setParameters: ({ edits }) =>
    `Set ${oneOr(edits.length, `the parameter ${edits[0]?.parameter}`, 'parameters')}`,
  copyParameters: ({ moduleIds }) => `Put parameters on ${many(moduleIds.length, 'module')}`,
  setMonitoredTimes: () => 'Set the times of a fail-safe connection',
  setIParameterSum: ({ crc }) =>
    crc === null
      ? 'Took away the check sum of own parameters'
      : 'Entered the check sum of own parameters',
  setSafetyConfiguration: ({ signature }) =>
    signature === '' ? 'Took away a configuration signature' : 'Entered a configuration signature',
  setDataLayout: ({ layout }) =>
    layout ? `Set the data layout ${layout.name}` : 'Removed a data layout',
  useDataLayout: ({ layout }) =>
    layout
      ? 'Chose a data layout'
      : layout === ''
        ? 'Left data as described'
        : 'Left data as their type has them',
  readdress: () => 'Gave a module new bytes',
  removeSignals: ({ ids }) => `Removed ${many(ids.length, 'signal')}`,
  editSignals: ({ edits }) => `Edited ${many(edits.length, 'signal')}`,
}

/** What somebody did, in a few words for the list of changes. */
export function wordCommand(command: Command): string {
  return command.type === 'batch'
    ? command.label
    : (commandWords[command.type] as (command: Command) => string)(command)
}
