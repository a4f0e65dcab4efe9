import type { DictionaryObject, EthercatTraits, ParameterRecord } from '../../catalog/model'
import { parseOctets, toHex } from '../../vocabulary/hex'
import { child, children, listed, type XmlElement } from '../xml-records'
import { textOf } from './local-texts'
import type { Reading } from './reading'

/** CoE commands that the controller sends at state changes. */
export function initCommands(reading: Reading, owner: XmlElement): ParameterRecord[] {
  const { attributes, problems, texts } = reading
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

/** What a device or module takes from the backplane (E-bus), in mA. */
export function backplaneCurrent(reading: Reading, owner: XmlElement): number | null {
  return reading.attributes.content(
    child(child(child(owner, 'Info'), 'Electrical'), 'EBusCurrent'),
    [-1e6, 1e6],
  )
}

/** What only EtherCAT devices have: sync managers, distributed clocks, mailbox, dictionary. */
export function traits(reading: Reading, element: XmlElement): EthercatTraits {
  const { attributes } = reading
  const slots = child(element, 'Slots')
  const dictionary = child(child(element, 'Profile'), 'Dictionary')
  return {
    physics: element.attributes['Physics'] ?? '',
    syncManagers: children(element, 'Sm').map((manager) => syncManager(reading, manager)),
    operationModes: listed(element, 'Dc', 'OpMode').map((mode) => operationMode(reading, mode)),
    mailboxProtocols: (child(element, 'Mailbox')?.children ?? [])
      .map(({ name }) => name)
      .filter((name) => /^[ACEFSV]oE$/.test(name)),
    slotPdoIncrement: attributes.number(slots, 'SlotPdoIncrement'),
    slotIndexIncrement: attributes.number(slots, 'SlotIndexIncrement'),
    objects:
      listed(dictionary, 'Objects', 'Object').length > 0
        ? dictionaryOf(reading, child(dictionary, 'Objects')!)
        : [],
  }
}

function syncManager({ attributes }: Reading, manager: XmlElement) {
  return {
    startAddress: attributes.number(manager, 'StartAddress', [0, 65_535]) ?? 0,
    controlByte: attributes.number(manager, 'ControlByte', [0, 255]) ?? 0,
    defaultBytes: attributes.number(manager, 'DefaultSize', [0, 65_535]),
    minBytes: attributes.number(manager, 'MinSize', [0, 65_535]),
    maxBytes: attributes.number(manager, 'MaxSize', [0, 65_535]),
    enabled: (attributes.number(manager, 'Enable', [0, 255]) ?? 1) !== 0,
    use: manager.text.trim(),
  }
}

function operationMode({ attributes, texts }: Reading, mode: XmlElement) {
  return {
    name: textOf(mode, 'Name') ?? '',
    info: texts.of(mode, 'Desc'),
    assignActivate: attributes.content(child(mode, 'AssignActivate'), [0, 65_535]) ?? 0,
    sync0CycleNs: attributes.content(child(mode, 'CycleTimeSync0')),
    sync0ShiftNs: attributes.content(child(mode, 'ShiftTimeSync0'), [-0x80000000, 0x7fffffff]),
  }
}

function dictionaryOf(reading: Reading, list: XmlElement): DictionaryObject[] {
  const { attributes, texts, dictionaries } = reading
  let read = dictionaries.get(list)
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
    dictionaries.set(list, read)
  }
  return read
}
