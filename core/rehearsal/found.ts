import { blockOf, type DcpFrame } from '../protocols/profinet/dcp'
import type { FoundDevice } from './match'
import type { RealModule } from '../protocols/profinet/real-identification'

/** A device from its answer to an identify request and from what it says is plugged. */
export function foundDevice(answer: DcpFrame, modules: readonly RealModule[]): FoundDevice {
  const id = blockOf(answer, 'deviceId')
  return {
    mac: answer.source,
    name: blockOf(answer, 'name')?.name ?? '',
    ip: blockOf(answer, 'ip')?.ip ?? '0.0.0.0',
    vendorId: id?.vendorId ?? 0,
    deviceId: id?.deviceId ?? 0,
    typeOfStation: blockOf(answer, 'typeOfStation')?.text ?? '',
    modules,
  }
}
