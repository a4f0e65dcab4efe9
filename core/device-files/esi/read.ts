import { blankFile } from '../../catalog/blank'
import type { Device, DeviceFile } from '../../catalog/model'
import type { Problem } from '../../vocabulary/problem'
import type { FormatReading, ReadOptions } from '../format'
import { child, readXmlRecords, type XmlElement } from '../xml-records'
import { readDevice, readModule } from './devices'
import { textOf } from './local-texts'
import { Reading } from './reading'
import { fillSlot } from './slots'

/** Reads an ESI file (ETG.2000, from memory). `readable` is false where the text is no ESI or was
 *  cut off. */
export function readEsi(
  text: string,
  _fileName: string,
  { language = null }: ReadOptions = {},
): FormatReading {
  const reading = new Reading(language)
  const failure = collect(reading, text)
  const { problems, devices, modules, root, version, vendor } = reading
  const about = { ...blankFile, format: 'esi' as const, formatVersion: version, vendor }
  if (failure) return { readable: false, file: { ...about, problems: [...problems.list, failure] } }
  const settled = settle(reading)
  return {
    readable: root === 'EtherCATInfo' && (devices.length > 0 || modules.length > 0),
    file: { ...about, ...build(reading, settled) },
  }
}

function collect(reading: Reading, text: string): Problem | null {
  const { problems, attributes, texts, vendor, groups } = reading
  return readXmlRecords(text, {
    problems,
    withText: true,
    shared: new Set(['RxPdo', 'TxPdo', 'Sm', 'CoE', 'Objects', 'Object', 'DataTypes', 'OpMode']),
    records: {
      Vendor: (element) => {
        vendor.id = attributes.content(child(element, 'Id'))
        vendor.name = texts.of(element, 'Name')
      },
      Group: (element) => groups.set(textOf(element, 'Type') ?? '', texts.of(element, 'Name')),
      Device: (element) => readDevice(reading, element),
      Module: (element) => readModule(reading, element),
    },
    outside: (element) => readRoot(reading, element),
  })
}

function readRoot(reading: Reading, element: XmlElement): void {
  if (reading.root !== '') return
  reading.root = element.name
  reading.version = element.attributes['Version'] ?? null
  if (element.name !== 'EtherCATInfo')
    reading.problems.error(
      'esi.root',
      `The file begins with <${element.name}>; an ESI file begins with <EtherCATInfo>.`,
      element,
    )
}

/** The devices with the modules that their slots take, known now, and hidden where a newer revision
 *  hides them. */
function settle(reading: Reading): Device[] {
  const { problems, devices, modules, groups, hidden } = reading
  if (devices.length === 0 && modules.length === 0 && reading.root === 'EtherCATInfo')
    problems.error('esi.empty', 'The file describes no device and no module.', {
      line: 1,
      column: 1,
    })
  return devices.map(({ device, slots, wishes, group }) => {
    slots.push(...wishes.map((wish) => fillSlot(reading, wish)))
    if (group && !groups.has(group.type))
      problems.warning(
        'reference.group',
        `GroupType "${group.type}" is named here but does not stand in the file.`,
        group.at,
      )
    return hidden.has(device.key) ? { ...device, hidden: true } : device
  })
}

function build(
  { problems, devices, modules, groups, texts }: Reading,
  settled: readonly Device[],
): Pick<DeviceFile, 'family' | 'languages' | 'devices' | 'modules' | 'problems'> {
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  const group = devices[0]?.group?.type ?? ''
  return {
    family: { main: group, product: groups.get(group) ?? '' },
    languages: texts.languages,
    devices: settled,
    modules: modules.map(({ module }) => module),
    problems: problems.list,
  }
}
