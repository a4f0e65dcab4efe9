import { protocolOf } from '../protocols/registry'
import type { Derived } from '../derive/derive'
import {
  encodePlaced,
  isSent,
  menuPath,
  portCycleOctet,
  recordsOfPlaced,
  wordParameterValue,
} from '../parameters'
import { subslotsOf } from '../placement'
import { hexOctet } from '../vocabulary/hex'
import { choicesOf } from '../safety'
import type { SheetTable } from './xlsx'

/** Every parameter of every head and module as it is set, with its record's place. */
export function parameterTable(derived: Derived): SheetTable {
  const rows = [...derived.stations.values()].flatMap((view) =>
    view.modules.flatMap((module) => {
      if (!module.described) return []
      const { values } = choicesOf(view, module)
      const about = [view.station.name, module.slot, module.described.name]
      return recordsOfPlaced(
        derived.catalog,
        view.station.file,
        module.described,
        module.plugged,
      ).flatMap((placed) => {
        const { key, owner, record } = placed
        if (!isSent(placed, values[key])) return []
        return record.parameters.map((parameter) => {
          const chosen = values[key]?.[parameter.key]
          const value = chosen ?? parameter.default
          return [
            ...about,
            owner,
            key,
            [...menuPath(parameter), parameter.name || parameter.key].join(' › '),
            value,
            wordParameterValue(parameter, value),
            wordParameterValue(parameter, parameter.default),
            chosen === undefined ? '' : 'changed',
            `${parameter.offsetBytes}.${parameter.offsetBits}`,
            parameter.bits,
          ]
        })
      })
    }),
  )
  return {
    name: 'Parameters',
    columns: [
      ['Station', 18],
      ['Slot', 6],
      ['Module', 28],
      ['Of', 28],
      ['Record', 10],
      ['Parameter', 40],
      ['Value', 14],
      ['In words', 24],
      ['Proposed', 24],
      ['Changed', 9],
      ['At byte', 8],
      ['Bits', 6],
    ],
    rows,
  }
}

/** Every record as the device gets it, in hex; check sums computed. */
export function recordTable(derived: Derived): SheetTable {
  const rows = [...derived.stations.values()].flatMap((view) =>
    view.modules.flatMap((module) => {
      if (!module.described) return []
      const { values, sums } = choicesOf(view, module)
      return recordsOfPlaced(derived.catalog, view.station.file, module.described, module.plugged)
        .filter((placed) => isSent(placed, values[placed.key]))
        .map((placed) => [
          view.station.name,
          module.slot,
          module.described!.name,
          placed.owner,
          placed.record.index,
          placed.record.length,
          encodePlaced(placed, values[placed.key], sums[placed.subslot ?? 1]?.crc ?? 0).bytes,
        ])
    }),
  )
  return {
    name: 'Records',
    columns: [
      ['Station', 18],
      ['Slot', 6],
      ['Module', 28],
      ['Of', 28],
      ['Index', 8],
      ['Octets', 8],
      ['As sent', 80],
    ],
    rows,
  }
}

/** Ports with the devices below them, what they exchange and the cycle time they are planned
 *  with. */
export function portTable(derived: Derived): SheetTable {
  const rows = [...derived.stations.values()].flatMap((view) =>
    view.modules.flatMap((module) =>
      subslotsOf(derived.catalog, view, module).flatMap(
        ({ subslot, name, device, below, data, cycleUs }) => {
          if (!below) return []
          const id = (device && protocolOf(device).ids?.(device)) ?? null
          return [
            [
              view.station.name,
              module.slot,
              module.described?.name ?? '',
              subslot,
              name,
              device?.name ?? below.device,
              id?.vendorId ?? '',
              id?.deviceId ?? '',
              data?.inputBytes ?? '',
              data?.outputBytes ?? '',
              cycleUs === 0 ? 'fastest' : cycleUs / 1000,
              `0x${hexOctet(portCycleOctet(cycleUs) ?? 0)}`,
            ],
          ]
        },
      ),
    ),
  )
  return {
    name: 'Ports',
    columns: [
      ['Station', 18],
      ['Slot', 6],
      ['Module', 28],
      ['Port', 6],
      ['Use', 20],
      ['Device', 28],
      ['Vendor', 8],
      ['Device number', 14],
      ['Octets in', 9],
      ['Octets out', 10],
      ['Cycle, ms', 10],
      ['Cycle octet', 11],
    ],
    rows,
  }
}
