import { nextName, wireName } from '../protocols/profinet/station-name'
import type { Derived } from '../derive/derive'
import { nameKey, namesIn, otherIdentity } from '../changing/identities'
import type { Id, Plan, ProjectRow } from '../plan/model'
import { kindOf } from '../protocols/registry'
import { tagFault } from '../tags/identifier'
import { nextInSeries } from '../tags/pattern'
import type { Fix } from './finding'

/** The nearest other address or number that a station can have, both where they follow one; none
 *  where nothing is free. */
export function otherFixes(
  { plan, stations }: Derived,
  stationId: Id,
  what: 'ip' | 'deviceNumber',
): Fix[] {
  const found = stations.get(stationId)
  const network = found && plan.networks[found.station.networkId]
  const set = found && otherIdentity(plan, found.device, found.station, what)
  if (!network || !set) return []
  const words = [
    set.ip,
    set.deviceNumber === undefined
      ? undefined
      : set.ip === undefined
        ? set.deviceNumber
        : `the ${kindOf(network).number.word.toLowerCase()} ${set.deviceNumber}`,
  ]
  return [
    {
      label: `Give it ${words.filter((word) => word !== undefined).join(' and ')}`,
      command: {
        type: 'updateStation',
        id: stationId,
        set: {
          ...(set.deviceNumber !== undefined && { deviceNumber: set.deviceNumber }),
          ...(set.ip !== undefined && { settings: { ip: set.ip } }),
        },
      },
    },
  ]
}

/** Whether no other station on the same cable has a name. */
export function isNameFree(plan: Plan, stationId: Id, name: string): boolean {
  const key = nameKey(plan)
  const station = plan.stations[stationId]?.station
  return (
    station !== undefined &&
    Object.values(plan.stations).every(
      (other) => other.station.id === stationId || key(other.station) !== key({ ...station, name }),
    )
  )
}

/** A name as it is if nobody has it, else the next free one after it. */
export function freeNameFor(plan: Plan, stationId: Id, wish: string): string {
  return isNameFree(plan, stationId, wish)
    ? wish
    : nextName(wish, new Set([...namesIn(plan), wireName(wish)]))
}

/** A legal tag as it is if nobody has it, else the next free one after it; null where none is as
 *  short as tags have to be. */
export function freeTag(
  wish: string,
  isTaken: (tag: string) => boolean,
  rules: Pick<ProjectRow, 'tagLength' | 'tagCase' | 'reservedWords'>,
): string | null {
  const isFree = (tag: string) => !isTaken(tag) && tagFault(tag, rules) === null
  let tag = wish
  for (let tries = 0; tries < 1000 && tag.length <= rules.tagLength; tries++) {
    if (isFree(tag)) return tag
    tag = /\d$/.test(tag) ? nextInSeries(tag, 1) : `${tag}_1`
  }
  for (let number = 1; number < 1000; number++) {
    const short = `${wish.slice(0, rules.tagLength - String(number).length - 1).replace(/_+$/, '')}_${number}`
    if (isFree(short)) return short
  }
  return null
}
