import { blankFile } from '../../catalog/blank'
import type { DeviceFile } from '../../catalog/model'
import type { FormatReading } from '../format'
import { placeInMenus } from '../menus'
import { SourceText } from '../source-text'
import { buildDevice } from './build'
import { readConnection } from './connections'
import { readEntries, type Entry } from './entries'
import { addParameter, addTexts, menuOf } from './parameters'
import { Reading } from './reading'

/** Reads an EDS file of an EtherNet/IP device (CIP Vol. 1, ch. 7, from memory). Sections of makers
 *  stand apart and are not interpreted; `readable` is false where the text is no EDS or ends in the
 *  middle of an entry. */
export function readEds(text: string): FormatReading {
  const reading = new Reading()
  if (!collect(reading, text))
    return {
      readable: false,
      file: { ...blankFile, format: 'eds', problems: reading.problems.list },
    }
  settle(reading)
  return { readable: true, file: build(reading) }
}

/** Entries that stand more than once, numbered, by section and name. */
const readers: readonly {
  readonly section: string
  readonly name: RegExp
  readonly read: (reading: Reading, entry: Entry) => unknown
}[] = [
  { section: 'params', name: /^param\d+$/i, read: addParameter },
  {
    section: 'params',
    name: /^enum\d+$/i,
    read: ({ enumerations }, entry) => enumerations.push(entry),
  },
  {
    section: 'assembly',
    name: /^assem\d+$/i,
    read: ({ assemblies }, entry) => assemblies.add(entry),
  },
  { section: 'groups', name: /^group\d+$/i, read: ({ groups }, entry) => groups.push(entry) },
  {
    section: 'connection manager',
    name: /^connection\d+$/i,
    read: ({ connections }, entry) => connections.push(entry),
  },
]

/** False where the file is no EDS or was cut off. */
function collect(reading: Reading, text: string): boolean {
  const { problems, facts } = reading
  const unfinished = readEntries(new SourceText(text), problems, (entry) => {
    const { section, name } = entry
    if (section === 'device') reading.hasDevice = true
    const reader = readers.find((one) => one.section === section && one.name.test(name))
    if (reader) reader.read(reading, entry)
    else facts.set(`${section}/${name.toLowerCase()}`, entry)
  })
  if (unfinished) problems.error('eds.cut', unfinished.message, unfinished.at)
  else if (!reading.hasDevice)
    problems.error('eds.device', 'The file has no [Device] section; an EDS file must have one.', {
      line: 1,
      column: 1,
    })
  return !unfinished && reading.hasDevice
}

/** Puts in what stands apart from the parameters: texts, groups, and what assemblies are made of. */
function settle(reading: Reading): void {
  for (const entry of reading.enumerations) addTexts(reading, entry)
  const menus = reading.groups.map((entry) => menuOf(reading, entry))
  placeInMenus(menus, reading.problems, (number) => {
    const parameter = reading.parameters.get(`param${number}`)
    return parameter ? [parameter] : null
  })
  reading.assemblies.settle()
}

function build(reading: Reading): DeviceFile {
  const { problems } = reading
  const made = reading.connections.map((entry) => readConnection(reading, entry))
  const device = buildDevice(reading, made)
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    ...blankFile,
    format: 'eds',
    formatVersion: reading.text('file/revision'),
    vendor: {
      id: reading.number('device/vendcode'),
      name: reading.text('device/vendname') ?? '',
    },
    family: {
      main: reading.text('device/prodtypestr') ?? '',
      product: reading.text('device/prodname') ?? '',
    },
    devices: [device],
    problems: problems.list,
  }
}
