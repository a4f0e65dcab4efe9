import { referenceOf } from '../addressing/modbus'
import { modbusTableNames, wordTable } from '../vocabulary/modbus-table'
import type { Channel } from '../catalog/layout'
import type { SheetTraits, Submodule } from '../catalog/model'
import { connectionPoints } from '../device-files/eds/paths'
import { parseOctets } from '../vocabulary/hex'
import type { DerivedModule, DerivedStation } from './derive'

/** A channel of a station with its module. */
export interface PlacedChannel {
  readonly module: DerivedModule
  readonly channel: Channel
}

/** A way to name a channel by its place in the device, whatever the controller's image is. Two-way
 *  within a station. */
export interface DeviceNotation {
  readonly name: string
  readonly label: string
  /** Null where the device has no such word for it. */
  readonly format: (view: DerivedStation, at: PlacedChannel) => string | null
}

const at = (bit: number, bits: number) => `${bit >> 3}${bits < 8 ? `.${bit & 7}` : ''}`

/** Slot and subslot as PROFINET numbers them, then byte and bit in the submodule's data. */
const slotSubslot: DeviceNotation = {
  name: 'Slot, subslot, byte and bit',
  label: 'in 3/1 0.4',
  format: (_, { module, channel }) =>
    `${channel.direction} ${module.slot}/${channel.subslot} ${at(channel.offsetBits, channel.bits)}`,
}

/** Instance of the assembly that carries it and its place there; the connection's path names them
 *  (CIP Vol. 1, App. C). */
const assembly: DeviceNotation = {
  name: 'Assembly, byte and bit',
  label: 'assembly 101 2.4',
  format: (view, { module, channel }) => {
    const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
    if (!connection || module.row) return null
    const points = connectionPoints([...(parseOctets(connection.path) ?? [])])
    const instance = channel.direction === 'out' ? points.at(-2) : points.at(-1)
    return instance === undefined || points.length < 2
      ? null
      : `assembly ${instance} ${at(channel.offsetBits, channel.bits)}`
  },
}

/** The dictionary object that the PDO maps there (ETG.1000-6, from memory); counted on for modules
 *  by slot. */
const pdo: DeviceNotation = {
  name: 'Object of the PDO',
  label: '0x6000:01',
  format: (view, { module, channel }) => {
    const object = objectOf(module.described?.submodules ?? [], channel, view, module)
    return (
      object &&
      `0x${object.index.toString(16).toUpperCase().padStart(4, '0')}:${object.subindex.toString(16).toUpperCase().padStart(2, '0')}`
    )
  },
}

/** Table and address from 0 as in the request, then the reference that counts from 1 (MODBUS
 *  Application Protocol V1.1b3, 4.4; references common practice): `holding register 12 · 40013`. */
const register: DeviceNotation = {
  name: 'Register of the device, from 0 and as reference',
  label: 'holding register 12 · 40013',
  format: ({ device }, { module, channel }) => {
    if (device?.protocol !== 'modbus' || module.row) return null
    const found = registerOf(device.sheet.registers, module, channel)
    return (
      found &&
      `${wordTable(found.table)} ${found.address} · ${referenceOf(found.table, found.address)}`
    )
  },
}

type Registers = SheetTraits['registers']

/** The register of a channel: the one at its place in the order of requests, where registers are
 *  the device's data; else the one of its name. */
function registerOf(
  registers: Registers,
  { described }: DerivedModule,
  { direction, offsetBits, name }: Channel,
): Registers[number] | null {
  const own = registers
    .filter(({ access }) => access !== (direction === 'in' ? 'write' : 'read'))
    .sort(
      (a, b) =>
        modbusTableNames.indexOf(a.table) - modbusTableNames.indexOf(b.table) ||
        a.address - b.address,
    )
  const items = (described?.submodules ?? []).flatMap(({ inputs, outputs }) =>
    direction === 'in' ? inputs : outputs,
  )
  const at = items.findIndex(
    (item) => offsetBits >= item.offsetBits && offsetBits < item.offsetBits + item.bits,
  )
  return (items.length === own.length ? own[at] : own.find((one) => one.name === name)) ?? null
}

function objectOf(
  submodules: readonly Submodule[],
  channel: Channel,
  { device }: DerivedStation,
  module: DerivedModule,
) {
  for (const submodule of submodules) {
    const item = submodule[channel.direction === 'in' ? 'inputs' : 'outputs'].find(
      ({ offsetBits, bits }) =>
        channel.offsetBits >= offsetBits && channel.offsetBits < offsetBits + bits,
    )
    for (const one of submodule.pdos ?? []) {
      const i =
        one.direction === channel.direction && one.name === item?.group
          ? one.items.findIndex(({ name }) => name === item.name)
          : -1
      if (i < 0) continue
      const { index, subindex } = one.objects[i]!
      const step =
        module.row && device?.protocol === 'ethercat'
          ? (device.ethercat.slotIndexIncrement ?? 0)
          : 0
      return {
        index: index + step * Math.max(0, module.slot - (device?.slots[0]?.slot ?? 1)),
        subindex,
      }
    }
  }
  return null
}

export const deviceNotations = {
  'slot-subslot': slotSubslot,
  assembly,
  pdo,
  register,
} satisfies Record<string, DeviceNotation>
export type DeviceNotationName = keyof typeof deviceNotations
export const deviceNotationNames = Object.keys(deviceNotations) as [
  DeviceNotationName,
  ...DeviceNotationName[],
]

/** Every channel of a station that a text names by its place in the device; blanks and case do not
 *  count. */
export function channelsAtPlace(view: DerivedStation, text: string): PlacedChannel[] {
  const wanted = normal(text).replace(
    /^(?:0x|#x)?([0-9a-f]{4}):([0-9a-f]{1,2})$/,
    (_, index, subindex) => `0x${index}:${subindex.padStart(2, '0')}`,
  )
  if (
    !/^(in|out)\d+\/\d+|^assembly\d|^0x[0-9a-f]+:[0-9a-f]|^(coil|discrete input|input register|holding register) \d/.test(
      wanted,
    )
  )
    return []
  return view.modules
    .flatMap((module) => (module.layout?.channels ?? []).map((channel) => ({ module, channel })))
    .filter((placed) =>
      deviceNotationNames.some((name) =>
        isWanted(normal(deviceNotations[name].format(view, placed) ?? ''), wanted),
      ),
    )
}

/** A register goes without its reference too. */
const isWanted = (name: string, wanted: string) =>
  name === wanted || name.split(' · ')[0] === wanted

/** Numbers keep apart what blanks kept apart. */
function normal(text: string): string {
  return text
    .trim()
    .toLowerCase()
    .replace(/\s+/g, ' ')
    .replace(/^(in|out|assembly) /, '$1')
}
