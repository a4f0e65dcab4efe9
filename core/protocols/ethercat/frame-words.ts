import { decodeEthercat, registers, type Datagram } from './datagrams'

const names: Readonly<Record<number, string>> = {
  [registers.type]: 'who is there',
  [registers.configuredAddress]: 'configured address',
  [registers.control]: 'state wanted',
  [registers.status]: 'state',
  [registers.eepromControl]: 'memory, word asked for',
  [registers.eepromData]: 'memory, word',
  [registers.mailboxOut]: 'mailbox to the slave',
  [registers.mailboxIn]: 'mailbox from the slave',
}

export function wordEthercatFrame(octets: Uint8Array): string | null {
  return decodeEthercat(octets)?.map(wordDatagram).join('; ') ?? null
}

function wordDatagram({ command, offset, data, workingCounter }: Datagram): string {
  const what = command.startsWith('L')
    ? `process data, ${data.length} octets`
    : (names[offset] ?? `register 0x${offset.toString(16)}`)
  return `${command} ${what}, working counter ${workingCounter}`
}
