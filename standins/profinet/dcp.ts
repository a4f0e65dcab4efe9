import { stationNameFault } from '@kataxis/core'
import { blockOf, encodeDcp, type DcpBlock, type DcpFrame } from '@kataxis/core/wire/profinet'
import type { Device } from '../device'

const nothing = '0.0.0.0'
const errors = { suboptionNotSupported: 2, notSet: 3, inOperation: 6 } as const

export function answerDcp(device: Device, frame: DcpFrame): Uint8Array[] {
  if (!isMeantFor(device, frame)) return []
  const answer = (service: DcpFrame['service'], blocks: readonly DcpBlock[]) => [
    encodeDcp({ destination: frame.source, source: device.mac, service, xid: frame.xid, blocks }),
  ]
  if (frame.service === 'identify')
    return isAskedFor(device, frame) ? answer('identifyAnswer', identity(device)) : []
  if (frame.service !== 'set') return []
  return answer(
    'setAnswer',
    frame.blocks.map((block) => settle(device, block)),
  )
}

function isMeantFor({ mac }: Device, { destination }: DcpFrame): boolean {
  return destination === mac || (parseInt(destination.slice(0, 2), 16) & 1) === 1
}

function isAskedFor(device: Device, frame: DcpFrame): boolean {
  const name = blockOf(frame, 'name')
  return name ? name.name === device.name : blockOf(frame, 'all') !== null
}

function identity({ is, name, ip, mask }: Device): DcpBlock[] {
  const [vendorId = 0, deviceId = 0] = is.identity.type.split(':').map((word) => parseInt(word, 16))
  return [
    { kind: 'typeOfStation', text: is.identity.typeName },
    { kind: 'name', name },
    { kind: 'deviceId', vendorId, deviceId },
    // Role 1: an I/O device.
    { kind: 'role', role: 1 },
    { kind: 'ip', ip: ip || nothing, mask: ip === '' ? nothing : mask, gateway: nothing },
  ]
}

/** One block of a set request: what changes, and the result that the device sends. */
function settle(device: Device, block: DcpBlock): DcpBlock {
  const isRunning = device.session !== null
  switch (block.kind) {
    case 'name':
      if (isRunning) return result(2, 2, errors.inOperation)
      if (block.name !== '' && stationNameFault(block.name)) return result(2, 2, errors.notSet)
      device.name = block.name
      return result(2, 2)
    case 'ip':
      if (isRunning) return result(1, 2, errors.inOperation)
      device.ip = block.ip === nothing ? '' : block.ip
      device.mask = block.mask
      return result(1, 2)
    case 'signal':
      device.blinks++
      return result(5, 3)
    case 'factoryReset':
      device.name = ''
      device.ip = ''
      device.session = null
      return result(5, 6)
    default:
      return block.kind === 'unknown'
        ? result(block.option, block.suboption, errors.suboptionNotSupported)
        : result(2, 0, errors.suboptionNotSupported)
  }
}

function result(option: number, suboption: number, error = 0): DcpBlock {
  return { kind: 'result', option, suboption, error }
}
