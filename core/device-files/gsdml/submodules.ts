import type { Submodule } from '../../catalog/model'
import { child, listed, type XmlElement } from '../xml-records'
import type { Reading } from './reading'

/** Subslots that one submodule is built into at once. */
const maxBuiltIn = 1000

/** Submodules that are part of their owner. */
export function builtIn(reading: Reading, owner: XmlElement): Submodule[] {
  const { attributes } = reading
  return listed(owner, 'VirtualSubmoduleList', 'VirtualSubmoduleItem').flatMap((element) => {
    const stated = attributes.list(element, 'FixedInSubslots')
    const subslots = stated ? reading.numbersOf(stated, element, maxBuiltIn) : [1]
    const submodule = readSubmodule(reading, element, 'SubmoduleIdentNumber', subslots[0] ?? 1)
    return [submodule, ...subslots.slice(1).map((subslot) => ({ ...submodule, subslot }))]
  })
}

/** Interface (default subslot 32768) and ports (from 32769). */
export function systemDefined(reading: Reading, owner: XmlElement): Submodule[] {
  const { attributes } = reading
  const list = child(owner, 'SystemDefinedSubmoduleList')
  return (list?.children ?? [])
    .filter(({ name }) => name === 'InterfaceSubmoduleItem' || name === 'PortSubmoduleItem')
    .map((element) =>
      readSubmodule(
        reading,
        element,
        'SubmoduleIdentNumber',
        attributes.number(element, 'SubslotNumber', [0, 65535]) ??
          (element.name === 'InterfaceSubmoduleItem' ? 32768 : 32769),
      ),
    )
}

/** A submodule; without `subslot` one that can be plugged. */
export function readSubmodule(
  reading: Reading,
  element: XmlElement,
  identAttribute: string,
  subslot: number | null = null,
): Submodule {
  const { attributes, texts, dataItems, records } = reading
  const io = child(element, 'IOData')
  const input = dataItems.read(child(io, 'Input'))
  const output = dataItems.read(child(io, 'Output'))
  const submodule = {
    key: subslot === null ? reading.uniqueKey(element) : attributes.key(element),
    name: '',
    subslot,
    ident: attributes.required(element, identAttribute),
    inputBytes: input.bytes,
    outputBytes: output.bytes,
    inputs: input.items,
    outputs: output.items,
    parameters: records.readList(element),
    safety: attributes.boolean(element, 'PROFIsafeSupported'),
  }
  const info = child(element, 'ModuleInfo')
  texts.want(
    submodule,
    'name',
    child(info, 'Name')?.attributes['TextId'] ?? element.attributes['TextId'],
    info ?? element,
  )
  return submodule
}
