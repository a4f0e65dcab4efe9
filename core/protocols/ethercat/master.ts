import { OctetWriter, reading } from '../../vocabulary/octets'
import {
  faultOf,
  startedWith,
  type FoundDevice,
  type Line,
  type Master,
  type Pair,
  type StartFault,
} from '../master'
import { readModuleList } from '../module-list'
import type { LogicalPart } from '../wire'
import { putBits, takeBits } from './bits'
import {
  aborts,
  dataManagers,
  decodeEthercat,
  decodeSdoAnswer,
  encodeEthercat,
  encodeMapping,
  encodeSyncManager,
  errorFlag,
  fromMailbox,
  identityWords,
  mailbox,
  mappingOctets,
  registers,
  sdoUpload,
  states,
  statusCodes,
  syncManagerOctets,
  type Datagram,
  type EthercatState,
} from './datagrams'
import { logicalImage } from './logical-image'
import { sdoDownload, startUpList } from './start-up'

const hex = (value: number) => value.toString(16).padStart(8, '0')
const mailboxOctets = 128
/** Detected modules, as text (see `moduleList`). */
const modulesObject = { index: 0xf050, subindex: 0 } as const

export const ethercatMaster: Master = {
  identifiedBy: 'position',

  scan(line) {
    const count = ask(line, { command: 'BRD', address: 0, offset: registers.type, data: zeros(1) })
    return Array.from({ length: count.workingCounter }, (_, i) => foundAt(line, i))
  },

  start(line, pairs) {
    const started = new Map<string, Started>()
    const { parts } = imageOf(pairs)
    for (const [i, pair] of pairs.entries())
      started.set(pair.station.id, startSlave(line, pair, parts[i]!))
    return started
  },

  exchange(line, pairs, outputs) {
    const { parts, outputBytes, inputBytes } = imageOf(pairs)
    const data = new Uint8Array(outputBytes + inputBytes)
    for (const { view, out } of parts) {
      const own = outputs.get(view.id)
      if (out && own) putBits(data, out, own)
    }
    const answer = ask(line, { command: 'LRW', address: 0, offset: 0, data })
    return new Map(
      parts.flatMap(({ view, in: place }) => [
        [view.id, place ? takeBits(answer.data, place) : new Uint8Array()] as const,
      ]),
    )
  },
}
type Started = ReturnType<typeof startedWith>

const zeros = (count: number) => new Uint8Array(count)

function imageOf(pairs: readonly Pair[]) {
  return logicalImage(pairs.map(({ station }) => station.view))
}

type Question = Omit<Datagram, 'workingCounter'>

/** One datagram in a frame, and what came back of it; nobody took it: working counter 0. */
function ask(line: Line, question: Question): Datagram {
  const asked = { ...question, workingCounter: 0 }
  for (const octets of line.send(encodeEthercat([asked]))) {
    const answer = decodeEthercat(octets)?.[0]
    if (answer?.command === question.command) return answer
  }
  return asked
}

/** By position on the line: counted down, so that the slave where it is zero answers. */
const atPosition = (position: number) => -position & 0xffff

function foundAt(line: Line, position: number): FoundDevice {
  const address = atPosition(position)
  const word = (at: number) => {
    ask(line, {
      command: 'APWR',
      address,
      offset: registers.eepromControl,
      data: new OctetWriter().le16(0x0100).le32(at).done(),
    })
    const { data } = ask(line, {
      command: 'APRD',
      address,
      offset: registers.eepromData,
      data: zeros(4),
    })
    return reading(data, (from) => from.le32()) ?? 0
  }
  const [vendor, product, revision, serial] = [
    word(identityWords.vendor),
    word(identityWords.product),
    word(identityWords.revision),
    word(identityWords.serial),
  ]
  const own = ask(line, {
    command: 'APRD',
    address,
    offset: registers.configuredAddress,
    data: zeros(2),
  })
  const configured = reading(own.data, (from) => from.le16()) ?? 0
  const modules = upload(line, 'AP', address, modulesObject)
  return {
    key: String(position + 1),
    mac: null,
    name: null,
    address: configured === 0 ? null : String(configured),
    type: `${hex(vendor)}:${hex(product)}`,
    typeName: '',
    firmware: `0x${hex(revision)}`,
    serial: String(serial),
    modules: modules instanceof Uint8Array ? readModuleList(String.fromCharCode(...modules)) : null,
    neighbours: [],
  }
}

/** An SDO request through the mailbox, and the data of its answer, or the code of its refusal;
 *  null where the slave has no mailbox. */
function throughMailbox(
  line: Line,
  by: 'AP' | 'FP',
  address: number,
  coe: Uint8Array,
): Uint8Array | number | null {
  const sent = ask(line, {
    command: `${by}WR`,
    address,
    offset: registers.mailboxOut,
    data: filled(mailbox(coe, line.next())),
  })
  if (sent.workingCounter === 0) return null
  const answer = ask(line, {
    command: `${by}RD`,
    address,
    offset: registers.mailboxIn,
    data: zeros(mailboxOctets),
  })
  if (answer.workingCounter === 0) return null
  const said = fromMailbox(answer.data)
  return said && decodeSdoAnswer(said)
}

const filled = (octets: Uint8Array) => new OctetWriter().bytes(octets).upTo(mailboxOctets).done()

function upload(
  line: Line,
  by: 'AP' | 'FP',
  address: number,
  { index, subindex }: { readonly index: number; readonly subindex: number },
) {
  return throughMailbox(line, by, address, sdoUpload(index, subindex))
}

/** Writes the configured address, goes through the states, sends the start-up list on the way. */
function startSlave(line: Line, { station, device }: Pair, part: LogicalPart): Started {
  const faults: StartFault[] = []
  const position = Number(device.key) - 1
  const address = station.number
  ask(line, {
    command: 'APWR',
    address: atPosition(position),
    offset: registers.configuredAddress,
    data: new OctetWriter().le16(address).done(),
  })
  const { view, records } = station
  const steps = startUpList(view as never, records)
  const send = (transition: string) => {
    for (const step of steps) {
      if (step.transition !== transition) continue
      const answer = throughMailbox(line, 'FP', address, sdoDownload(step))
      if (typeof answer === 'number')
        faults.push({
          ...faultOf(
            'start.parameter',
            `object 0x${step.index.toString(16)}:${step.subindex} was not taken: ${aborts[answer] ?? `abort code 0x${hex(answer)}`}`,
          ),
          slot: step.from === 'own' ? 0 : step.from.slot,
        })
    }
  }
  const went =
    goTo(line, address, 'init') ??
    (send('IP'), goTo(line, address, 'preop')) ??
    (send('PS'), layData(line, address, part), goTo(line, address, 'safeop')) ??
    (send('SO'), goTo(line, address, 'op'))
  if (went) faults.push(went)
  return startedWith(faults)
}

/** Tells a slave how much data it has each way and where these stand in the logical image. */
function layData(line: Line, address: number, { view, ...places }: LogicalPart): void {
  for (const [i, direction] of (['out', 'in'] as const).entries()) {
    const place = places[direction]
    const bytes = direction === 'in' ? view.inputBytes : view.outputBytes
    ask(line, {
      command: 'FPWR',
      address,
      offset: registers.syncManagers + dataManagers[direction] * syncManagerOctets,
      data: encodeSyncManager(direction, bytes),
    })
    if (!place) continue
    const { bit, bits } = place
    ask(line, {
      command: 'FPWR',
      address,
      offset: registers.mappings + i * mappingOctets,
      data: encodeMapping({
        logicalStart: bit >> 3,
        bytes: ((bit + bits - 1) >> 3) - (bit >> 3) + 1,
        startBit: bit & 7,
        endBit: (bit + bits - 1) & 7,
        direction,
      }),
    })
  }
}

function goTo(line: Line, address: number, state: EthercatState): StartFault | null {
  ask(line, {
    command: 'FPWR',
    address,
    offset: registers.control,
    data: new OctetWriter().le16(states[state]).done(),
  })
  const status = ask(line, {
    command: 'FPRD',
    address,
    offset: registers.status,
    data: zeros(6),
  })
  if (status.workingCounter === 0)
    return faultOf('start.silent', 'it does not answer at its configured address')
  const { reached, code } = reading(status.data, (from) => ({
    reached: from.le16(),
    code: from.skip(2).le16(),
  }))!
  if ((reached & 0x0f) === states[state] && (reached & errorFlag) === 0) return null
  return faultOf(
    'start.state',
    `it does not reach the state ${state.toUpperCase()}: ${statusCodes[code] ?? `status code 0x${code.toString(16)}`}`,
  )
}
