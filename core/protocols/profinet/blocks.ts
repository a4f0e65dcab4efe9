import { fromHex, toHex } from '../../vocabulary/hex'
import { OctetWriter, reading, type OctetReader } from '../../vocabulary/octets'
import type { Mac } from './dcp'

/** Blocks of PROFINET's context management: connection, its answer, records, control (IEC
 *  61158-6-10, from memory). Big-endian. Checked by an independent protocol analyser. */

export const blockTypes = {
  alarmHigh: 0x0001,
  alarmLow: 0x0002,
  write: 0x0008,
  read: 0x0009,
  relation: 0x0101,
  data: 0x0102,
  alarms: 0x0103,
  expected: 0x0104,
  parametersEnd: 0x0110,
  applicationReady: 0x0112,
  writeAnswer: 0x8008,
  readAnswer: 0x8009,
  relationAnswer: 0x8101,
  dataAnswer: 0x8102,
  alarmsAnswer: 0x8103,
  difference: 0x8104,
  parametersEndAnswer: 0x8110,
  applicationReadyAnswer: 0x8112,
} as const

export interface Block {
  readonly type: number
  readonly body: Uint8Array
}

/** Type, length from the version on, version 1.0, body. */
export function block(type: number, body: OctetWriter | Uint8Array): Uint8Array {
  const content = body instanceof OctetWriter ? body.done() : body
  return new OctetWriter()
    .u16(type)
    .u16(content.length + 2)
    .u8(1, 0)
    .bytes(content)
    .done()
}

/** Blocks one behind the other; null where one is cut off. */
export function blocksIn(octets: Uint8Array): Block[] | null {
  return reading(octets, (from) => {
    const blocks: Block[] = []
    while (from.left >= 6) {
      const type = from.u16()
      const length = from.u16()
      if (length < 2) return null
      from.skip(2)
      blocks.push({ type, body: from.bytes(length - 2) })
      // A record's data stand behind its block.
      if (type === blockTypes.write || type === blockTypes.readAnswer) break
    }
    return blocks
  })
}

/** Octets behind the first block: the data of a record. */
export function behindFirstBlock(octets: Uint8Array): Uint8Array {
  return reading(octets, (from) => from.skip(2).skip(from.u16()).rest()) ?? new Uint8Array()
}

export interface Relation {
  /** 32 hex digits. */
  readonly id: string
  readonly sessionKey: number
  readonly controllerMac: Mac
  readonly stationName: string
}

export interface DataDirection {
  readonly direction: 'in' | 'out'
  readonly reference: number
  readonly frameId: number
  /** Octets of data and status in its frame. */
  readonly bytes: number
  readonly sendClockFactor: number
  readonly reductionRatio: number
  readonly watchdogFactor: number
  readonly dataHoldFactor: number
  readonly objects: readonly FramePlace[]
  readonly consumers: readonly FramePlace[]
}

export interface FramePlace {
  readonly slot: number
  readonly subslot: number
  readonly offset: number
}

export interface ExpectedSubmodule {
  readonly subslot: number
  readonly ident: number
  readonly inputBytes: number
  readonly outputBytes: number
}

export interface ExpectedModule {
  readonly slot: number
  readonly ident: number
  readonly submodules: readonly ExpectedSubmodule[]
}

export interface Connect {
  readonly relation: Relation
  readonly directions: readonly DataDirection[]
  readonly expected: readonly ExpectedModule[]
}

const realTimeType = 0x8892
/** Real-time class 1, and 2 with frame identifiers from 0x8000 on. */
const classOne = 1
/** 31.25 µs each. */
const shortestData = 40

export function encodeConnect({ relation, directions, expected }: Connect): Uint8Array {
  const all = new OctetWriter().bytes(
    block(
      blockTypes.relation,
      new OctetWriter()
        .u16(1)
        .bytes(fromHex(relation.id))
        .u16(relation.sessionKey)
        .bytes(fromHex(relation.controllerMac))
        .bytes(fromHex('dea000006c9711d1827100010001aaaa'))
        // Active, parameters by the one who connects, startup mode of today.
        .u32(0x4000_0011)
        .u16(600)
        .u16(realTimeType)
        .u16(relation.stationName.length)
        .ascii(relation.stationName),
    ),
  )
  for (const one of directions) all.bytes(dataBlock(one))
  all.bytes(
    block(
      blockTypes.alarms,
      new OctetWriter()
        .u16(1)
        .u16(realTimeType)
        .u32(0)
        .u16(1)
        .u16(3)
        .u16(1)
        .u16(200)
        .u16(0xc000)
        .u16(0xa000),
    ),
  )
  for (const module of expected) all.bytes(expectedBlock(module))
  return all.done()
}

function dataBlock(one: DataDirection): Uint8Array {
  const octets = new OctetWriter()
    .u16(one.direction === 'in' ? 1 : 2)
    .u16(one.reference)
    .u16(realTimeType)
    .u32(classOne)
    .u16(Math.max(shortestData, one.bytes))
    .u16(one.frameId)
    .u16(one.sendClockFactor)
    .u16(one.reductionRatio)
    .u16(1)
    .u16(0)
    .u32(0xffff_ffff)
    .u16(one.watchdogFactor)
    .u16(one.dataHoldFactor)
    .u16(0xc000)
    .zeros(6)
    .u16(1)
    .u32(0)
  for (const places of [one.objects, one.consumers]) {
    octets.u16(places.length)
    for (const { slot, subslot, offset } of places) octets.u16(slot).u16(subslot).u16(offset)
  }
  return block(blockTypes.data, octets)
}

function expectedBlock({ slot, ident, submodules }: ExpectedModule): Uint8Array {
  const octets = new OctetWriter().u16(1).u32(0).u16(slot).u32(ident).u16(0).u16(submodules.length)
  for (const { subslot, ident: own, inputBytes, outputBytes } of submodules) {
    const kind = (inputBytes > 0 ? 1 : 0) + (outputBytes > 0 ? 2 : 0)
    octets.u16(subslot).u32(own).u16(kind)
    // A submodule without data counts as one that sends none.
    if (kind !== 2) octets.u16(1).u16(inputBytes).u8(1, 1)
    if (kind >= 2) octets.u16(2).u16(outputBytes).u8(1, 1)
  }
  return block(blockTypes.expected, octets)
}

/** What a controller asks for; null where the blocks are cut off or one is missing. */
export function decodeConnect(octets: Uint8Array): Connect | null {
  const blocks = blocksIn(octets)
  const first = blocks?.find(({ type }) => type === blockTypes.relation)
  const relation = first && reading(first.body, readRelation)
  if (!blocks || !relation) return null
  const directions: DataDirection[] = []
  const expected: ExpectedModule[] = []
  for (const { type, body } of blocks) {
    if (type === blockTypes.data) {
      const one = reading(body, readData)
      if (!one) return null
      directions.push(one)
    } else if (type === blockTypes.expected) {
      const modules = reading(body, readExpected)
      if (!modules) return null
      expected.push(...modules)
    }
  }
  return { relation, directions, expected }
}

function readRelation(from: OctetReader): Relation {
  from.u16()
  const id = toHex(from.bytes(16), 16, '')
  const sessionKey = from.u16()
  const controllerMac = toHex(from.bytes(6), 6, ':')
  from.skip(16 + 4 + 2 + 2)
  return { id, sessionKey, controllerMac, stationName: from.ascii(from.u16()) }
}

function readData(from: OctetReader): DataDirection {
  const direction = from.u16() === 1 ? 'in' : 'out'
  const reference = from.u16()
  from.skip(6)
  const [bytes, frameId, sendClockFactor, reductionRatio] = [
    from.u16(),
    from.u16(),
    from.u16(),
    from.u16(),
  ]
  from.skip(8)
  const [watchdogFactor, dataHoldFactor] = [from.u16(), from.u16()]
  from.skip(8)
  const objects: FramePlace[] = []
  const consumers: FramePlace[] = []
  for (let apis = from.u16(); apis > 0; apis--) {
    from.u32()
    for (const places of [objects, consumers])
      for (let count = from.u16(); count > 0; count--)
        places.push({ slot: from.u16(), subslot: from.u16(), offset: from.u16() })
  }
  return {
    direction,
    reference,
    frameId,
    bytes,
    sendClockFactor,
    reductionRatio,
    watchdogFactor,
    dataHoldFactor,
    objects,
    consumers,
  }
}

function readExpected(from: OctetReader): ExpectedModule[] {
  const modules: ExpectedModule[] = []
  for (let apis = from.u16(); apis > 0; apis--) {
    from.u32()
    const [slot, ident] = [from.u16(), from.u32()]
    from.u16()
    const submodules: ExpectedSubmodule[] = []
    for (let count = from.u16(); count > 0; count--) {
      const [subslot, own, kind] = [from.u16(), from.u32(), from.u16() & 3]
      const size = { in: 0, out: 0 }
      for (let i = kind === 3 ? 2 : 1; i > 0; i--) {
        const which = from.u16() === 1 ? 'in' : 'out'
        size[which] = from.u16()
        from.skip(2)
      }
      submodules.push({ subslot, ident: own, inputBytes: size.in, outputBytes: size.out })
    }
    modules.push({ slot, ident, submodules })
  }
  return modules
}

export const moduleStates = ['no module', 'wrong module', 'proper module', 'substitute'] as const

/** What stands in the slots that is not as expected. */
export interface ModuleDifference {
  readonly slot: number
  readonly ident: number
  readonly state: (typeof moduleStates)[number]
  readonly submodules: readonly {
    readonly subslot: number
    readonly ident: number
    /** Whether it is missing, or another one. */
    readonly state: 'missing' | 'wrong' | 'ok'
  }[]
}

/** `IdentInfo` of the submodule's state: the planned one, another, none; with the format bit set. */
const identInfo = { ok: 0, wrong: 2, missing: 3 } as const

export function differenceBlock(modules: readonly ModuleDifference[]): Uint8Array {
  const octets = new OctetWriter().u16(1).u32(0).u16(modules.length)
  for (const { slot, ident, state, submodules } of modules) {
    octets.u16(slot).u32(ident).u16(moduleStates.indexOf(state)).u16(submodules.length)
    for (const one of submodules)
      octets
        .u16(one.subslot)
        .u32(one.ident)
        .u16(0x8000 | (identInfo[one.state] << 11))
  }
  return block(blockTypes.difference, octets)
}

export function readDifference(body: Uint8Array): ModuleDifference[] {
  return (
    reading(body, (from) => {
      const modules: ModuleDifference[] = []
      for (let apis = from.u16(); apis > 0; apis--) {
        from.u32()
        for (let count = from.u16(); count > 0; count--) {
          const [slot, ident, state] = [from.u16(), from.u32(), from.u16()]
          const submodules: ModuleDifference['submodules'][number][] = []
          for (let subs = from.u16(); subs > 0; subs--) {
            const [subslot, own, word] = [from.u16(), from.u32(), from.u16()]
            const info = (word >> 11) & 0xf
            submodules.push({
              subslot,
              ident: own,
              state:
                info === identInfo.wrong ? 'wrong' : info === identInfo.missing ? 'missing' : 'ok',
            })
          }
          modules.push({ slot, ident, state: moduleStates[state] ?? 'wrong module', submodules })
        }
      }
      return modules
    }) ?? []
  )
}

export function connectAnswer(
  { relation, directions }: Connect,
  deviceMac: Mac,
  different: readonly ModuleDifference[],
): Uint8Array {
  const all = new OctetWriter().bytes(
    block(
      blockTypes.relationAnswer,
      new OctetWriter()
        .u16(1)
        .bytes(fromHex(relation.id))
        .u16(relation.sessionKey)
        .bytes(fromHex(deviceMac))
        .u16(realTimeType),
    ),
  )
  for (const one of directions)
    all.bytes(
      block(
        blockTypes.dataAnswer,
        new OctetWriter()
          .u16(one.direction === 'in' ? 1 : 2)
          .u16(one.reference)
          .u16(one.frameId),
      ),
    )
  all.bytes(block(blockTypes.alarmsAnswer, new OctetWriter().u16(1).u16(1).u16(200)))
  if (different.length > 0) all.bytes(differenceBlock(different))
  return all.done()
}

/** Where a record stands. */
export interface RecordPlace {
  readonly relation: string
  readonly slot: number
  readonly subslot: number
  readonly index: number
}

const noRelation = '0'.repeat(32)
export const withoutRelation = noRelation

/** Header of a read or write, sixty octets from the version on; the data of a write stand behind. */
export function recordRequest(
  kind: 'read' | 'write',
  sequence: number,
  { relation, slot, subslot, index }: RecordPlace,
  length: number,
  data: Uint8Array = new Uint8Array(),
): Uint8Array {
  const header = new OctetWriter()
    .u16(sequence)
    .bytes(fromHex(relation))
    .u32(0)
    .u16(slot)
    .u16(subslot)
    .u16(0)
    .u16(index)
    .u32(length)
  // A read without a relation names none to read from either.
  header.zeros(24)
  return new OctetWriter().bytes(block(blockTypes[kind], header)).bytes(data).done()
}

export function recordAnswer(
  kind: 'read' | 'write',
  sequence: number,
  { relation, slot, subslot, index }: RecordPlace,
  status: number,
  data: Uint8Array = new Uint8Array(),
): Uint8Array {
  const header = new OctetWriter()
    .u16(sequence)
    .bytes(fromHex(relation))
    .u32(0)
    .u16(slot)
    .u16(subslot)
    .u16(0)
    .u16(index)
    .u32(kind === 'read' ? data.length : 0)
    .u16(0)
    .u16(0)
  if (kind === 'read') header.zeros(20)
  else header.u32(status).zeros(16)
  return new OctetWriter()
    .bytes(block(kind === 'read' ? blockTypes.readAnswer : blockTypes.writeAnswer, header))
    .bytes(data)
    .done()
}

/** Place, sequence and data of a record call or of its answer; null where it is cut off. */
export function readRecord(
  octets: Uint8Array,
): (RecordPlace & { readonly sequence: number; readonly data: Uint8Array }) | null {
  const header = reading(octets, (from) => {
    from.skip(6)
    const sequence = from.u16()
    const relation = toHex(from.bytes(16), 16, '')
    from.u32()
    const [slot, subslot] = [from.u16(), from.u16()]
    from.u16()
    return { sequence, relation, slot, subslot, index: from.u16() }
  })
  return header && { ...header, data: behindFirstBlock(octets) }
}

/** The status in a write's answer; 0: written. */
export function writeStatus(octets: Uint8Array): number {
  return reading(octets, (from) => from.skip(6 + 2 + 16 + 4 + 6 + 2 + 4 + 4).u32()) ?? 0
}

export function control(
  type: number,
  { id, sessionKey }: Pick<Relation, 'id' | 'sessionKey'>,
  command: 'parameters end' | 'application ready' | 'done',
): Uint8Array {
  const commands = { 'parameters end': 1, 'application ready': 2, done: 8 } as const
  return block(
    type,
    new OctetWriter()
      .u16(0)
      .bytes(fromHex(id))
      .u16(sessionKey)
      .u16(0)
      .u16(commands[command])
      .u16(0),
  )
}
