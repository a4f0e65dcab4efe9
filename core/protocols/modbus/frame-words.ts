import type { SocketAddress } from '../ip/packets'
import { decodeSerialUnit, decodeTcpUnit, exceptionWords } from './units'

const functionWords: Readonly<Record<number, string>> = {
  1: 'read coils',
  2: 'read discrete inputs',
  3: 'read holding registers',
  4: 'read input registers',
  5: 'write one coil',
  6: 'write one register',
  15: 'write coils',
  16: 'write registers',
  23: 'read and write registers',
  43: 'device identification',
}

export function wordModbusMessage(octets: Uint8Array, to: SocketAddress | null): string | null {
  const message = to ? decodeTcpUnit(octets) : decodeSerialUnit(octets)
  if (!message) return null
  const { unit, pdu } = message
  const code = pdu[0] ?? 0
  const name = functionWords[code & 0x7f] ?? `function ${code & 0x7f}`
  return code >= 0x80
    ? `Unit ${unit}: ${name} refused, ${exceptionWords[pdu[1] ?? 0] ?? `exception ${pdu[1]}`}`
    : `Unit ${unit}: ${name}`
}
