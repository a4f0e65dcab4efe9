import type { Derived, DerivedNetwork, DerivedStation } from '../../derive/derive'
import { recordsOnWire } from '../../derive/wire-records'
import { channelsOfStation } from '../io-list'
import { modeOf, clocksOf } from '../../protocols/ethercat/clocks'
import { datagramBytes, logicalImage } from '../../protocols/ethercat/logical-image'
import { startUpList } from '../../protocols/ethercat/start-up'
import type { LogicalImage, LogicalPart } from '../../protocols/wire'
import { wordsOfOrigin, type Origin } from '../origin'
import { typeOfChannel, wordType } from '../programs/types'
import { xmlDeclaration, xmlText } from '../xml'
import { slaveCommands, type SlaveCommand } from './init-commands'

type Part = LogicalPart<DerivedStation>

/** EtherCAT network information (ETG.2100, element names from memory): for each EtherCAT network its
 *  slaves with init commands, cyclic frames and process image. One `Config` a network. */
export function writeEthercatNetwork(derived: Derived, origin: Origin, controllerId = ''): string {
  const words = [derived.plan.project.name, ...wordsOfOrigin(origin)]
  let text = xmlDeclaration
  text += `<!-- ${xmlText(words.join(', ')).replace(/-(?=-)/g, '- ')} -->\n`
  text += '<EtherCATConfig Version="1.3">\n'
  for (const { controller, networks } of derived.controllers)
    if (controllerId === '' || controller.id === controllerId)
      for (const band of networks)
        if (band.network.settings.kind === 'ethercat') text += configText(derived, band)
  return `${text}</EtherCATConfig>\n`
}

function configText(derived: Derived, { network, stations }: DerivedNetwork): string {
  const image = logicalImage(stations)
  const cycleUs = (network.settings as { cycleUs?: number | null }).cycleUs ?? null
  const reference = clocksOf(cycleUs, stations).reference
  let text = '<Config>\n'
  text += `<Master><Info><Name>${xmlText(network.name)}</Name><Destination>ffffffffffff</Destination><Source>000000000000</Source><EtherType>a488</EtherType></Info></Master>\n`
  for (const [i, part] of image.parts.entries())
    text += slaveText(derived, part, i, cycleUs, reference)
  text += cyclicText(image, cycleUs)
  text += `<ProcessImage>\n${imageText('Inputs', 'in', image)}${imageText('Outputs', 'out', image)}</ProcessImage>\n`
  return `${text}</Config>\n`
}

function slaveText(
  { catalog }: Derived,
  part: Part,
  position: number,
  cycleUs: number | null,
  reference: string | null,
): string {
  const { view } = part
  const { device, station } = view
  if (!device || !('ethercat' in device)) return ''
  const identity = device.identity.ethercat
  const commands = slaveCommands(part, device, position)
  const coe = startUpList(
    view as DerivedStation & { device: typeof device },
    recordsOnWire(view, catalog),
  )
  const [out, back] = ['MBoxOut', 'MBoxIn'].map((use) =>
    device.ethercat.syncManagers.find((one) => one.use === use),
  )
  let text = '<Slave>\n'
  text += `<Info><Name>${xmlText(station.name)}</Name><PhysAddr>${station.deviceNumber}</PhysAddr><AutoIncAddr>${(0x10000 - position) & 0xffff}</AutoIncAddr><Physics>${xmlText(device.ethercat.physics)}</Physics><VendorId>${identity.vendorId}</VendorId><ProductCode>${identity.productCode}</ProductCode><RevisionNo>${identity.revision}</RevisionNo><SerialNo>0</SerialNo></Info>\n`
  text += `<ProcessData>${placeText('Send', part.out)}${placeText('Recv', part.in)}${syncText(device.ethercat.syncManagers)}</ProcessData>\n`
  if (out && back)
    text += `<Mailbox><Send><Start>${out.startAddress}</Start><Length>${out.defaultBytes ?? 0}</Length></Send><Recv><Start>${back.startAddress}</Start><Length>${back.defaultBytes ?? 0}</Length></Recv>${device.ethercat.mailboxProtocols.map((name) => `<Protocol>${xmlText(name)}</Protocol>`).join('')}${
      coe.length === 0
        ? ''
        : `<CoE><InitCmds>\n${coe
            .map(
              ({ transition, index, subindex, data, comment }) =>
                `<InitCmd><Transition>${transition}</Transition><Comment>${xmlText(comment)}</Comment><Timeout>0</Timeout><Ccs>1</Ccs><Index>${index}</Index><SubIndex>${subindex}</SubIndex><Data>${data.replaceAll(' ', '')}</Data></InitCmd>\n`,
            )
            .join('')}</InitCmds></CoE>`
    }</Mailbox>\n`
  text += `<InitCmds>\n${commands.map(commandText).join('')}</InitCmds>\n`
  for (const [direction, use] of [
    ['out', 'Outputs'],
    ['in', 'Inputs'],
  ] as const)
    if (part[direction] && !device.ethercat.syncManagers.some((one) => one.use === use))
      text += `<!-- its description names no sync manager for ${use.toLowerCase()} -->\n`
  const mode = modeOf(view)
  if (mode && mode.assignActivate !== 0)
    text += `<DC><ReferenceClock>${view.id === reference}</ReferenceClock><CycleTime0>${mode.sync0CycleNs || (cycleUs ?? 0) * 1000}</CycleTime0><ShiftTime>${mode.sync0ShiftNs ?? 0}</ShiftTime><AssignActivate>${mode.assignActivate}</AssignActivate></DC>\n`
  return `${text}</Slave>\n`
}

const placeText = (name: string, place: Part['in']) =>
  place
    ? `<${name}><BitStart>${place.bit}</BitStart><BitLength>${place.bits}</BitLength></${name}>`
    : ''

const syncText = (managers: readonly { use: string; startAddress: number }[]) =>
  managers
    .map(({ use, startAddress }, i) =>
      use === 'Outputs' || use === 'Inputs'
        ? `<Sm${i}><Type>${use}</Type><StartAddress>${startAddress}</StartAddress></Sm${i}>`
        : '',
    )
    .join('')

function commandText({ transition, comment, cmd, adp, ado, data, validate }: SlaveCommand): string {
  return `<InitCmd><Transition>${transition}</Transition><BeforeSlave>1</BeforeSlave><Comment>${xmlText(comment)}</Comment><Cmd>${cmd}</Cmd><Adp>${adp}</Adp><Ado>${ado}</Ado><Data>${data}</Data><Cnt>1</Cnt><Retries>3</Retries>${validate === undefined ? '' : `<Validate><Data>${validate}</Data><Timeout>5000</Timeout></Validate>`}</InitCmd>\n`
}

/** Logical read-write where a datagram holds both, else what it holds (ETG.1000-4, from memory). */
const logicalCommands = { both: 12, in: 10, out: 11 } as const

/** The frames of a cycle, a datagram each, with the working counter that it has to come back with.
 *  Offsets of both images are those of the logical image. */
function cyclicText(image: LogicalImage<DerivedStation>, cycleUs: number | null): string {
  const bytes = image.outputBytes + image.inputBytes
  let text = `<Cyclic>${cycleUs === null ? '' : `<CycleTime>${cycleUs}</CycleTime>`}\n`
  for (let start = 0; start < bytes; start += datagramBytes) {
    const length = Math.min(datagramBytes, bytes - start)
    const count = (direction: 'in' | 'out') =>
      image.parts.filter(({ [direction]: place }) => {
        return place && place.bit < (start + length) * 8 && place.bit + place.bits > start * 8
      }).length
    const [outs, ins] = [count('out'), count('in')]
    const has = ins === 0 ? 'out' : outs === 0 ? 'in' : 'both'
    text += `<Frame><Cmd><State>SAFEOP</State><State>OP</State><Comment>cyclic</Comment><Cmd>${logicalCommands[has]}</Cmd><Addr>${start}</Addr><DataLength>${length}</DataLength><Cnt>${has === 'both' ? ins + 2 * outs : ins + outs}</Cnt><InputOffs>${start}</InputOffs><OutputOffs>${start}</OutputOffs></Cmd></Frame>\n`
  }
  return `${text}</Cyclic>\n`
}

/** The variables of one side of the image, by the place their slave has in it. */
function imageText(
  name: string,
  direction: 'in' | 'out',
  image: LogicalImage<DerivedStation>,
): string {
  let text = `<${name}><ByteSize>${image.outputBytes + image.inputBytes}</ByteSize>\n`
  for (const { view, [direction]: place } of image.parts) {
    if (!place) continue
    const starts = blockStarts(view, direction)
    for (const { module, channel, signal } of channelsOfStation(view)) {
      if (channel.direction !== direction) continue
      const start = starts.get(`${module.id}/${channel.subslot}`)
      if (start === undefined) continue
      const label = [view.station.name, module.described?.name ?? '', channel.name].filter(Boolean)
      text += `<Variable><Name>${xmlText(signal?.tag || label.join('.'))}</Name>${signal?.comment ? `<Comment>${xmlText(signal.comment)}</Comment>` : ''}<DataType>${channel.bits === 1 ? 'BIT' : wordType(typeOfChannel(channel))}</DataType><BitSize>${channel.bits}</BitSize><BitOffs>${place.bit + start + channel.offsetBits}</BitOffs></Variable>\n`
    }
  }
  return `${text}</${name}>\n`
}

/** Where each block of a slave begins within what the slave has of the image, in bits. */
function blockStarts({ blocks }: DerivedStation, direction: 'in' | 'out'): Map<string, number> {
  const starts = new Map<string, number>()
  let next = 0
  for (const { module, block } of blocks) {
    if (block.direction !== direction) continue
    starts.set(`${module.id}/${block.subslot}`, next)
    next += block.bytes * 8
  }
  return starts
}
