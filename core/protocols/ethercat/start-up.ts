import { z } from 'zod'
import type { Device } from '../../catalog/model'
import { fromHex, toHex } from '../../vocabulary/hex'
import type { WireRecord } from '../wire'

/** A line of an EtherCAT start-up list that somebody added to what the description has. */
export const startUpLine = z
  .object({
    transition: z.enum(['IP', 'PS', 'SO', 'SP', 'OS', 'PI']),
    index: z.number().int().min(0).max(0xffff),
    subindex: z.number().int().min(0).max(255),
    data: z
      .string()
      .max(2000)
      .regex(/^([0-9a-f]{2}( [0-9a-f]{2})*)?$/, 'octets in hex, e.g. 01 0f'),
    comment: z.string().max(500).default(''),
  })
  .strict()
export type StartUpLine = z.infer<typeof startUpLine>

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
 *  (ETG.2000, from memory). Empty for devices of other protocols. */
export function startUpList(
  { station, device }: { readonly station: WithStartUp; readonly device: Device | null },
  records: readonly WireRecord[],
): StartUpStep[] {
  if (!device || !('ethercat' in device)) return []
  const increment = device.ethercat.slotIndexIncrement ?? 0
  const first = device.slots[0]?.slot ?? 1
  const described = records.flatMap(({ slot, isHead, record, bytes }) => {
    if (record.index === null || !record.transitions) return []
    const index = record.index + (record.dependsOnSlot && !isHead ? (slot - first) * increment : 0)
    return record.transitions.map((transition): StartUpStep => ({
      transition,
      index,
      subindex: record.subindex ?? 0,
      data: toHex(bytes),
      comment: record.name ?? '',
      from: { slot },
    }))
  })
  const own = startUpOf(station).map((line): StartUpStep => ({ ...line, from: 'own' }))
  return [...described, ...own].sort(
    (a, b) => transitions.indexOf(a.transition) - transitions.indexOf(b.transition),
  )
}

interface WithStartUp {
  readonly settings: object
}

/** The lines somebody added; none on networks of other kinds. */
export function startUpOf({ settings }: WithStartUp): readonly StartUpLine[] {
  return 'startUp' in settings ? (settings.startUp as readonly StartUpLine[]) : []
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
