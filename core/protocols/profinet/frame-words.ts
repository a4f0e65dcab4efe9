import type { SocketAddress } from '../ip/packets'
import { blocksIn, blockTypes, readRecord } from './blocks'
import { dcpErrors, decodeDcp, type DcpBlock, type DcpService } from './dcp'
import { decodeLldp } from './lldp'
import { channelErrors, dataStatusRun, decodeAlarm, decodeCyclic } from './real-time'
import { decodeRpc, type RpcCall, type RpcOperation } from './rpc'

const services: Record<DcpService, string> = {
  identify: 'identify',
  identifyAnswer: 'answer to identify',
  set: 'set',
  setAnswer: 'answer to set',
}
const blockWords: Record<DcpBlock['kind'], string> = {
  all: 'all stations',
  typeOfStation: 'type',
  name: 'name',
  ip: 'address',
  deviceId: 'device id',
  role: 'role',
  signal: 'blink',
  factoryReset: 'reset to factory state',
  result: 'result',
  unknown: 'unknown block',
}

function wordBlock(block: DcpBlock): string {
  if (block.kind === 'name') return block.name === '' ? 'no name' : `name ${block.name}`
  if (block.kind === 'typeOfStation') return block.text
  if (block.kind === 'ip') return block.ip === '0.0.0.0' ? 'no address' : `address ${block.ip}`
  if (block.kind === 'result') return dcpErrors[block.error] ?? `error ${block.error}`
  return blockWords[block.kind]
}

export function wordProfinetFrame(octets: Uint8Array, to: SocketAddress | null): string | null {
  if (to) {
    const call = decodeRpc(octets)
    return call && wordCall(call)
  }
  const dcp = decodeDcp(octets)
  if (!('fault' in dcp))
    return `DCP ${services[dcp.service]}: ${dcp.blocks.map(wordBlock).join(', ')}`
  const alarm = decodeAlarm(octets)
  if (alarm)
    return `Alarm, slot ${alarm.slot}: ${channelErrors[alarm.errorType] ?? `error ${alarm.errorType}`}`
  const lldp = decodeLldp(octets)
  if (lldp) return `LLDP: ${lldp.chassis}, ${lldp.port}`
  const cyclic = decodeCyclic(octets)
  if (!cyclic) return null
  const state = cyclic.dataStatus === dataStatusRun ? 'running' : 'stopped'
  return `Cyclic data, ${cyclic.data.length} octets, ${state}`
}

const operations: Record<RpcOperation, string> = {
  connect: 'Connect',
  release: 'Release',
  read: 'Read',
  write: 'Write',
  control: 'Control',
  readImplicit: 'Read',
}

function wordCall({ kind, operation, status, blocks }: RpcCall): string {
  const what = operations[operation]
  const isAnswer = kind === 'response'
  if (isAnswer && status !== 0) return `${what}: refused, status ${(status >>> 0).toString(16)}`
  if (operation === 'read' || operation === 'readImplicit' || operation === 'write') {
    const place = readRecord(blocks)
    const record = place
      ? ` record 0x${place.index.toString(16)}, slot ${place.slot}, subslot ${place.subslot}`
      : ''
    return `${what}${record}${isAnswer ? `: ${operation === 'write' ? 'written' : `${place?.data.length ?? 0} octets`}` : ''}`
  }
  if (operation === 'connect' && isAnswer) {
    const differs = blocksIn(blocks)?.some(({ type }) => type === blockTypes.difference)
    return differs ? 'Connect: connected, other modules than expected' : 'Connect: connected'
  }
  return `${what}${isAnswer ? ': done' : ''}`
}
