import { z } from 'zod'
import type { Catalog } from '../catalog/catalog'
import { findModule } from '../catalog/catalog'
import { slotOf } from '../placement/slots'
import { applyCommand } from './apply'
import type { SingleCommand } from '../plan/commands'
import { moduleRow, signalRow, type Id, type ModuleRow, type Plan } from '../plan/model'
import { newId } from '../plan/new-id'
import { wordRefusal } from '../plan/refusals'
import { placeOf } from '../vocabulary/data-place'

/** Modules as they travel over the clipboard, also to another project: their type, place and
 *  signals, and nothing of the plan they came from. */
export const clip = z
  .object({
    kataxisClip: z.literal(1),
    modules: z
      .array(
        z
          .object({
            file: z.string().min(1).max(64),
            module: moduleRow.shape.module,
            slot: moduleRow.shape.slot,
            plugged: moduleRow.shape.plugged,
            layouts: moduleRow.shape.layouts,
            orders: moduleRow.shape.orders,
            values: moduleRow.shape.values,
            signals: z.array(
              signalRow
                .pick({ tag: true, comment: true, terminal: true, facts: true })
                .extend({
                  subslot: z.number().int(),
                  direction: z.enum(['in', 'out']),
                  offsetBits: z.number().int(),
                  part: z.literal(true).optional(),
                })
                .strict(),
            ),
          })
          .strict(),
      )
      .min(1)
      .max(10_000),
  })
  .strict()
export type Clip = z.infer<typeof clip>

/** Takes modules up in slot order, station by station; fixed ones of a head do not travel. */
export function copyModules(plan: Plan, catalog: Catalog, ids: ReadonlySet<Id>): Clip | null {
  const modules = Object.values(plan.stations).flatMap(({ station, modules: rows, signals }) => {
    const device = catalog.get(station.file)?.devices.find(({ key }) => key === station.device)
    return Object.values(rows)
      .filter(
        (row) => ids.has(row.id) && !(device && slotOf(device, row.slot)?.fixed === row.module),
      )
      .sort((a, b) => a.slot - b.slot)
      .map((row) => ({
        file: station.file,
        module: row.module,
        slot: row.slot,
        plugged: row.plugged,
        layouts: row.layouts,
        orders: row.orders,
        values: row.values,
        signals: Object.values(signals).flatMap(({ place, tag, comment, terminal, facts }) =>
          place?.moduleId === row.id
            ? [
                {
                  tag,
                  comment,
                  terminal,
                  facts,
                  ...placeOf(place),
                },
              ]
            : [],
        ),
      }))
  })
  return modules.length === 0 ? null : { kataxisClip: 1, modules }
}

/** The clip in a text, or null where the text is something else. */
export function parseClip(text: string): Clip | null {
  try {
    const parsed = clip.safeParse(JSON.parse(text))
    return parsed.success ? parsed.data : null
  } catch {
    return null
  }
}

export interface Pasting {
  /** Inserts what fits; empty where nothing does. */
  readonly commands: readonly SingleCommand[]
  readonly placed: readonly { readonly id: Id; readonly slot: number }[]
  /** What does not fit, with the reason. */
  readonly left: readonly { readonly words: string; readonly why: string }[]
}

/** Where modules of a clip would stand from `slot` on: with the same distances where those slots
 *  are free and allowed, else in the next free slot that takes them. Tags that the plan has already
 *  are left out, so that none stands twice. */
export function planPaste(
  plan: Plan,
  catalog: Catalog,
  { modules }: Clip,
  stationId: Id,
  slot: number,
): Pasting {
  const commands: SingleCommand[] = []
  const placed: { id: Id; slot: number }[] = []
  const left: { words: string; why: string }[] = []
  const tags = new Set(
    [
      ...Object.values(plan.stations).flatMap(({ signals }) => Object.values(signals)),
      ...Object.values(plan.unplaced),
    ].map(({ tag }) => tag.toUpperCase()),
  )
  const slots = (
    catalog
      .get(plan.stations[stationId]?.station.file ?? '')
      ?.devices.find(({ key }) => key === plan.stations[stationId]!.station.device)?.slots ?? []
  ).map(({ slot: number }) => number)
  const first = Math.min(...modules.map((module) => module.slot))
  let current = plan
  for (const module of modules) {
    const wished = slot + module.slot - first
    const file = plan.stations[stationId]?.station.file
    const described = file === module.file ? findModule(catalog, module.file, module.module) : null
    const words = described?.name ?? module.module
    if (!described) {
      left.push({ words, why: 'the station stands on another description file' })
      continue
    }
    const id = newId()
    let why = 'no free slot behind this one takes it'
    for (const candidate of [wished, ...slots.filter((number) => number > wished)]) {
      const insert: SingleCommand = {
        type: 'insertModule',
        id,
        stationId,
        slot: candidate,
        module: module.module,
        shift: false,
        plugged: module.plugged,
        layouts: module.layouts,
        orders: module.orders,
        values: module.values,
      }
      const applied = applyCommand(current, catalog, insert)
      if (!applied.ok) {
        if (candidate === wished) why = wordRefusal(applied.refusal)
        continue
      }
      commands.push(insert, ...signalsOf(id, module, tags))
      placed.push({ id, slot: candidate })
      current = applied.plan
      why = ''
      break
    }
    if (why !== '') left.push({ words, why })
  }
  return { commands, placed, left }
}

function signalsOf(
  moduleId: Id,
  { signals }: Clip['modules'][number],
  tags: Set<string>,
): SingleCommand[] {
  const edits = signals
    .map(({ tag, comment, terminal, facts, ...place }) => {
      const isTaken = tags.has(tag.toUpperCase())
      if (!isTaken) tags.add(tag.toUpperCase())
      return {
        id: newId(),
        place: { moduleId, ...place },
        tag: isTaken ? '' : tag,
        comment,
        terminal,
        facts,
      }
    })
    .filter(
      ({ tag, comment, terminal, facts }) =>
        tag + comment + terminal !== '' || Object.keys(facts).length > 0,
    )
  return edits.length === 0 ? [] : [{ type: 'editSignals', edits }]
}

/** Fills every free slot of a station from `slot` on that takes the module. */
export function planFill(
  plan: Plan,
  catalog: Catalog,
  stationId: Id,
  slot: number,
  module: ModuleRow['module'],
): SingleCommand[] {
  const group = plan.stations[stationId]
  const device =
    group &&
    catalog.get(group.station.file)?.devices.find(({ key }) => key === group.station.device)
  if (!group || !device) return []
  const taken = new Set(Object.values(group.modules).map((row) => row.slot))
  return device.slots
    .filter(
      (candidate) =>
        candidate.slot >= slot && !taken.has(candidate.slot) && candidate.allowed.includes(module),
    )
    .map((candidate) => ({
      type: 'insertModule',
      id: newId(),
      stationId,
      slot: candidate.slot,
      module,
      shift: false,
    }))
}
