import type { Catalog } from '../catalog/catalog'
import type { DerivedStation } from './derive'
import type { StartUpLine } from '../plan/model'
import { fromHex } from '../vocabulary/hex'
import { encodePlaced, recordsOfPlaced } from '../parameters/placed'

/** One SDO download of an EtherCAT slave on its way up. */
export interface StartUpStep extends Omit<StartUpLine, 'transition'> {
  readonly transition: string
  /** The description's, with the slot of its module (0: the slave itself); `own`: somebody added
   *  it. */
  readonly from: { readonly slot: number } | 'own'
}

/** The order in which a slave goes through its states (ETG.1000.6). */
const transitions = ['IP', 'PI', 'PS', 'SP', 'SO', 'OS']

/** What the master writes into a slave while it comes up: the description's init commands, indexes
 *  grown by slot where they depend on it, then what somebody added, each in its transition
 *  (ETG.2000, from memory). */
export function startUpList(
  { station, device, modules }: DerivedStation,
  catalog: Catalog,
): StartUpStep[] {
  if (device?.protocol !== 'ethercat') return []
  const increment = device.ethercat.slotIndexIncrement ?? 0
  const first = device.slots[0]?.slot ?? 1
  const described = modules.flatMap(({ slot, row, described: owner, plugged }) => {
    if (!owner) return []
    const { values } = row ?? station
    return recordsOfPlaced(catalog, station.file, owner, plugged).flatMap((placed) => {
      const { record } = placed
      if (record.index === null || !record.transitions) return []
      const index = record.index + (record.dependsOnSlot && row ? (slot - first) * increment : 0)
      return record.transitions.map((transition): StartUpStep => ({
        transition,
        index,
        subindex: record.subindex ?? 0,
        data: encodePlaced(placed, values[placed.key]).bytes,
        comment: record.name ?? '',
        from: { slot },
      }))
    })
  })
  const own = station.startUp.map((line): StartUpStep => ({ ...line, from: 'own' }))
  return [...described, ...own].sort(
    (a, b) => transitions.indexOf(a.transition) - transitions.indexOf(b.transition),
  )
}

/** SDO download request as CoE carries it: expedited up to four octets, else normal with its size
 *  (ETG.1000.6, from memory). */
export function sdoDownload({
  index,
  subindex,
  data,
}: Pick<StartUpStep, 'index' | 'subindex' | 'data'>): Uint8Array {
  const octets = fromHex(data)
  const coe = [0x00, 0x20]
  const place = [index & 0xff, index >> 8, subindex]
  if (octets.length > 0 && octets.length <= 4)
    return Uint8Array.from([
      ...coe,
      0x23 | ((4 - octets.length) << 2),
      ...place,
      ...octets,
      ...Array<number>(4 - octets.length).fill(0),
    ])
  const size = [0, 8, 16, 24].map((shift) => (octets.length >> shift) & 0xff)
  return Uint8Array.from([...coe, 0x21, ...place, ...size, ...octets])
}
