import type { SheetDevice } from '../../catalog/model'
import type { SerialLine } from '../../vocabulary/serial-line'
import type { WireStation } from '../wire'
import { gatherRequests, serialTimeMs, type MappedValue, type ModbusRequest } from './requests'

const registerBits: Readonly<Record<string, number>> = { uint32: 2, int32: 2, float32: 2 }

/** Requests that bring a Modbus station's values and take them to it; none where its description
 *  has no registers. */
export function requestsOf({ device }: Pick<WireStation, 'device'>): ModbusRequest[] {
  if (!device || !('sheet' in device)) return []
  const values = device.sheet.registers.map(
    ({ name, table, address, type, access }): MappedValue => ({
      name,
      table,
      address,
      access,
      count: table === 'coil' || table === 'discrete-input' ? 1 : (registerBits[type] ?? 1),
    }),
  )
  return gatherRequests(values, device.sheet.modbus)
}

/** How long all requests of a serial Modbus network take, one after the other, in milliseconds. */
export function requestRoundMs(
  line: SerialLine,
  stations: readonly Pick<WireStation, 'device'>[],
): number {
  return stations.reduce(
    (sum, view) =>
      sum + requestsOf(view).reduce((part, request) => part + serialTimeMs(request, line), 0),
    0,
  )
}

/** Registers and coils that a device is written to by its requests, each as table and address. */
export function writtenPlaces(device: SheetDevice): string[] {
  return requestsOf({ device }).flatMap((request) => {
    const part = request.isWrite ? request : request.writes
    return part
      ? Array.from({ length: part.count }, (_, i) => `${request.table} ${part.start + i}`)
      : []
  })
}
