import type { Channel } from '../../catalog/layout'
import type { SheetTraits } from '../../catalog/model'
import { modbusTableNames, wordTable } from '../../vocabulary/modbus-table'
import type { DeviceNotation } from '../device-notation'
import type { WireModule } from '../wire'
import { referenceOf } from './requests'

/** Table and address from 0 as in the request, then the reference that counts from 1 (MODBUS
 *  Application Protocol V1.1b3, 4.4; references common practice): `holding register 12 · 40013`. */
export const register: DeviceNotation = {
  name: 'Register of the device, from 0 and as reference',
  label: 'holding register 12 · 40013',
  format: ({ device }, { module, channel }) => {
    if (!device || !('sheet' in device) || module.row) return null
    const found = registerOf(device.sheet.registers, module, channel)
    return (
      found &&
      `${wordTable(found.table)} ${found.address} · ${referenceOf(found.table, found.address)}`
    )
  },
  looksLike: /^(coil|discrete input|input register|holding register) \d/,
}

type Registers = SheetTraits['registers']

/** The register of a channel: the one at its place in the order of requests, where registers are
 *  the device's data; else the one of its name. */
function registerOf(
  registers: Registers,
  { described }: WireModule,
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
