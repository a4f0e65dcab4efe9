import { makeDevice, blankFile, makeModule, noLimits } from '../../catalog/blank'
import type {
  Device,
  DictionaryObject,
  EthercatTraits,
  Module,
  ParameterRecord,
  Slot,
} from '../../catalog/model'
import { Problems, type Position } from '../../vocabulary/problem'
import type { FormatReading, ReadOptions } from '../format'
import { Attributes } from '../xml-attributes'
import { child, children, listed, readXmlRecords, type XmlElement } from '../xml-records'
import { LocalTexts, textOf } from './local-texts'
import { Pdos } from './pdos'
import { toHex, parseOctets } from '../../vocabulary'

/** What a slot takes, by number or by class, waiting until all modules are known. */
interface SlotWish {
  readonly slot: number
  readonly idents: readonly {
    readonly ident: number
    readonly isDefault: boolean
    readonly at: Position
  }[]
  readonly classes: readonly { readonly name: string; readonly at: Position }[]
}

const mostSlots = 4096

/** A whole number as ESI writes it: decimal or `#x…` (ETG.2000), `0x…` too. */
export function parseEsiNumber(text: string): number | null {
  const trimmed = text.trim()
  if (/^[+-]?\d+$/.test(trimmed)) return Number(trimmed)
  return /^[#0]x[0-9a-f]+$/i.test(trimmed) ? parseInt(trimmed.slice(2), 16) : null
}

/** Reads an ESI file (ETG.2000, from memory). `readable` is false where the text is no ESI or was
 *  cut off. */
export function readEsi(
  text: string,
  _fileName: string,
  { language = null }: ReadOptions = {},
): FormatReading {
  const problems = new Problems()
  const attributes = new Attributes(problems, parseEsiNumber)
  const texts = new LocalTexts(language)
  const pdos = new Pdos(attributes, texts)
  const vendor = { id: null as number | null, name: '' }
  const groups = new Map<string, string>()
  const devices: {
    device: Device
    slots: Slot[]
    wishes: SlotWish[]
    group: { type: string; at: Position } | null
  }[] = []
  const modules: { module: Module; class: string | null }[] = []
  const hidden = new Set<string>()
  const keys = new Set<string>()
  const objects = new WeakMap<XmlElement, DictionaryObject[]>()
  let version: string | null = null
  let root = ''

  const failure = readXmlRecords(text, {
    problems,
    withText: true,
    shared: new Set(['RxPdo', 'TxPdo', 'Sm', 'CoE', 'Objects', 'Object', 'DataTypes', 'OpMode']),
    records: {
      Vendor: (element) => {
        vendor.id = attributes.content(child(element, 'Id'))
        vendor.name = texts.of(element, 'Name')
      },
      Group: (element) => groups.set(textOf(element, 'Type') ?? '', texts.of(element, 'Name')),
      Device: (element) => readDevice(element),
      Module: (element) => readModule(element),
    },
    outside: (element) => {
      if (root !== '') return
      root = element.name
      version = element.attributes['Version'] ?? null
      if (root !== 'EtherCATInfo')
        problems.error(
          'esi.root',
          `The file begins with <${root}>; an ESI file begins with <EtherCATInfo>.`,
          element,
        )
    },
  })
  const about = { ...blankFile, format: 'esi' as const, formatVersion: version, vendor }
  if (failure) return { readable: false, file: { ...about, problems: [...problems.list, failure] } }
  if (devices.length === 0 && modules.length === 0 && root === 'EtherCATInfo')
    problems.error('esi.empty', 'The file describes no device and no module.', {
      line: 1,
      column: 1,
    })

  const settled = devices.map(({ device, slots, wishes, group }) => {
    slots.push(...wishes.map(fillSlot))
    if (group && !groups.has(group.type))
      problems.warning(
        'reference.group',
        `GroupType "${group.type}" is named here but does not stand in the file.`,
        group.at,
      )
    return hidden.has(device.key) ? { ...device, hidden: true } : device
  })
  problems.list.sort((a, b) => (a.line ?? 0) - (b.line ?? 0))
  const [first] = devices
  return {
    readable: root === 'EtherCATInfo' && (devices.length > 0 || modules.length > 0),
    file: {
      ...about,
      family: {
        main: first?.group?.type ?? '',
        product: groups.get(first?.group?.type ?? '') ?? '',
      },
      languages: texts.languages,
      devices: settled,
      modules: modules.map(({ module }) => module),
      problems: problems.list,
    },
  }

  function uniqueKey(key: string, element: XmlElement): string {
    if (keys.has(key))
      problems.error(
        'id.duplicate',
        `${element.name} ${key} stands more than once in the file.`,
        element,
      )
    keys.add(key)
    return key
  }

  function readDevice(element: XmlElement): void {
    const type = child(element, 'Type')
    if (!type) {
      problems.error('attribute.missing', 'Device has no Type; it is needed.', element)
      return
    }
    const productCode = attributes.required(type, 'ProductCode')
    const revision = attributes.number(type, 'RevisionNo') ?? 0
    const key = uniqueKey(keyOf(productCode, revision), element)
    for (const hide of children(element, 'HideType')) {
      const old = attributes.number(hide, 'RevisionNo')
      if (old !== null)
        hidden.add(keyOf(attributes.number(hide, 'ProductCode') ?? productCode, old))
    }
    const name = texts.of(element, 'Name')
    const wishes = readSlots(child(element, 'Slots'))
    const slots: Slot[] = []
    const groupElement = child(element, 'GroupType')
    const device: Device = makeDevice({
      key,
      name,
      orderNumber: type.text.trim() || null,
      firmware: hex(revision),
      protocol: 'ethercat',
      identity: { ethercat: { vendorId: vendor.id ?? 0, productCode, revision } },
      limits: {
        ...noLimits,
        modules: attributes.number(child(element, 'Slots'), 'MaxSlotCount') ?? wishes.length,
      },
      slots,
      submodules: pdos.submodule(element, `${key}.pdos`, name),
      parameters: initCommands(element),
      currentMa: backplaneCurrent(element),
      ethercat: traits(element),
    })
    devices.push({
      device,
      slots,
      wishes,
      group: groupElement ? { type: groupElement.text.trim(), at: groupElement.place } : null,
    })
  }

  function readModule(element: XmlElement): void {
    const type = child(element, 'Type')
    if (!type) {
      problems.error('attribute.missing', 'Module has no Type; it is needed.', element)
      return
    }
    const ident = attributes.required(type, 'ModuleIdent')
    const key = uniqueKey(hex(ident), element)
    const name = texts.of(element, 'Name')
    const submodules = pdos.submodule(element, `${key}.pdos`, name)
    const moduleClass = type.attributes['ModuleClass'] ?? null
    modules.push({
      class: moduleClass,
      module: makeModule({
        key,
        name,
        orderNumber: type.text.trim() || null,
        category: moduleClass,
        ident,
        inputBytes: submodules[0]?.inputBytes ?? 0,
        outputBytes: submodules[0]?.outputBytes ?? 0,
        submodules,
        parameters: initCommands(element),
        currentMa: backplaneCurrent(element),
      }),
    })
  }

  /** `Slot@MaxInstances` n makes n slots, from 1. */
  function readSlots(list: XmlElement | undefined): SlotWish[] {
    const most = attributes.number(list, 'MaxSlotCount', [0, mostSlots])
    const wishes: SlotWish[] = []
    for (const slot of children(list, 'Slot')) {
      const instances = attributes.number(slot, 'MaxInstances', [0, mostSlots]) ?? 1
      const idents = children(slot, 'ModuleIdent').map((element) => ({
        ident: attributes.content(element) ?? 0,
        isDefault: attributes.boolean(element, 'Default'),
        at: element.place,
      }))
      const classes = children(slot, 'ModuleClass').map((element) => ({
        name: textOf(element, 'Class') ?? element.text.trim(),
        at: element.place,
      }))
      for (let i = 0; i < instances && wishes.length < (most ?? mostSlots); i++)
        wishes.push({ slot: wishes.length + 1, idents, classes })
    }
    return wishes
  }

  function fillSlot({ slot, idents, classes }: SlotWish): Slot {
    const allowed = new Set<string>()
    for (const { ident, at } of idents) {
      const key = hex(ident)
      if (keys.has(key)) allowed.add(key)
      else if (
        !problems.list.some(
          (known) =>
            known.code === 'reference.module' &&
            known.line === at.line &&
            known.column === at.column,
        )
      ) {
        problems.error(
          'reference.module',
          `ModuleIdent ${key} is named here but does not stand in the file.`,
          at,
        )
      }
    }
    for (const { name } of classes)
      for (const { module, class: own } of modules) if (own === name) allowed.add(module.key)
    const standard = idents.find(({ ident, isDefault }) => isDefault && keys.has(hex(ident)))
    return {
      slot,
      fixed: null,
      default: standard ? hex(standard.ident) : null,
      allowed: [...allowed],
    }
  }

  /** CoE commands that the controller sends at state changes. */
  function initCommands(owner: XmlElement): ParameterRecord[] {
    return listed(child(owner, 'Mailbox'), 'CoE', 'InitCmd').map((command) => {
      const data = textOf(command, 'Data') ?? ''
      const octets = parseOctets(data)
      if (!octets)
        problems.error(
          'esi.data',
          `InitCmd has the data "${data}"; octets in hex are needed.`,
          child(command, 'Data') ?? command,
        )
      const index = child(command, 'Index')
      return {
        index: attributes.content(index, [0, 65_535]),
        subindex: attributes.content(child(command, 'SubIndex'), [0, 255]) ?? 0,
        transitions: children(command, 'Transition').map((transition) => transition.text.trim()),
        dependsOnSlot: attributes.boolean(index, 'DependOnSlot'),
        name: texts.of(command, 'Comment'),
        length: octets?.length ?? 0,
        bytes: toHex(octets ?? new Uint8Array()),
        parameters: [],
      }
    })
  }

  function backplaneCurrent(owner: XmlElement): number | null {
    return attributes.content(
      child(child(child(owner, 'Info'), 'Electrical'), 'EBusCurrent'),
      [-1e6, 1e6],
    )
  }

  function traits(element: XmlElement): EthercatTraits {
    const slots = child(element, 'Slots')
    const mailbox = child(element, 'Mailbox')
    const dictionary = child(child(element, 'Profile'), 'Dictionary')
    return {
      physics: element.attributes['Physics'] ?? '',
      syncManagers: children(element, 'Sm').map((manager) => ({
        startAddress: attributes.number(manager, 'StartAddress', [0, 65_535]) ?? 0,
        controlByte: attributes.number(manager, 'ControlByte', [0, 255]) ?? 0,
        defaultBytes: attributes.number(manager, 'DefaultSize', [0, 65_535]),
        minBytes: attributes.number(manager, 'MinSize', [0, 65_535]),
        maxBytes: attributes.number(manager, 'MaxSize', [0, 65_535]),
        enabled: (attributes.number(manager, 'Enable', [0, 255]) ?? 1) !== 0,
        use: manager.text.trim(),
      })),
      operationModes: listed(element, 'Dc', 'OpMode').map((mode) => ({
        name: textOf(mode, 'Name') ?? '',
        info: texts.of(mode, 'Desc'),
        assignActivate: attributes.content(child(mode, 'AssignActivate'), [0, 65_535]) ?? 0,
        sync0CycleNs: attributes.content(child(mode, 'CycleTimeSync0')),
        sync0ShiftNs: attributes.content(child(mode, 'ShiftTimeSync0'), [-0x80000000, 0x7fffffff]),
      })),
      mailboxProtocols: (mailbox?.children ?? [])
        .map(({ name }) => name)
        .filter((name) => /^[ACEFSV]oE$/.test(name)),
      slotPdoIncrement: attributes.number(slots, 'SlotPdoIncrement'),
      slotIndexIncrement: attributes.number(slots, 'SlotIndexIncrement'),
      objects:
        listed(dictionary, 'Objects', 'Object').length > 0
          ? dictionaryOf(child(dictionary, 'Objects')!)
          : [],
    }
  }

  function dictionaryOf(list: XmlElement): DictionaryObject[] {
    let read = objects.get(list)
    if (!read) {
      read = children(list, 'Object').map((object) => {
        const info = child(object, 'Info')
        return {
          index: attributes.content(child(object, 'Index'), [0, 65_535]) ?? 0,
          name: texts.of(object, 'Name'),
          type: textOf(object, 'Type') ?? '',
          bits: attributes.content(child(object, 'BitSize')),
          default:
            textOf(info, 'DefaultData') ??
            textOf(info, 'DefaultString') ??
            textOf(info, 'DefaultValue'),
          access: textOf(child(object, 'Flags'), 'Access') ?? '',
        }
      })
      objects.set(list, read)
    }
    return read
  }
}

function hex(value: number): string {
  return `0x${value.toString(16).padStart(8, '0')}`
}

function keyOf(productCode: number, revision: number): string {
  return `${hex(productCode)}.${hex(revision)}`
}
