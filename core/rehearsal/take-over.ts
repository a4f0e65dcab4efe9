import type { SingleCommand } from '../plan/commands'
import { newId } from '../plan/new-id'
import type { FoundDevice } from '../protocols/master'
import { compareModules, type SlotComparison } from './compare'
import type { PlannedStation } from './planned'

/** Commands that make a station's modules those that its device has, in all slots or in some:
 *  modules that only stand elsewhere are moved and keep their signals. `unknown`: slots whose module
 *  the description does not know. */
export function takeOverModules(
  station: PlannedStation,
  device: FoundDevice,
  slots?: readonly number[],
): { readonly commands: readonly SingleCommand[]; readonly unknown: readonly number[] } {
  const wanted = slots ? new Set(slots) : null
  const different = compareModules(station, device).filter(
    ({ slot, state }) => state !== 'same' && slot > 0 && (!wanted || wanted.has(slot)),
  )
  const ids = new Map(station.view.modules.map(({ slot, id, row }) => [slot, row ? id : null]))
  const keyOf = (slot: SlotComparison) => moduleKey(station, slot.foundIdent)
  const unknown = different
    .filter((slot) => slot.foundIdent !== null && keyOf(slot) === null)
    .map(({ slot }) => slot)
  const known = different.filter(({ slot }) => !unknown.includes(slot))
  const removed = known.flatMap(({ slot, state }) => {
    const id = ids.get(slot)
    return state === 'missing' && id ? [id] : []
  })
  const commands: SingleCommand[] = []
  if (removed.length > 0) commands.push({ type: 'removeModules', ids: removed })
  const moved = new Set<number>()
  for (const slot of known) {
    const id = ids.get(slot.slot)
    const partner = known.find(
      (other) =>
        slot.state === 'swapped' &&
        other.state === 'swapped' &&
        other.slot > slot.slot &&
        other.planned === slot.found &&
        other.found === slot.planned,
    )
    if (moved.has(slot.slot) || !keyOf(slot)) continue
    const module = keyOf(slot)!
    if (partner && id && ids.get(partner.slot)) {
      commands.push(...exchange(station.id, ids, slot.slot, partner.slot))
      moved.add(partner.slot)
    } else if (slot.state === 'surplus')
      commands.push({
        type: 'insertModule',
        id: newId(),
        stationId: station.id,
        slot: slot.slot,
        module,
        shift: false,
      })
    else if (id) commands.push({ type: 'replaceModule', id, module })
  }
  return { commands, unknown }
}

/** Two modules take each other's place; moving onto a taken slot closes up, so that the one further
 *  back goes first, then what was pushed goes where it belongs. */
function exchange(
  stationId: string,
  ids: ReadonlyMap<number, string | null>,
  first: number,
  second: number,
): SingleCommand[] {
  const [a, b] = [ids.get(first)!, ids.get(second)!]
  return [
    { type: 'moveModule', id: b, stationId, slot: first },
    { type: 'moveModule', id: a, stationId, slot: second },
  ]
}

/** Key of a module of the station's file by how the wire calls it; of several alike the one whose
 *  name comes first in the file. */
function moduleKey({ view, moduleNames }: PlannedStation, ident: string | null): string | null {
  if (ident === null) return null
  const name = moduleNames[ident]
  return view.file?.modules.find((module) => module.name === name)?.key ?? null
}
