import {
  networkSettingsEdit,
  networkSettingsFor,
  stationSettingsEdit,
  stationSettingsFor,
  type NetworkKindName,
} from '../protocols/registry'

/** Rows and commands as they were before networks and stations had settings of their kind: all that
 *  only some kinds have stood among the common fields, empty where it meant nothing. Whoever kept
 *  such a file or command can still bring it. */

type Fields = Readonly<Record<string, unknown>>

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

const settingsOf = { network: networkSettingsEdit.shape, station: stationSettingsEdit.shape }

/** The fields that are settings today, and the others. */
function apart(of: 'network' | 'station', fields: Fields): { flat: Fields; others: Fields } {
  const entries = Object.entries(fields)
  const isFlat = ([key]: [string, unknown]) => key in settingsOf[of]
  return {
    flat: Object.fromEntries(entries.filter(isFlat)),
    others: Object.fromEntries(entries.filter((entry) => !isFlat(entry))),
  }
}

function liftEdit(of: 'network' | 'station', fields: unknown, withEmpty: boolean): unknown {
  if (!isFields(fields)) return fields
  const { flat, others } = apart(of, fields)
  const told = Object.entries(flat).filter(([, value]) => withEmpty || value !== '')
  if (Object.keys(flat).length === 0) return fields
  const settings = isFields(others['settings']) ? others['settings'] : {}
  return told.length === 0
    ? others
    : { ...others, settings: { ...Object.fromEntries(told), ...settings } }
}

/** How each command said it. */
const lifts: Readonly<Record<string, (command: Fields) => unknown>> = {
  addNetwork: (command) => {
    const { flat, others } = apart('network', command)
    if (Object.keys(flat).length === 0) return command
    const kind = (command['kind'] ?? 'profinet') as NetworkKindName
    try {
      const { kind: _kind, ...settings } = networkSettingsFor(kind, flat)
      return { ...others, settings }
    } catch {
      return { ...others, settings: flat }
    }
  },
  updateNetwork: (command) => ({ ...command, set: liftEdit('network', command['set'], true) }),
  addStation: (command) => liftEdit('station', command, false),
  updateStation: (command) => ({ ...command, set: liftEdit('station', command['set'], true) }),
  copyStation: (command) =>
    Array.isArray(command['copies'])
      ? { ...command, copies: command['copies'].map((copy) => liftEdit('station', copy, false)) }
      : command,
  batch: (command) =>
    Array.isArray(command['commands'])
      ? { ...command, commands: command['commands'].map(liftCommand) }
      : command,
}

/** A command of whichever time in the words of today; what is none stays as it is. */
export function liftCommand(command: unknown): unknown {
  if (!isFields(command)) return command
  return lifts[String(command['type'])]?.(command) ?? command
}

/** The tables of a project file of whichever time in the words of today. Settings that a row's kind
 *  does not have meant nothing, and are left out. */
export function liftTables(file: Fields): Fields {
  const { networks, stations } = file
  if (!Array.isArray(networks) || !Array.isArray(stations)) return file
  const kinds = new Map<unknown, NetworkKindName>()
  const liftedNetworks = networks.map((row: unknown) => {
    if (!isFields(row)) return row
    if (isFields(row['settings'])) {
      kinds.set(row['id'], row['settings']['kind'] as NetworkKindName)
      return row
    }
    const { flat, others } = apart('network', row)
    const { kind = 'profinet', ...common } = others
    kinds.set(row['id'], kind as NetworkKindName)
    return { ...common, settings: liftedSettings('network', kind, flat) }
  })
  const liftedStations = stations.map((row: unknown) => {
    if (!isFields(row) || isFields(row['settings'])) return row
    const { flat, others } = apart('station', row)
    return {
      ...others,
      settings: liftedSettings('station', kinds.get(row['networkId']) ?? 'profinet', flat),
    }
  })
  return { ...file, networks: liftedNetworks, stations: liftedStations }
}

/** Settings of that kind; where they are wrong, as they stand, so that reading them says why. */
function liftedSettings(of: 'network' | 'station', kind: unknown, flat: Fields): object {
  const make = of === 'network' ? networkSettingsFor : stationSettingsFor
  try {
    return make(kind as NetworkKindName, flat)
  } catch {
    return { kind, ...flat }
  }
}
