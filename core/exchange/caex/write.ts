import { formatAddress } from '../../addressing/notations'
import { kindOfChannel } from '../../catalog/words'
import type { Channel } from '../../catalog/layout'
import {
  channelAddress,
  signalOn,
  type Derived,
  type DerivedController,
  type DerivedModule,
  type DerivedNetwork,
  type DerivedStation,
} from '../../derive/derive'
import type { SignalRow } from '../../plan/model'
import { kindOf } from '../../protocols/registry'
import { controllerIpOf, ipOf } from '../../protocols/settings'
import { factColumns, factNames } from '../../signals/facts'
import { isEmpty } from '../../vocabulary/records'
import { wordsOfOrigin, type Origin } from '../origin'
import { typeOfChannel, wordType } from '../programs/types'
import { Utf8Writer } from '../utf8-writer'
import { noMoment, xmlDeclaration, xmlText } from '../xml'
import { partsOf, uuidOf } from './identifiers'
import { classOf, libraries, roleOf } from './libraries'

export const caexNamespace = 'http://www.dke.de/CAEX'

const attribute = (name: string, value: string | number, type = 'xs:string') =>
  value === ''
    ? ''
    : `<Attribute Name="${name}" AttributeDataType="${type}"><Value>${typeof value === 'number' ? value : xmlText(value)}</Value></Attribute>`
const integer = (name: string, value: number) => attribute(name, value, 'xs:int')
const element = (name: string, id: string) => `<InternalElement Name="${xmlText(name)}" ID="${id}">`
const endOf = (role: Parameters<typeof roleOf>[0]) => `${roleOf(role)}</InternalElement>\n`
const described = (text: string) =>
  text === '' ? '' : `<Description>${xmlText(text)}</Description>`

const ioType = { in: 'Input', out: 'Output' } as const

/** The plan as CAEX 3.0 (IEC 62424:2016) with the roles and interfaces of IEC 62714: controllers with
 *  their tag tables, networks, stations, modules, channels, and which tag is on which channel. Names
 *  of roles, interfaces and attributes from memory. */
export function writeCaex(derived: Derived, origin: Origin): Uint8Array {
  const { project, unplaced } = derived.plan
  const name = xmlText(project.name)
  const ids = (rowId: string) => uuidOf(project.id, rowId)
  const links: string[] = []
  const file = new Utf8Writer()
  file.add(xmlDeclaration)
  file.add(
    `<CAEXFile xmlns="${caexNamespace}" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" SchemaVersion="3.0" FileName="${name}.aml">\n`,
  )
  file.add('<SuperiorStandardVersion>AutomationML 2.10</SuperiorStandardVersion>\n')
  file.add(
    `<SourceDocumentInformation OriginName="Kataxis" OriginID="kataxis" OriginVersion="1" OriginRelease="revision ${origin.revision}" LastWritingDateTime="${xmlText(origin.at ?? noMoment)}" OriginProjectTitle="${name}" OriginProjectID="${xmlText(project.id)}"/>\n`,
  )
  file.add(`<InstanceHierarchy Name="${name}"><Version>${origin.revision}</Version>\n`)
  file.add(`${element(project.name, ids('project'))}${described(wordsOfOrigin(origin).join(', '))}`)
  file.add(
    `${integer('Revision', origin.revision)}${attribute('SafetySignature', origin.safetySignature ?? '')}${attribute('Draft', String(origin.blockers > 0), 'xs:boolean')}\n`,
  )
  for (const { networks } of derived.controllers)
    for (const band of networks) file.add(subnetText(band, ids))
  for (const one of derived.controllers) addController(file, derived, one, ids, links)
  for (const { networks } of derived.controllers)
    for (const { network, stations } of networks)
      for (const view of stations) file.add(stationText(view, network.id, ids, links))
  const waiting = Object.values(unplaced)
  if (waiting.length > 0) {
    file.add(`${element('Signals without a channel', ids('unplaced'))}\n`)
    for (const signal of waiting) file.add(tagText(signal, ids(signal.id), null, null))
    file.add(endOf('TagTable'))
  }
  for (const link of links) file.add(link)
  file.add(`${endOf('AutomationProject')}</InstanceHierarchy>\n${libraries}</CAEXFile>\n`)
  return file.finish()
}

type Ids = (rowId: string) => string

const endPoint = (id: string) =>
  `<ExternalInterface Name="LogicalEndPoint" ID="${id}" ${classOf('LogicalEndPoint')}/>`
const endPointOf = (id: string) => partsOf(id, 'other')(0)

function subnetText({ network }: DerivedNetwork, ids: Ids): string {
  const id = ids(network.id)
  return `${element(network.name, id)}${attribute('Type', kindOf(network).name)}${endPoint(endPointOf(id))}${endOf('Subnet')}`
}

/** A device's interface on a network: the address it has there, joined with the network. */
function interfaceText(
  owner: string,
  networkId: string,
  address: string,
  ids: Ids,
  links: string[],
): string {
  const [own, node] = [ids(`${owner}/interface/${networkId}`), ids(`${owner}/node/${networkId}`)]
  links.push(
    `<InternalLink Name="Link ${links.length + 1}" RefPartnerSideA="${endPointOf(node)}" RefPartnerSideB="${endPointOf(ids(networkId))}"/>\n`,
  )
  return `${element('Interface', own)}${element('Node', node)}${attribute('NetworkAddress', address)}${endPoint(endPointOf(node))}${endOf('Node')}${endOf('CommunicationInterface')}`
}

function addController(
  file: Utf8Writer,
  derived: Derived,
  { controller, networks }: DerivedController,
  ids: Ids,
  links: string[],
): void {
  file.add(
    `${element(controller.name, ids(controller.id))}${integer('InputBytes', controller.inputBytes)}${integer('OutputBytes', controller.outputBytes)}\n`,
  )
  for (const { network } of networks)
    file.add(interfaceText(controller.id, network.id, controllerIpOf(network), ids, links))
  file.add(`${element('Tags', ids(`${controller.id}/tags`))}\n`)
  for (const { stations } of networks) {
    for (const view of stations) {
      for (const module of view.modules) {
        const channelId = partsOf(ids(module.id), 'channel')
        let number = 0
        for (const channel of module.layout?.channels ?? []) {
          const signal = signalOn(module, channel)
          if (signal) {
            const id = ids(signal.id)
            const place = channelAddress(module, channel)
            file.add(tagText(signal, id, channel, place && formatAddress(place, 'iec')))
            links.push(
              `<InternalLink Name="Link ${links.length + 1}" RefPartnerSideA="${id}" RefPartnerSideB="${channelId(number)}"/>\n`,
            )
          }
          number++
        }
      }
    }
  }
  file.add(`${endOf('TagTable')}${endOf('Device')}`)
}

function tagText(
  { tag, comment, terminal, facts }: SignalRow,
  id: string,
  channel: Channel | null,
  address: string | null,
): string {
  let text = `<ExternalInterface Name="${xmlText(tag)}" ID="${id}" ${classOf('Tag')}>`
  if (channel)
    text += `${attribute('DataType', wordType(typeOfChannel(channel)))}<Attribute Name="IoType" AttributeDataType="xs:string"><Value>${ioType[channel.direction]}</Value></Attribute>`
  if (address !== null) text += attribute('LogicalAddress', address)
  text += attribute('Comment', comment) + attribute('Terminal', terminal)
  if (!isEmpty(facts))
    for (const name of factNames)
      text += attribute(factColumns[name].heading, factColumns[name].word(facts))
  return `${text}</ExternalInterface>\n`
}

function stationText(view: DerivedStation, networkId: string, ids: Ids, links: string[]): string {
  const { device, station } = view
  const address = ipOf(station) || String(station.deviceNumber)
  let text = `${element(station.name, ids(`station/${station.id}`))}${described(station.comment)}${attribute('TypeIdentifier', typeIdentifier(device))}${integer('DeviceNumber', station.deviceNumber)}\n`
  for (const module of view.modules)
    text += moduleText(
      module,
      ids,
      module.row === null ? interfaceText(station.id, networkId, address, ids, links) : '',
    )
  return text + endOf('Device')
}

const typeIdentifier = (of: { orderNumber: string | null } | null) =>
  of?.orderNumber ? `OrderNumber:${of.orderNumber}` : ''

function moduleText(module: DerivedModule, ids: Ids, inside: string): string {
  const { id, slot, described: type, layout, addresses } = module
  const own = ids(id)
  let text = `${element(`${slot} ${type?.name ?? 'unknown'}`, own)}${attribute('TypeIdentifier', typeIdentifier(type))}${attribute('TypeName', type?.name ?? '')}${integer('PositionNumber', slot)}`
  const blocks = (layout?.blocks ?? []).flatMap(({ subslot, direction, bytes }) => {
    const start = addresses[subslot]?.[direction]
    return start === undefined ? [] : [{ start, bytes, direction }]
  })
  if (blocks.length > 0) {
    text += '<Attribute Name="Address">'
    for (const [i, { start, bytes, direction }] of blocks.entries())
      text += `<Attribute Name="${i + 1}">${integer('StartAddress', start)}${integer('Length', bytes * 8)}${attribute('IoType', ioType[direction])}</Attribute>`
    text += '</Attribute>'
  }
  text += '\n'
  const channelId = partsOf(own, 'channel')
  let number = 0
  for (const channel of layout?.channels ?? []) {
    const kind = kindOfChannel(channel)
    text += `<ExternalInterface Name="${number} ${xmlText(channel.name)}" ID="${channelId(number)}" ${classOf('Channel')}><Attribute Name="Type" AttributeDataType="xs:string"><Value>${channel.kind === 'analog' ? 'Analog' : 'Digital'}</Value></Attribute><Attribute Name="IoType" AttributeDataType="xs:string"><Value>${ioType[channel.direction]}</Value></Attribute>${attribute('Kind', kind)}<Attribute Name="Number" AttributeDataType="xs:int"><Value>${number}</Value></Attribute><Attribute Name="Length" AttributeDataType="xs:int"><Value>${channel.bits}</Value></Attribute></ExternalInterface>\n`
    number++
  }
  return `${text}${inside}${endOf('DeviceItem')}`
}
