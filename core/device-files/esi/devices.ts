import { makeDevice, makeModule, noLimits } from '../../catalog/blank'
import type { Device, Slot } from '../../catalog/model'
import { child, children, type XmlElement } from '../xml-records'
import { writableObjects } from './dictionary'
import { hex, keyOf } from './numbers'
import type { Reading } from './reading'
import { readSlots } from './slots'
import { backplaneCurrent, initCommands, traits } from './traits'

export function readDevice(reading: Reading, element: XmlElement): void {
  const { problems, attributes, texts, pdos, vendor, hidden, devices } = reading
  const type = child(element, 'Type')
  if (!type) {
    problems.error('attribute.missing', 'Device has no Type; it is needed.', element)
    return
  }
  const productCode = attributes.required(type, 'ProductCode')
  const revision = attributes.number(type, 'RevisionNo') ?? 0
  const key = reading.uniqueKey(keyOf(productCode, revision), element)
  for (const hide of children(element, 'HideType')) {
    const old = attributes.number(hide, 'RevisionNo')
    if (old !== null) hidden.add(keyOf(attributes.number(hide, 'ProductCode') ?? productCode, old))
  }
  const name = texts.of(element, 'Name')
  const wishes = readSlots(reading, child(element, 'Slots'))
  const slots: Slot[] = []
  const dictionary = writableObjects(reading, element)
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
    parameters: initCommands(reading, element),
    currentMa: backplaneCurrent(reading, element),
    ethercat: traits(reading, element),
    ...(dictionary.length > 0 && { dictionary }),
  })
  devices.push({
    device,
    slots,
    wishes,
    group: groupElement ? { type: groupElement.text.trim(), at: groupElement.place } : null,
  })
}

export function readModule(reading: Reading, element: XmlElement): void {
  const { problems, attributes, texts, pdos, modules } = reading
  const type = child(element, 'Type')
  if (!type) {
    problems.error('attribute.missing', 'Module has no Type; it is needed.', element)
    return
  }
  const ident = attributes.required(type, 'ModuleIdent')
  const key = reading.uniqueKey(hex(ident), element)
  const name = texts.of(element, 'Name')
  const submodules = pdos.submodule(element, `${key}.pdos`, name)
  const dictionary = writableObjects(reading, element)
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
      parameters: initCommands(reading, element),
      ...(dictionary.length > 0 && { dictionary }),
      currentMa: backplaneCurrent(reading, element),
    }),
  })
}
