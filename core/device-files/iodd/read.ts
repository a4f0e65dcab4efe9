import { blankFile, makeDevice, makeSubmodule, noLimits } from '../../catalog/blank'
import type { Device } from '../../catalog/model'
import type { Problem } from '../../vocabulary/problem'
import type { FormatReading, ReadOptions } from '../format'
import { child, listed, readXmlRecords, type XmlElement } from '../xml-records'
import { chosenLayout, readLayout } from './process-data'
import { Reading } from './reading'

/** Namespaces of the format's editions. */
const editions: readonly (readonly [RegExp, string])[] = [
  [/IODD\/2010\/10/, '1.1'],
  [/IODD\/2009\/11/, '1.0.1'],
  [/IODD\/200[4-9]/, '1.0'],
]
/** Older files give the rate in baud (from memory). */
const rates: Readonly<Record<string, string>> = {
  '4800': 'COM1',
  '38400': 'COM2',
  '230400': 'COM3',
}

/** Reads an IODD file (IEC 61131-9, IODD specification 1.0.1 and 1.1, from memory): one device with
 *  all its variants. `readable` is false where the text is no IODD or was cut off. */
export function readIodd(
  text: string,
  _fileName: string,
  { language = null }: ReadOptions = {},
): FormatReading {
  const reading = new Reading(language)
  const failure = collect(reading, text)
  const { problems, edition, vendor, family, texts, diagnoses } = reading
  const about = { ...blankFile, format: 'iodd' as const, formatVersion: edition, vendor, family }
  if (failure) return { readable: false, file: { ...about, problems: [...problems.list, failure] } }
  settle(reading)
  const device = buildDevice(reading)
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    readable: reading.root === 'IODevice' && reading.deviceId !== null,
    file: {
      ...about,
      languages: texts.languages,
      devices: [device],
      diagnoses,
      problems: problems.list,
    },
  }
}

function collect(reading: Reading, text: string): Problem | null {
  const { problems, datatypes, variables, menus, texts, layouts } = reading
  return readXmlRecords(text, {
    problems,
    shared: new Set(['SimpleDatatype', 'Datatype']),
    records: {
      DeviceIdentity: (element) => readIdentity(reading, element),
      Datatype: (element) => datatypes.define(element),
      Variable: (element) => variables.read(element),
      StdVariableRef: (element) => variables.readStandard(element),
      ProcessData: (element) => layouts.push(readLayout(reading, element)),
      Event: (element) => readEvent(reading, element),
      Menu: (element) => menus.read(element),
      SpecialistRoleMenuSet: (element) => menus.readRoots(element),
      PhysicalLayer: (element) => readLayer(reading, element),
      Text: (element) => texts.readText(element),
    },
    outside: (element) => readOutside(reading, element),
  })
}

/** Elements that hold others: the root, whose namespaces say the edition, and languages. */
function readOutside(reading: Reading, element: XmlElement): void {
  const { name } = element
  if (reading.root === '') {
    reading.root = name
    const namespaces = Object.values(element.attributes).join(' ')
    reading.edition = editions.find(([pattern]) => pattern.test(namespaces))?.[1] ?? null
    if (name !== 'IODevice')
      reading.problems.error(
        'iodd.root',
        `The file begins with <${name}>; an IODD file begins with <IODevice>.`,
        element,
      )
  }
  if (name === 'PrimaryLanguage' || name === 'Language')
    reading.texts.enterLanguage(element.attributes['xml:lang'] ?? null, name === 'PrimaryLanguage')
}

function readIdentity(reading: Reading, element: XmlElement): void {
  const { vendor, family, names, variants, attributes, texts } = reading
  vendor.id = attributes.required(element, 'vendorId', [0, 65_535])
  vendor.name = element.attributes['vendorName'] ?? ''
  reading.deviceId = attributes.required(element, 'deviceId', [0, 0xffffff])
  texts.want(names, 'name', child(element, 'DeviceName')?.attributes['textId'], element)
  texts.want(family, 'product', child(element, 'DeviceFamily')?.attributes['textId'], element)
  texts.want(names, 'info', child(element, 'VendorText')?.attributes['textId'], element)
  for (const variant of listed(element, 'DeviceVariantCollection', 'DeviceVariant')) {
    const made = { productId: variant.attributes['productId'] ?? '', name: '' }
    const name = child(variant, 'Name') ?? child(variant, 'ProductName')
    texts.want(made, 'name', name?.attributes['textId'], variant)
    variants.push(made)
  }
}

function readEvent(reading: Reading, element: XmlElement): void {
  const { attributes, texts, diagnoses } = reading
  const event = {
    kind: 'event' as const,
    code: attributes.required(element, 'code', [0, 65_535]),
    name: '',
    help: '',
  }
  texts.want(event, 'name', child(element, 'Name')?.attributes['textId'], element)
  texts.want(event, 'help', child(element, 'Description')?.attributes['textId'], element)
  diagnoses.push(event)
}

function readLayer(reading: Reading, element: XmlElement): void {
  const { attributes } = reading
  const rate = element.attributes['bitrate'] ?? element.attributes['baudrate'] ?? null
  reading.layer = {
    transmissionRate: rate === null ? null : (rates[rate] ?? rate),
    minCycleTimeUs: attributes.number(element, 'minCycleTime'),
    mSequenceCapability: attributes.number(element, 'mSequenceCapability', [0, 255]),
    hasSioMode: attributes.boolean(element, 'sioSupported'),
  }
}

function settle({ root, deviceId, problems, texts, menus, variables }: Reading): void {
  if (deviceId === null && root === 'IODevice')
    problems.error('iodd.identity', 'The file has no DeviceIdentity; it is needed.', {
      line: 1,
      column: 1,
    })
  texts.settle()
  menus.settle(variables.records)
}

/** The one device of the file, with all its variants. */
function buildDevice(reading: Reading): Device {
  const { names, variants, vendor, layer, layouts, variables } = reading
  const deviceId = reading.deviceId ?? 0
  const layout = chosenLayout(reading)
  const submodules = layout
    ? [
        makeSubmodule({
          key: 'process-data',
          name: 'Process data',
          inputBytes: layout.inputBytes,
          outputBytes: layout.outputBytes,
          inputs: layout.inputs,
          outputs: layout.outputs,
        }),
      ]
    : []
  return makeDevice({
    key: String(deviceId),
    name: names.name,
    info: names.info,
    orderNumber: variants[0]?.productId ?? null,
    protocol: 'io-link',
    identity: { 'io-link': { vendorId: vendor.id ?? 0, deviceId } },
    limits: {
      ...noLimits,
      inputBytes: layout?.inputBytes ?? 0,
      outputBytes: layout?.outputBytes ?? 0,
    },
    submodules,
    parameters: variables.records,
    variants,
    ioLink: { ...layer, layouts },
  })
}
