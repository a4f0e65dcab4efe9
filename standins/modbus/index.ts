import { moduleList } from '@kataxis/core'
import {
  decodeSerialUnit,
  decodeTcpUnit,
  encodeSerialUnit,
  encodeTcpUnit,
  exceptionPdu,
  exceptions,
  identificationAnswer,
  modbusPort,
  serialUnit,
} from '@kataxis/core/wire/modbus'
import type { Device } from '../device'
import { present, type StandIn } from '../net'
import { registerFunctions } from './registers'

/** Modbus devices: registers and coils as their sheets have them, and their identification. */
export const modbusTcp: StandIn = (net, octets, to) => {
  if (to?.transport !== 'tcp' || to.port !== modbusPort) return []
  const request = decodeTcpUnit(octets)
  const device =
    request &&
    present(net).find(
      ({ ip, number }) => ip === to.ip && (number === request.unit || isAlone(net.devices, ip)),
    )
  return device ? [encodeTcpUnit({ ...request, pdu: answerPdu(device, request.pdu) })] : []
}

/** A device with an address of its own answers whatever unit is asked for (common practice). */
const isAlone = (devices: readonly Device[], address: string) =>
  devices.filter(({ ip }) => ip === address).length === 1

/** The same on a serial line: who is not meant, or hears a wrong check sum, keeps silent. */
export const modbusSerial: StandIn = (net, octets) => {
  const request = decodeSerialUnit(octets)
  if (!request) return []
  return present(net).flatMap((device) =>
    serialUnit(device.number) === request.unit
      ? [encodeSerialUnit(request.unit, answerPdu(device, request.pdu))]
      : [],
  )
}

const identification = 0x2b

/** The answer to a protocol data unit: what was asked for, or why not. */
export function answerPdu(device: Device, pdu: Uint8Array): Uint8Array {
  const code = pdu[0] ?? 0
  if (code === identification) return identify(device, pdu)
  const perform = registerFunctions[code]
  if (!perform) return exceptionPdu(code, exceptions.illegalFunction)
  if (device.isStopped) return exceptionPdu(code, exceptions.deviceFailure)
  return perform(device, pdu)
}

function identify({ is, firmware, serial }: Device, pdu: Uint8Array): Uint8Array {
  const [, kind, level = 0, first = 0] = pdu
  if (kind !== 0x0e) return exceptionPdu(identification, exceptions.illegalFunction)
  if (level < 1 || level > 4) return exceptionPdu(identification, exceptions.illegalValue)
  const [vendor = '', product = ''] = is.identity.type.split(/\/(.*)/s)
  const objects = new Map([
    [0, vendor],
    [1, product],
    [2, firmware ?? ''],
    [0x80, serial.toString(16).toUpperCase()],
  ])
  const modules = moduleList(is.modules)
  for (let at = 0, id = 0x81; at < modules.length && id <= 0xff; at += longest, id++)
    objects.set(id, modules.slice(at, at + longest))
  return identificationAnswer(objects, first, level === 3)
}
const longest = 120
