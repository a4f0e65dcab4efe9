import type { Catalog } from '../catalog/catalog'
import { findDevice } from '../catalog/catalog'
import type { Device, Module, ParameterRecord } from '../catalog/model'
import { oncePlaced, submodulesOf, type PluggedParts } from '../catalog/placed'
import { isEmpty } from '../vocabulary/records'
import { isFailSafeRecord, withParameterCrc } from './f-parameters'
import { encodeRecord, type EncodedRecord, type ParameterValues } from './record'

/** A parameter record of something that stands in a plan. */
export interface PlacedRecord {
  /** Unique within the head or module: subslot (`m`: the module itself, `d`: its dictionary, `2p`:
   *  the device below port 2, `p2p`: that below a port among other data), index, subindex. */
  readonly key: string
  readonly subslot: number | null
  /** What it belongs to: the module, a submodule of it, or the device below a port. */
  readonly owner: string
  /** F parameters: their check sum follows from the others. */
  readonly isFailSafe: boolean
  /** Belongs to a fail-safe submodule. */
  readonly isSafety: boolean
  readonly record: ParameterRecord
}

/** All parameter records of a head or module with what is plugged into it and the devices below its
 *  ports. */
export function recordsOfPlaced(
  catalog: Catalog,
  file: string,
  owner: Module | Device,
  plugged: PluggedParts,
): readonly PlacedRecord[] {
  return placedRecords(catalog, file, owner, { plugged, values: {} })
}

const placedRecords = oncePlaced(
  (catalog: Catalog, file: string, owner: Module | Device, choices) => {
    const { plugged } = choices
    const placed: PlacedRecord[] = []
    const often = new Map<string, number>()
    const add = (
      prefix: string,
      subslot: number | null,
      of: { name: string; safety: boolean },
      records: readonly ParameterRecord[],
    ) => {
      for (const record of records) {
        const plain = `${prefix}.${record.index ?? '-'}${record.subindex === undefined ? '' : `:${record.subindex}`}`
        const count = (often.get(plain) ?? 0) + 1
        often.set(plain, count)
        placed.push({
          key: count === 1 ? plain : `${plain}#${count}`,
          subslot,
          owner: of.name,
          isFailSafe: isFailSafeRecord(record),
          isSafety: of.safety || isFailSafeRecord(record),
          record,
        })
      }
    }
    const addBelow = (key: string, port: number) => {
      const part = plugged[key]
      const below = part && part.file !== '' ? findDevice(catalog, part.file, part.device) : null
      if (below)
        add(
          `${key}p`,
          port,
          { name: `Port ${port} · ${below.name}`, safety: false },
          below.parameters,
        )
    }
    add('m', null, { name: owner.name, safety: false }, owner.parameters)
    add('d', null, { name: owner.name, safety: false }, owner.dictionary ?? [])
    for (const submodule of submodulesOf(catalog, file, owner, choices)) {
      const subslot = submodule.subslot ?? 1
      add(String(subslot), subslot, submodule, submodule.parameters)
      addBelow(String(subslot), subslot)
    }
    for (const key in plugged) if (key.startsWith('p')) addBelow(key, Number(key.slice(1)))
    return placed as readonly PlacedRecord[]
  },
)

/** Whether a record is sent: always, but for what is sent only with a value that somebody chose. */
export function isSent({ record }: PlacedRecord, values: ParameterValues | undefined): boolean {
  return record.isOptional !== true || (values !== undefined && !isEmpty(values))
}

/** The record as the device gets it: chosen values over the description's, the check sums of F
 *  parameters computed. A value that the description does not allow is told, and its default is
 *  sent. */
export function encodePlaced(
  { record, isFailSafe }: PlacedRecord,
  values: ParameterValues | undefined,
  iParameterCrc = 0,
): EncodedRecord {
  const encoded = encodeRecord(record, values ?? {})
  return isFailSafe
    ? { ...encoded, bytes: withParameterCrc(encoded.bytes, iParameterCrc) }
    : encoded
}
