import { makeDevice, blankFile, makeSubmodule, noLimits } from '../../catalog/blank'
import type {
  DataItem,
  Device,
  Diagnosis,
  IoLinkTraits,
  ProcessDataLayout,
} from '../../catalog/model'
import { Problems } from '../../vocabulary/problem'
import type { FormatReading, ReadOptions } from '../format'
import { Attributes } from '../xml-attributes'
import { child, listed, readXmlRecords, type XmlElement } from '../xml-records'
import { Texts } from '../xml-texts'
import { Datatypes } from './datatypes'
import { Menus } from './menus'
import { Variables } from './variables'

/** Process data are at most 32 octets each way (IO-Link interface specification 1.1). */
const mostBits = 256
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
  const problems = new Problems()
  const attributes = new Attributes(problems)
  const texts = new Texts(problems, language, { id: 'id', value: 'value' })
  const datatypes = new Datatypes(attributes, texts, problems)
  const variables = new Variables(attributes, datatypes, texts, problems)
  const menus = new Menus(attributes, texts, problems)
  const vendor = { id: null as number | null, name: '' }
  const family = { main: '', product: '' }
  const names = { name: '', info: '' }
  const variants: { productId: string; name: string }[] = []
  const diagnoses: Diagnosis[] = []
  const layouts: ProcessDataLayout[] = []
  let deviceId: number | null = null
  let edition: string | null = null
  let root = ''
  let layer: Omit<IoLinkTraits, 'layouts'> = {
    transmissionRate: null,
    minCycleTimeUs: null,
    mSequenceCapability: null,
    hasSioMode: false,
  }

  const failure = readXmlRecords(text, {
    problems,
    shared: new Set(['SimpleDatatype', 'Datatype']),
    records: {
      DeviceIdentity: readIdentity,
      Datatype: (element) => datatypes.define(element),
      Variable: (element) => variables.read(element),
      StdVariableRef: (element) => variables.readStandard(element),
      ProcessData: (element) => layouts.push(readLayout(element)),
      Event: readEvent,
      Menu: (element) => menus.read(element),
      SpecialistRoleMenuSet: (element) => menus.readRoots(element),
      PhysicalLayer: readLayer,
      Text: (element) => texts.readText(element),
    },
    outside: (element) => {
      if (root === '') {
        root = element.name
        const namespaces = Object.values(element.attributes).join(' ')
        edition = editions.find(([pattern]) => pattern.test(namespaces))?.[1] ?? null
        if (root !== 'IODevice')
          problems.error(
            'iodd.root',
            `The file begins with <${root}>; an IODD file begins with <IODevice>.`,
            element,
          )
      }
      if (element.name === 'PrimaryLanguage' || element.name === 'Language')
        texts.enterLanguage(
          element.attributes['xml:lang'] ?? null,
          element.name === 'PrimaryLanguage',
        )
    },
  })
  const about = { ...blankFile, format: 'iodd' as const, formatVersion: edition, vendor, family }
  if (failure) return { readable: false, file: { ...about, problems: [...problems.list, failure] } }
  if (deviceId === null && root === 'IODevice')
    problems.error('iodd.identity', 'The file has no DeviceIdentity; it is needed.', {
      line: 1,
      column: 1,
    })
  texts.settle()
  menus.settle(variables.records)
  const device = readDevice()
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  return {
    readable: root === 'IODevice' && deviceId !== null,
    file: {
      ...about,
      languages: texts.languages,
      devices: [device],
      diagnoses,
      problems: problems.list,
    },
  }

  function readIdentity(element: XmlElement): void {
    vendor.id = attributes.required(element, 'vendorId', [0, 65_535])
    vendor.name = element.attributes['vendorName'] ?? ''
    deviceId = attributes.required(element, 'deviceId', [0, 0xffffff])
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

  function readLayout(element: XmlElement): ProcessDataLayout {
    const condition = child(element, 'Condition')
    const [inputs, outputs] = (['ProcessDataIn', 'ProcessDataOut'] as const).map((name) =>
      readDirection(child(element, name)),
    ) as [Direction, Direction]
    return {
      condition: condition
        ? {
            variable: condition.attributes['variableId'] ?? '',
            subindex: attributes.number(condition, 'subindex', [0, 255]),
            value: attributes.required(condition, 'value'),
          }
        : null,
      inputBytes: inputs.bytes,
      outputBytes: outputs.bytes,
      inputs: inputs.items,
      outputs: outputs.items,
    }
  }

  function readDirection(element: XmlElement | undefined): Direction {
    if (!element) return { bytes: 0, items: [] }
    const bits = attributes.required(element, 'bitLength', [0, mostBits])
    const layout = datatypes.layoutOf(element, true)
    if (layout.bits > bits)
      problems.error(
        'iodd.length',
        `${element.name} has ${bits} bits; its datatype has ${layout.bits}.`,
        element,
      )
    const items = layout.fields.map((field): DataItem => {
      const item = {
        name: '',
        type: field.type,
        offsetBits: field.bitOffset,
        bits: field.bits,
        asBits: false,
        channels: [],
      }
      const name = (field.element && child(field.element, 'Name')) ?? child(element, 'Name')
      texts.want(item, 'name', name?.attributes['textId'], name ?? element)
      return item
    })
    return { bytes: Math.ceil(bits / 8), items }
  }

  function readEvent(element: XmlElement): void {
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

  function readLayer(element: XmlElement): void {
    const rate = element.attributes['bitrate'] ?? element.attributes['baudrate'] ?? null
    layer = {
      transmissionRate: rate === null ? null : (rates[rate] ?? rate),
      minCycleTimeUs: attributes.number(element, 'minCycleTime'),
      mSequenceCapability: attributes.number(element, 'mSequenceCapability', [0, 255]),
      hasSioMode: attributes.boolean(element, 'sioSupported'),
    }
  }

  function readDevice(): Device {
    const layout = chosenLayout()
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
      key: String(deviceId ?? 0),
      name: names.name,
      info: names.info,
      orderNumber: variants[0]?.productId ?? null,
      protocol: 'io-link',
      identity: { 'io-link': { vendorId: vendor.id ?? 0, deviceId: deviceId ?? 0 } },
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

  /** The layout whose condition the variables' default values meet, else one without a
   *  condition. */
  function chosenLayout(): ProcessDataLayout | undefined {
    const met = layouts.find(
      ({ condition }) =>
        condition &&
        variables.defaultValueOf(condition.variable, condition.subindex ?? 0) === condition.value,
    )
    const chosen = met ?? layouts.find(({ condition }) => condition === null)
    if (!chosen && layouts.length > 0)
      problems.warning(
        'iodd.condition',
        'No default value meets the condition of any process data; the first layout is shown.',
        { line: 1, column: 1 },
      )
    return chosen ?? layouts[0]
  }
}

interface Direction {
  readonly bytes: number
  readonly items: DataItem[]
}
