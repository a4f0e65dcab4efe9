import type { Derived } from '../derive/model'
import { kindNamed } from '../protocols/registry'
import type { Difficulty } from './actions'
import { channelsInData } from './channel-places'
import type { SiteDifference } from './differences'
import { plannedNetworks, switchesAt, type PlannedStation } from './planned'

/** How many differences: some, or one for every fourth station and more. */
function countOf(difficulty: Difficulty, stations: number): number {
  if (difficulty === 'none') return 0
  return difficulty === 'few' ? Math.min(4, stations) : Math.max(6, Math.ceil(stations / 4))
}

/** Differences for a rehearsal, by chance from a seed: at most one a station, and one more at its
 *  signals. The same plan and seed give the same. */
export function drawDifferences(
  derived: Derived,
  difficulty: Difficulty,
  seed: number,
): SiteDifference[] {
  const chance = chanceOf(seed)
  const left = plannedNetworks(derived).flatMap(({ stations }) => stations)
  const drawn: SiteDifference[] = []
  for (let count = countOf(difficulty, left.length); count > 0 && left.length > 0; count--) {
    const [station] = left.splice(Math.floor(chance() * left.length), 1) as [PlannedStation]
    const possible = possibleAt(station, chance)
    if (possible.length > 0) drawn.push(possible[Math.floor(chance() * possible.length)]!)
  }
  return drawn
}

/** What may be wrong with a station, one of each kind that it can have. */
function possibleAt(station: PlannedStation, chance: () => number): SiteDifference[] {
  const { name, view, kind } = station
  const pick = <T>(all: readonly T[]): T | undefined => all[Math.floor(chance() * all.length)]
  const assigns = kindNamed(kind).master?.assign !== undefined
  const found: SiteDifference[] = [
    { kind: 'missing', station: name },
    { kind: 'stopped', station: name },
  ]
  if (assigns) found.push({ kind: 'factoryNew', station: name })
  if (station.identity.firmware !== null) found.push({ kind: 'wrongFirmware', station: name })
  const bank = switchesAt(station)
  if (bank) found.push({ kind: 'switches', station: name, value: 90 + Math.floor(chance() * 9) })
  const modules = view.modules.filter(({ slot }) => slot > 0)
  const module = pick(modules)
  if (module) found.push({ kind: 'missingModule', station: name, slot: module.slot })
  const pair = modules.flatMap((one, i) => {
    const next = modules[i + 1]
    return next && next.described !== one.described ? [[one.slot, next.slot] as const] : []
  })
  const swapped = pick(pair)
  if (swapped) found.push({ kind: 'swapped', station: name, slots: [...swapped] })
  const signals = channelsInData(view).filter(({ signal }) => signal.tag !== '')
  const one = pick(signals)
  if (one) found.push({ kind: 'wireBreak', tag: one.signal.tag })
  const like = signals.filter(
    (other) =>
      one &&
      other !== one &&
      other.direction === one.direction &&
      other.channel.bits === one.channel.bits,
  )
  const crossed = pick(like)
  if (one && crossed) found.push({ kind: 'crossed', tags: [one.signal.tag, crossed.signal.tag] })
  return found
}

/** Numbers from 0 up to 1, the same for the same seed (mulberry32, common practice). */
function chanceOf(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32
  }
}
