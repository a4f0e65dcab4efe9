import {
  blockOf,
  decodeDcp,
  encodeDcp,
  encodeRealIdentification,
  type DcpBlock,
  type DcpFrame,
  type RealModule,
} from '@kataxis/core'

/** A simulated PROFINET device: what a real one keeps in its memory. Plain data. */
export interface StandIn {
  readonly mac: string
  readonly vendorId: number
  readonly deviceId: number
  readonly typeOfStation: string
  readonly name: string
  readonly ip: string
  readonly mask: string
  readonly gateway: string
  readonly modules: readonly RealModule[]
  /** How often it was asked to flash. */
  readonly blinks: number
}

export interface Wire {
  readonly devices: readonly StandIn[]
}

/** Puts a frame on the wire: every device that it is meant for takes it in and may answer. Pure. */
export function transmit(wire: Wire, bytes: Uint8Array): { wire: Wire; answers: Uint8Array[] } {
  const frame = decodeDcp(bytes)
  if ('fault' in frame) return { wire, answers: [] }
  const answers: Uint8Array[] = []
  const devices = wire.devices.map((device) => {
    if (!isMeantFor(device, frame)) return device
    const { device: next, answer } = receive(device, frame)
    if (answer)
      answers.push(
        encodeDcp({ ...answer, destination: frame.source, source: device.mac, xid: frame.xid }),
      )
    return next
  })
  return { wire: { devices }, answers }
}

/** What a device says is really plugged, as the record it would hand out. */
export function readRealIdentification(wire: Wire, mac: string): Uint8Array {
  const device = wire.devices.find((candidate) => candidate.mac === mac)
  return encodeRealIdentification(device?.modules ?? [])
}

function isMeantFor(device: StandIn, { destination }: DcpFrame): boolean {
  return destination === device.mac || (parseInt(destination.slice(0, 2), 16) & 1) === 1
}

type Answer = Pick<DcpFrame, 'service' | 'blocks'>

function receive(device: StandIn, frame: DcpFrame): { device: StandIn; answer: Answer | null } {
  if (frame.service === 'identify')
    return { device, answer: isAskedFor(device, frame) ? identity(device) : null }
  if (frame.service !== 'set') return { device, answer: null }
  const results = frame.blocks.map((block) => settle(device, block))
  const done = results.reduce((current, { change }) => ({ ...current, ...change }), device)
  return {
    device: done,
    answer: { service: 'setAnswer', blocks: results.map(({ result }) => result) },
  }
}

function isAskedFor(device: StandIn, frame: DcpFrame): boolean {
  const name = blockOf(frame, 'name')
  return name ? name.name === device.name : blockOf(frame, 'all') !== null
}

function identity({ typeOfStation, name, vendorId, deviceId, ip, mask, gateway }: StandIn): Answer {
  return {
    service: 'identifyAnswer',
    blocks: [
      { kind: 'typeOfStation', text: typeOfStation },
      { kind: 'name', name },
      { kind: 'deviceId', vendorId, deviceId },
      // Role 1: an I/O device.
      { kind: 'role', role: 1 },
      { kind: 'ip', ip, mask, gateway },
    ],
  }
}

const suboptionNotSupported = 2

/** One block of a set request: what changes, and the result the device sends. */
function settle(device: StandIn, block: DcpBlock): { change: Partial<StandIn>; result: DcpBlock } {
  switch (block.kind) {
    case 'name':
      return { change: { name: block.name }, result: done(2, 2) }
    case 'ip':
      return {
        change: { ip: block.ip, mask: block.mask, gateway: block.gateway },
        result: done(1, 2),
      }
    case 'signal':
      return { change: { blinks: device.blinks + 1 }, result: done(5, 3) }
    case 'factoryReset':
      return {
        change: { name: '', ip: '0.0.0.0', mask: '0.0.0.0', gateway: '0.0.0.0' },
        result: done(5, 6),
      }
    default: {
      const [option, suboption] =
        block.kind === 'unknown' ? [block.option, block.suboption] : [2, 0]
      return {
        change: {},
        result: { kind: 'result', option, suboption, error: suboptionNotSupported },
      }
    }
  }
}

function done(option: number, suboption: number): DcpBlock {
  return { kind: 'result', option, suboption, error: 0 }
}
