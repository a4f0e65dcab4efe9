import { blankFile } from '../../catalog/blank'
import type { Diagnosis, DeviceFile } from '../../catalog/model'
import type { Problem } from '../../vocabulary/problem'
import type { FormatReading, ReadOptions } from '../format'
import { child, readXmlRecords, type XmlElement } from '../xml-records'
import { readAccessPoint } from './access-points'
import { readModule } from './modules'
import { Reading } from './reading'
import { fillSocket } from './sockets'
import { readSubmodule } from './submodules'

/** Reads a GSDML file (ISO 15745-4, GSDML schema 2.x; clauses from memory). Problems carry line and
 *  column; `readable` is false where the text is no GSDML at all or was cut off. */
export function readGsdml(
  text: string,
  fileName: string,
  { language = null }: ReadOptions = {},
): FormatReading {
  const reading = new Reading(language)
  const failure = collect(reading, text)
  // What a broken file would have gone on to say is not known, so its open references are no errors
  // of their own.
  if (failure) return { readable: false, file: brokenFile(reading, failure) }
  settle(reading)
  return {
    readable: reading.identitySeen && reading.rootSeen === 'ISO15745Profile',
    file: build(reading, fileName),
  }
}

/** What each kind of element is read by. */
const readers: Readonly<Record<string, (reading: Reading, element: XmlElement) => void>> = {
  DeviceIdentity: readIdentity,
  Family: ({ family }, { attributes }) => {
    family.main = attributes['MainFamily'] ?? ''
    family.product = attributes['ProductFamily'] ?? ''
  },
  DeviceAccessPointItem: (reading, element) =>
    reading.devices.push(readAccessPoint(reading, element)),
  ModuleItem: (reading, element) => reading.modules.push(readModule(reading, element)),
  SubmoduleItem: readPluggable,
  PortSubmoduleItem: readPluggable,
  ValueItem: ({ records }, element) => records.readValueItem(element),
  CategoryItem: readCategory,
  ChannelDiagItem: (reading, element) => readDiagnosis(reading, element, 'channel', 'ErrorType'),
  UnitDiagTypeItem: (reading, element) =>
    readDiagnosis(reading, element, 'unit', 'UserStructureIdentifier'),
  GraphicItem: ({ pictures, attributes }, element) =>
    pictures.set(attributes.key(element), element.attributes['GraphicFile'] ?? ''),
  Text: ({ texts }, element) => texts.readText(element),
}

function collect(reading: Reading, text: string): Problem | null {
  return readXmlRecords(text, {
    problems: reading.problems,
    shared: new Set(['Input', 'Output', 'RecordDataList']),
    records: Object.fromEntries(
      Object.entries(readers).map(([name, read]) => [
        name,
        (element: XmlElement) => read(reading, element),
      ]),
    ),
    outside: (element) => readOutside(reading, element),
  })
}

function readIdentity(reading: Reading, element: XmlElement): void {
  const { attributes, vendor } = reading
  reading.identitySeen = true
  vendor.id = attributes.required(element, 'VendorID', [0, 65535])
  reading.deviceId = attributes.required(element, 'DeviceID', [0, 65535])
  vendor.name = child(element, 'VendorName')?.attributes['Value'] ?? ''
}

function readPluggable(reading: Reading, element: XmlElement): void {
  reading.submodules.push(readSubmodule(reading, element, 'SubmoduleIdentNumber'))
}

function readCategory({ attributes, texts, categories }: Reading, element: XmlElement): void {
  const category = { name: '' }
  texts.want(category, 'name', element.attributes['TextId'], element)
  categories.set(attributes.key(element), category)
}

function readDiagnosis(
  reading: Reading,
  element: XmlElement,
  kind: Diagnosis['kind'],
  codeAttribute: string,
): void {
  const { attributes, texts, diagnoses } = reading
  const diagnosis = {
    kind,
    code: attributes.required(element, codeAttribute),
    name: '',
    help: '',
  }
  for (const [property, name] of [
    ['name', 'Name'],
    ['help', 'Help'],
  ] as const)
    texts.want(diagnosis, property, child(element, name)?.attributes['TextId'], element)
  diagnoses.push(diagnosis)
}

/** Elements that hold others: the root, which says the version, and languages. */
function readOutside(reading: Reading, element: XmlElement): void {
  const { name } = element
  if (reading.rootSeen === '') {
    reading.rootSeen = name
    if (name !== 'ISO15745Profile')
      reading.problems.error(
        'gsdml.root',
        `The file begins with <${name}>; a GSDML file begins with <ISO15745Profile>.`,
        element,
      )
  }
  if (name === 'PrimaryLanguage' || name === 'Language')
    reading.texts.enterLanguage(element.attributes['xml:lang'] ?? null, name === 'PrimaryLanguage')
  const schema = /GSDML-DeviceProfile-v([\d.]+)\.xsd/i.exec(
    element.attributes['xsi:schemaLocation'] ?? '',
  )
  if (schema) reading.profileVersion = schema[1]!
}

/** Puts in what stands elsewhere in the file than where it is referred to. */
function settle(reading: Reading): void {
  const { problems, pictures, categories, modules, submodules } = reading
  if (!reading.identitySeen && reading.rootSeen === 'ISO15745Profile')
    problems.error('gsdml.identity', 'The file has no DeviceIdentity; it is needed.', {
      line: 1,
      column: 1,
    })
  reading.texts.settle()
  reading.records.settle()
  for (const list of reading.pictureWishes)
    for (const [i, id] of list.entries()) list[i] = pictures.get(id) ?? id
  for (const { target, id } of reading.categoryWishes)
    target.category = categories.get(id)?.name ?? id
  const known = {
    slot: new Set(modules.map(({ key }) => key)),
    subslot: new Set(submodules.map(({ key }) => key)),
  }
  for (const socket of reading.sockets) fillSocket(socket, known[socket.kind], problems)
}

function build(reading: Reading, fileName: string): DeviceFile {
  const { problems, profileVersion } = reading
  const named = /^GSDML-V([\d.]+)-/i.exec(fileName)?.[1] ?? null
  if (named !== null && profileVersion !== null && Number(named) !== Number(profileVersion))
    problems.warning(
      'gsdml.filename',
      `The file name says schema ${named}, the content ${profileVersion}.`,
      { line: 1, column: 1 },
    )
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    format: 'gsdml',
    formatVersion: named ?? profileVersion,
    vendor: reading.vendor,
    family: reading.family,
    languages: reading.texts.languages,
    devices: reading.devices,
    modules: reading.modules,
    submodules: reading.submodules,
    diagnoses: reading.diagnoses,
    problems: problems.list,
  }
}

function brokenFile(
  { profileVersion, vendor, family, problems }: Reading,
  failure: Problem,
): DeviceFile {
  return {
    ...blankFile,
    format: 'gsdml',
    formatVersion: profileVersion,
    vendor,
    family,
    problems: [...problems.list, failure],
  }
}
