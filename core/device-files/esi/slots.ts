import type { Slot } from '../../catalog/model'
import { children, type XmlElement } from '../xml-records'
import { textOf } from './local-texts'
import { hex } from './numbers'
import type { Reading, SlotWish } from './reading'

const mostSlots = 4096

/** `Slot@MaxInstances` n makes n slots, from 1. */
export function readSlots(reading: Reading, list: XmlElement | undefined): SlotWish[] {
  const { attributes } = reading
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

/** The modules that a slot takes; each unknown one is told once. */
export function fillSlot(reading: Reading, { slot, idents, classes }: SlotWish): Slot {
  const { keys, problems, modules } = reading
  const allowed = new Set<string>()
  for (const { ident, at } of idents) {
    const key = hex(ident)
    if (keys.has(key)) allowed.add(key)
    else if (
      !problems.list.some(
        (known) =>
          known.code === 'reference.module' && known.line === at.line && known.column === at.column,
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
