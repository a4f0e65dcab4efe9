import { makeModule } from '../../catalog/blank'
import type { Module } from '../../catalog/model'
import { child, children, type XmlElement } from '../xml-records'
import type { Reading } from './reading'
import { addSubslots } from './sockets'
import { builtIn, systemDefined } from './submodules'

export function readModule(reading: Reading, element: XmlElement): Module {
  const { attributes, categoryWishes } = reading
  const info = child(element, 'ModuleInfo')
  const built = builtIn(reading, element)
  const module = makeModule({
    key: reading.uniqueKey(element),
    name: '',
    orderNumber: valueOf(info, 'OrderNumber'),
    ident: attributes.required(element, 'ModuleIdentNumber'),
    inputBytes: built.reduce((sum, submodule) => sum + submodule.inputBytes, 0),
    outputBytes: built.reduce((sum, submodule) => sum + submodule.outputBytes, 0),
    submodules: child(element, 'SystemDefinedSubmoduleList')
      ? [...built, ...systemDefined(reading, element)]
      : built,
  })
  wantInfo(reading, module, info, element)
  const category = info?.attributes['CategoryRef']
  if (category !== undefined && info) categoryWishes.push({ target: module, id: category })
  addSubslots(reading, module, element)
  return module
}

/** Name and description of a head or module, from its ModuleInfo. */
export function wantInfo(
  reading: Reading,
  target: { name: string; info: string },
  info: XmlElement | undefined,
  owner: XmlElement,
): void {
  const { problems, texts } = reading
  const name = child(info, 'Name')
  const words = child(info, 'InfoText')
  if (!name)
    problems.error('name.missing', `${owner.name} has no ModuleInfo/Name; it is needed.`, owner)
  else texts.want(target, 'name', name.attributes['TextId'], name)
  if (words) texts.want(target, 'info', words.attributes['TextId'], words)
}

export function valueOf(info: XmlElement | undefined, name: string): string | null {
  return children(info, name)[0]?.attributes['Value'] ?? null
}
