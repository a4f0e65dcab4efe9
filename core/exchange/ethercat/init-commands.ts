import type { Device } from '../../catalog/model'
import type { LogicalPart, WireStation } from '../../protocols/wire'
import { toHex } from '../../vocabulary/hex'

/** One datagram that the master sends to a slave on its way up: command, address and register, octets
 *  in hex; `validate`: what has to come back. */
export interface SlaveCommand {
  readonly transition: string
  readonly comment: string
  readonly cmd: number
  readonly adp: number
  readonly ado: number
  readonly data: string
  readonly validate?: string
}

type EthercatDevice = Extract<Device, { protocol: 'ethercat' }>

/** Numbers with the octets they take, low octet first, in hex. */
export function littleEndian(
  ...numbers: readonly (readonly [value: number, octets: number])[]
): string {
  return toHex(
    Uint8Array.from(
      numbers.flatMap(([value, octets]) =>
        Array.from({ length: octets }, (_, i) => Math.floor(value / 256 ** i) & 0xff),
      ),
    ),
    undefined,
    '',
  )
}

/** Auto-increment write, configured-address read and write (ETG.1000-4, from memory). */
const commands = { apwr: 2, fprd: 4, fpwr: 5 } as const
/** Registers of a slave controller (ETG.1000-4, from memory). */
const registers = {
  address: 0x0010,
  control: 0x0120,
  status: 0x0130,
  fmmu: 0x0600,
  syncManager: 0x0800,
} as const
const states = { IP: 2, PS: 4, SO: 8 } as const

/** What brings a slave from INIT to OP: its address, its sync managers, its windows into the logical
 *  image, and each state asked for (ETG.1000-4 and ETG.1000-6, from memory). */
export function slaveCommands(
  { view, in: input, out: output }: LogicalPart<WireStation>,
  { ethercat: { syncManagers } }: EthercatDevice,
  position: number,
): SlaveCommand[] {
  const address = view.station.deviceNumber
  const write = (transition: string, comment: string, ado: number, data: string): SlaveCommand => ({
    ...{ transition, comment, cmd: commands.fpwr, adp: address, ado, data },
  })
  const reach = (transition: keyof typeof states): SlaveCommand[] => [
    write(
      transition,
      'ask for the state',
      registers.control,
      littleEndian([states[transition], 2]),
    ),
    {
      transition,
      comment: 'wait for the state',
      cmd: commands.fprd,
      adp: address,
      ado: registers.status,
      data: '0000',
      validate: littleEndian([states[transition], 2]),
    },
  ]
  const managers = syncManagers.map((manager, i) => ({ ...manager, i }))
  const manager = (transition: string, i: number, bytes: number) => {
    const { startAddress, controlByte, enabled } = syncManagers[i]!
    return write(
      transition,
      `sync manager ${i}`,
      registers.syncManager + 8 * i,
      littleEndian([startAddress, 2], [bytes, 2], [controlByte, 1], [0, 1], [enabled ? 1 : 0, 2]),
    )
  }
  const mailbox = managers
    .filter(({ use }) => use === 'MBoxOut' || use === 'MBoxIn')
    .map(({ i, defaultBytes }) => manager('IP', i, defaultBytes ?? 0))
  const windows = (
    [
      ['Outputs', output, 2],
      ['Inputs', input, 1],
    ] as const
  ).flatMap(([use, place, kind]) => {
    const one = managers.find((candidate) => candidate.use === use)
    return one && place ? [{ ...one, place, kind }] : []
  })
  return [
    {
      transition: 'IP',
      comment: 'configured address',
      cmd: commands.apwr,
      adp: (0x10000 - position) & 0xffff,
      ado: registers.address,
      data: littleEndian([address, 2]),
    },
    ...mailbox,
    ...reach('IP'),
    ...windows.map(({ i, place }) => manager('PS', i, Math.ceil(place.bits / 8))),
    ...windows.map(({ startAddress, place, kind }, n) =>
      write(
        'PS',
        `FMMU ${n}`,
        registers.fmmu + 16 * n,
        littleEndian(
          [Math.floor(place.bit / 8), 4],
          [Math.ceil(((place.bit & 7) + place.bits) / 8), 2],
          [place.bit & 7, 1],
          [(place.bit + place.bits - 1) & 7, 1],
          [startAddress, 2],
          [0, 1],
          [kind, 1],
          [1, 1],
          [0, 3],
        ),
      ),
    ),
    ...reach('PS'),
    ...reach('SO'),
  ]
}
