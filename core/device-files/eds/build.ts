import { makeDevice, noLimits } from '../../catalog/blank'
import type { Device, ParameterRecord } from '../../catalog/model'
import type { ReadConnection } from './connections'
import { inOneRecord } from './parameters'
import type { Reading } from './reading'

/** The one device that an EDS describes. */
export function buildDevice(reading: Reading, made: readonly ReadConnection[]): Device {
  const major = reading.needed('device/majrev')
  const minor = reading.needed('device/minrev')
  const slots = reading.number('modular/defineslotsinrack')
  const { facts } = reading
  return makeDevice({
    key: reading.text('device/catalog') || reading.text('device/prodname') || 'device',
    name: reading.text('device/prodname') ?? '',
    info: reading.text('file/desctext') ?? '',
    orderNumber: reading.text('device/catalog') || null,
    firmware: `${major}.${minor}`,
    protocol: 'ethernet-ip',
    identity: {
      'ethernet-ip': {
        vendorCode: reading.needed('device/vendcode'),
        productType: reading.needed('device/prodtype'),
        productCode: reading.needed('device/prodcode'),
        majorRevision: major,
        minorRevision: minor,
      },
    },
    limits: { ...noLimits, modules: slots },
    slots: Array.from({ length: Math.min(256, slots ?? 0) }, (_, i) => ({
      slot: i,
      fixed: null,
      default: null,
      allowed: [],
    })),
    parameters: recordsOf(reading, made),
    connections: made.map(({ configurations: _, carried: _carried, ...connection }) => connection),
    ethernetIp: {
      productType: reading.text('device/prodtypestr') ?? '',
      maxConnections: reading.number('capacity/maxioconnections'),
      ...capacityOf(reading),
      isModular: facts.has('modular/defineslotsinrack') || facts.has('modular/width'),
    },
  })
}

/** What the device has room for and how it is cabled: [Capacity] TSpec entries (direction, octets,
 *  packets a second), the number of [Ethernet Link Class] instances, and whether there is a
 *  [DLR Class] (CIP Vol. 1, ch. 7, from memory). */
function capacityOf(reading: Reading) {
  const { facts } = reading
  const rates = [...facts].flatMap(([key, entry]) => {
    if (!/^capacity\/tspec\d+$/.test(key)) return []
    const [bytes, perSecond] = [reading.numberIn(entry, 1), reading.numberIn(entry, 2)]
    return bytes === null || perSecond === null ? [] : [{ bytes, perSecond }]
  })
  const ports =
    reading.number('ethernet link class/number_of_static_instances') ??
    reading.number('ethernet link class/max_inst')
  const keys = [...facts.keys()]
  const isDescribed = keys.some((key) => key.startsWith('ethernet link class/'))
  return {
    ...(rates.length > 0 && { packetRates: rates }),
    ...(ports !== null && ports > 0 && { portCount: ports }),
    ...(isDescribed && { closesRings: keys.some((key) => key.startsWith('dlr class/')) }),
  }
}

/** The configurations that connections name, and the parameters that stand in none of them. */
function recordsOf(
  { assemblies, parameters }: Reading,
  made: readonly ReadConnection[],
): ParameterRecord[] {
  const named = new Map(
    made.flatMap(({ configurations }) => configurations.map((name) => [name.toLowerCase(), name])),
  )
  const records = [...named.values()].map((name) => assemblies.record(name))
  const placed = new Set(
    records.flatMap((record) => record.parameters.map(({ key }) => key.split('@')[0])),
  )
  const carried = new Set(made.flatMap((connection) => connection.carried))
  const others = [...parameters.values()].filter(({ key }) => !placed.has(key))
  // What travels as process data, and how often, is set nowhere else.
  for (const parameter of others)
    if (carried.has(parameter.key)) {
      parameter.visible = false
      parameter.changeable = false
    }
  return others.length > 0 ? [...records, inOneRecord(others)] : records
}
