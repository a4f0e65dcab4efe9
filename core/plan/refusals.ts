import { numbered, plural } from '../vocabulary/plural'
import type { Protocol } from '../catalog/model'
import { networkKinds, protocolTitle, type NetworkKindName } from '../protocols/registry'
import { wordFault, type PlanFault } from './validity'

/** Why a command was not carried out: a code, the facts, and one place for the wording. */
export type Refusal =
  | { code: 'row.missing'; what: string; id: string }
  | { code: 'id.taken'; id: string }
  | { code: 'slot.taken'; station: string; slot: number; by: string }
  | { code: 'slot.unknown'; station: string; slot: number; slots: string }
  | { code: 'slot.notAllowed'; station: string; slot: number; module: string; slots: string }
  | { code: 'slot.fixed'; station: string; slot: number; module: string }
  | { code: 'subslot.unknown'; subslot: number; module: string; subslots: string }
  | { code: 'subslot.notAllowed'; subslot: number; module: string; submodule: string }
  | { code: 'subslot.fixed'; subslot: number; module: string; submodule: string }
  | { code: 'port.none'; subslot: number; module: string }
  | { code: 'port.missing'; port: number; module: string }
  | { code: 'port.protocol'; device: string; protocol: Protocol }
  | { code: 'port.cycle'; ms: number; nextMs: number }
  | { code: 'slots.full'; station: string }
  | { code: 'file.missing'; file: string }
  | { code: 'device.missing'; device: string }
  | {
      code: 'device.protocol'
      device: string
      protocol: Protocol
      network: string
      kind: NetworkKindName
    }
  | {
      code: 'network.protocol'
      station: string
      kind: NetworkKindName
      network: string
      other: NetworkKindName
    }
  | { code: 'setting.strange'; setting: string; kind: NetworkKindName }
  | { code: 'switches.full'; network: string; device: string }
  | { code: 'numbers.full'; network: string; word: string }
  | { code: 'module.missing'; module: string }
  | { code: 'block.missing'; subslot: number; direction: 'in' | 'out' }
  | {
      code: 'image.full'
      controller: string
      direction: 'in' | 'out'
      bytes: number
      from: number
      to: number
    }
  | { code: 'address.bits'; module: string }
  | { code: 'address.slot'; station: string }
  | { code: 'pattern'; fault: string }
  | { code: 'channel.taken'; tag: string; place: string }
  | { code: 'channel.missing'; place: string }
  | { code: 'subnet.full'; network: string }
  | { code: 'parameter.unknown'; where: string; parameter: string }
  | { code: 'parameter.refused'; where: string; fault: string }
  | { code: 'parameter.computed'; where: string; parameter: string }
  | { code: 'safety.noSum'; where: string }
  | { code: 'safety.noConnection'; where: string }
  | { code: 'layout.noData'; name: string; key: string }
  | { code: 'layout.bytes'; name: string; bytes: number; has: number }
  | { code: 'layout.field'; name: string; fault: string }
  | { code: 'layout.twice'; name: string; other: string }
  | { code: 'link.self'; node: string }
  | { code: 'link.taken'; node: string; port: string; peer: string }
  | { code: 'link.noPort'; node: string; port: number; ports: number }
  | { code: 'link.full'; node: string }
  | { code: 'link.none'; node: string; port: number }
  | { code: 'link.media'; from: string; to: string }
  | { code: 'link.other'; node: string; network: string }
  | { code: 'feed.none'; node: string }
  | { code: 'feed.noSupply'; node: string }
  | { code: 'feed.noGroup'; module: string }
  | { code: 'feed.second'; node: string }
  | { code: 'feed.circle'; node: string }
  | { code: 'ring.none'; network: string; kind: NetworkKindName }
  | { code: 'ring.noEnd'; network: string }
  | { code: 'row.changed'; what: string; by: string }
  | { code: 'plan.invalid'; fault: PlanFault }
  | { code: 'change.tooLarge'; rows: number }
  | {
      code: 'undo.blocked'
      what: 'undo' | 'redo' | 'back'
      target: number
      reasons: string[]
      more: number
    }
  | { code: 'undo.moved' }
  | { code: 'undo.nothing' }
  | { code: 'redo.nothing' }

const directions = { in: 'input', out: 'output' } as const

const wording: { [C in Refusal['code']]: (facts: Extract<Refusal, { code: C }>) => string } = {
  'row.missing': ({ what }) =>
    `The ${what} is no longer in the plan; another person may have removed it.`,
  'id.taken': ({ id }) => `The id ${id} is already used by another row.`,
  'slot.taken': ({ station, slot, by }) => `Slot ${slot} of ${station} already holds ${by}.`,
  'slot.unknown': ({ station, slot, slots }) =>
    `${station} has no slot ${slot}; it has slots ${slots}.`,
  'slot.notAllowed': ({ station, slot, module, slots }) =>
    `Slot ${slot} of ${station} does not take ${module}: the description ${slots === '' ? 'allows it in no slot of this head' : `allows slots ${slots}`}.`,
  'slot.fixed': ({ station, slot, module }) =>
    `${module} is fixed in slot ${slot} of ${station}: the description allows nothing else there.`,
  'subslot.unknown': ({ subslot, module, subslots }) =>
    `${module} has no subslot ${subslot}; ${subslots === '' ? 'it has none that anything goes into' : `it has ${subslots}`}.`,
  'subslot.notAllowed': ({ subslot, module, submodule }) =>
    `Subslot ${subslot} of ${module} does not take ${submodule}: the description does not allow it there.`,
  'subslot.fixed': ({ subslot, module, submodule }) =>
    `${submodule} is fixed in subslot ${subslot} of ${module}: the description allows nothing else there.`,
  'port.none': ({ subslot, module }) =>
    `Subslot ${subslot} of ${module} is no port; no device can stand below it.`,
  'port.missing': ({ port, module }) =>
    `${module} has no port ${port}: neither its description nor a data layout says where its octets stand.`,
  'port.protocol': ({ device, protocol }) =>
    `${device} speaks ${protocolTitle(protocol)}; below a port stands an IO-Link device.`,
  'port.cycle': ({ ms, nextMs }) =>
    `A port’s cycle time cannot be ${ms} ms: up to 6.3 ms it goes in steps of 0.1, up to 31.6 ms of 0.4, up to 132.8 ms of 1.6 ms, from 0.4 ms on; the next is ${nextMs} ms.`,
  'slots.full': ({ station }) => `${station} has no free slot left behind this one.`,
  'file.missing': ({ file }) =>
    `The description file ${file.slice(0, 12)}… is not on the Shelf; add it first.`,
  'device.missing': ({ device }) => `The description file has no head module "${device}".`,
  'device.protocol': ({ device, protocol, network, kind }) =>
    `${device} speaks ${protocolTitle(protocol)}, but ${network} is a ${networkKinds[kind].name} network.`,
  'network.protocol': ({ station, kind, network, other }) =>
    `${station} hangs on ${networkKinds[kind].name}; ${network} is a ${networkKinds[other].name} network.`,
  'setting.strange': ({ setting, kind }) =>
    `A network of the kind ${networkKinds[kind].name} has no "${setting}".`,
  'switches.full': ({ network, device }) =>
    `Every address on ${network} that the switches of ${device} can make is taken.`,
  'numbers.full': ({ network, word }) => `${network} has no ${word.toLowerCase()} left.`,
  'module.missing': ({ module }) => `The description file has no module "${module}".`,
  'block.missing': ({ subslot, direction }) =>
    `Subslot ${subslot} has no ${directions[direction]} data.`,
  'image.full': ({ controller, direction, bytes, from, to }) =>
    `The ${directions[direction]} image of ${controller} has no room for ${bytes} more ${plural(bytes, 'byte')}${to < from ? '' : ` from byte ${from} to ${to}`}; enlarge it, repack it or remove something.`,
  'address.bits': ({ module }) => `${module} takes whole bytes; it can begin at bit 0 only.`,
  'address.slot': ({ station }) =>
    `In ${station} every slot has its place in the head's data; move the head's data instead.`,
  pattern: ({ fault }) => fault,
  'channel.taken': ({ tag, place }) =>
    `${place} already carries ${tag === '' ? 'another signal' : tag}.`,
  'channel.missing': ({ place }) => `${place} is not a channel of that module.`,
  'subnet.full': ({ network }) => `The subnet of ${network} has no free address left.`,
  'parameter.unknown': ({ where, parameter }) =>
    `${where} has no parameter "${parameter}" by its description.`,
  'parameter.refused': ({ where, fault }) => `${where}: ${fault}`,
  'parameter.computed': ({ where, parameter }) =>
    `${where}: ${parameter} follows from the others and cannot be set.`,
  'safety.noSum': ({ where }) => `${where} has no check sum over its own parameters.`,
  'safety.noConnection': ({ where }) => `${where} has no fail-safe connection there.`,
  'layout.noData': ({ name, key }) =>
    `The layout "${name}" is for data of ${key}, which its description does not have.`,
  'layout.bytes': ({ name, bytes, has }) =>
    `The layout "${name}" was made for ${numbered(bytes, 'octet')}; the data have ${has}.`,
  'layout.field': ({ name, fault }) => `The layout "${name}" does not fit: ${fault}.`,
  'layout.twice': ({ name, other }) =>
    `"${other}" holds for all of that type already; "${name}" can be used for single ones only.`,
  'link.self': ({ node }) => `${node} cannot be linked to itself.`,
  'link.taken': ({ node, port, peer }) =>
    `Port ${port} of ${node} is linked to ${peer} already; a port has one partner.`,
  'link.noPort': ({ node, port, ports }) =>
    `${node} has no port ${port}; it has ${ports === 0 ? 'none' : numbered(ports, 'port')}.`,
  'link.full': ({ node }) => `${node} has no free port left.`,
  'link.none': ({ node, port }) => `Port ${port} of ${node} has no link.`,
  'link.media': ({ from, to }) =>
    `${sentenceStart(from)} and ${to} are for different media; a converter has to stand between them.`,
  'link.other': ({ node, network }) => `${node} is not on the network of ${network}.`,
  'feed.none': ({ node }) => `${node} hangs on no supply yet; choose one first.`,
  'feed.noSupply': ({ node }) => `${node} is no supply: its sheet says nothing of what it gives.`,
  'feed.noGroup': ({ module }) => `${module} feeds no potential group by its description.`,
  'feed.second': ({ node }) => `${node} has no second supply input by its sheet.`,
  'feed.circle': ({ node }) => `${node} would feed itself over other supplies.`,
  'ring.none': ({ network, kind }) =>
    `${network} is a ${networkKinds[kind].name} network; its nodes close no ring.`,
  'ring.noEnd': ({ network }) =>
    `No ring can be closed on ${network}: the last station of its line, or the controller, has no free port.`,
  'row.changed': ({ what, by }) =>
    `${by} changed ${what} in the meantime; look at it and decide again.`,
  'plan.invalid': ({ fault }) => `That would leave the plan broken: ${wordFault(fault)}`,
  'change.tooLarge': ({ rows }) =>
    `That would change more than ${rows} rows at once; do it in parts.`,
  'undo.blocked': ({ reasons, more }) =>
    `Others have built on that since. ${reasons.join(' ')}${more > 0 ? ` And ${more} more.` : ''}`,
  'undo.moved': () =>
    'In the meantime something else is the last change of yours; look at it and decide again.',
  'undo.nothing': () => 'There is nothing of yours left to undo.',
  'redo.nothing': () => 'There is nothing to redo.',
}

const sentenceStart = (words: string) => words[0]!.toUpperCase() + words.slice(1)

/** The refusal as one sentence for people. */
export function wordRefusal(refusal: Refusal): string {
  return (wording[refusal.code] as (facts: Refusal) => string)(refusal)
}
