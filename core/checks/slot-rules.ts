import { legalStationName, stationNameFault } from '../protocols/profinet/station-name'
import { type DerivedStation } from '../derive/derive'
import { allowedSlots, moduleInSlot, slotOf } from '../placement/slots'
import { proposedModules } from '../placement/candidates'
import { newId } from '../plan/new-id'
import { kindOf, protocolOf } from '../protocols/registry'
import { freeNameFor } from './free'
import { atModule, atSlot, atStation, nameOf, removal, stationRule, type Fix } from './finding'

/** The file of a station, its name, and what stands in its slots. */
export const slotRules = [
  stationRule<{ file: string }>({
    code: 'file.missing',
    severity: 'blocker',
    find: function* ({ view }) {
      if (!view.file) yield { at: atStation(view), facts: { file: view.station.file } }
    },
    say: ({ file }, at) =>
      `The description file of ${at.words} is not on the Shelf (SHA-256 ${file.slice(0, 12)}…); bring the same file in again.`,
  }),

  stationRule<{ key: string; slot: number }>({
    code: 'file.unknownKey',
    severity: 'blocker',
    find: function* ({ view }) {
      if (!view.file) return
      for (const module of view.modules) {
        if (!module.described)
          yield {
            at: atModule(view, module),
            facts: { key: module.row?.module ?? view.station.device, slot: module.slot },
          }
      }
    },
    say: ({ key }, at) =>
      `The description file has nothing called "${key}" for ${at.words}; take another module.`,
    fixes: ({ slot }, at) => (slot === 0 ? [] : [removal(at)]),
  }),

  stationRule<{ name: string; fault: string; legal: string }>({
    code: 'station.name',
    severity: 'blocker',
    find: function* ({ view, network }) {
      if (!network || !kindOf(network).hasWireNames) return
      const { name } = view.station
      const fault = stationNameFault(name)
      if (fault)
        yield {
          at: atStation(view),
          facts: {
            name,
            fault,
            legal: legalStationName(name === '' ? (view.device?.name ?? 'station') : name),
          },
        }
    },
    say: ({ name, fault }) => `"${name}" is no PROFINET station name: ${fault}.`,
    fixes: ({ legal }, { id }, _, { plan }) => {
      const free = freeNameFor(plan, id, legal)
      return [
        { label: `Name it ${free}`, command: { type: 'updateStation', id, set: { name: free } } },
      ]
    },
  }),

  stationRule<{ module: string; slots: string; free: number | null; known: boolean }>({
    code: 'module.slot',
    severity: 'blocker',
    find: function* ({ view }) {
      if (!view.device) return
      for (const module of view.modules) {
        if (!module.row || !module.described) continue
        const slot = slotOf(view.device, module.slot)
        if (slot?.allowed.includes(module.row.module)) continue
        const free = view.device.slots.find(
          (candidate) =>
            candidate.allowed.includes(module.row!.module) &&
            !moduleInSlot(view.group.modules, candidate.slot),
        )
        yield {
          at: atModule(view, module),
          facts: {
            module: module.described.name,
            slots: allowedSlots(view.device, module.row.module),
            free: free?.slot ?? null,
            known: slot !== null,
          },
        }
      }
    },
    say: ({ module, slots, known }, at) =>
      `${known ? 'Slot' : 'The head has no slot'} ${at.slot} of ${nameOf(at.station!)} ${known ? `does not take ${module}` : `for ${module}`}: the description allows ${slots === '' ? 'it in no slot of this head' : `slots ${slots}`}.`,
    fixes: ({ free }, at) => [
      ...(free === null
        ? []
        : [
            {
              label: `Move it to slot ${free}`,
              command: { type: 'moveModule', id: at.id, stationId: at.stationId!, slot: free },
            } satisfies Fix,
          ]),
      removal(at),
    ],
  }),

  stationRule<{ slot: number; key: string; module: string }>({
    code: 'slot.fixedEmpty',
    severity: 'blocker',
    find: function* ({ view }) {
      for (const { slot, fixed } of view.device?.slots ?? []) {
        if (fixed === null || moduleInSlot(view.group.modules, slot)) continue
        yield {
          at: atSlot(view, slot),
          facts: {
            slot,
            key: fixed,
            module: view.file?.modules.find(({ key }) => key === fixed)?.name ?? fixed,
          },
        }
      }
    },
    say: ({ slot, module }, at) =>
      `Slot ${slot} of ${nameOf(at.station!)} is empty; the description fixes ${module} there.`,
    fixes: ({ slot, key, module }, at) => [
      {
        label: `Insert ${module}`,
        command: {
          type: 'insertModule',
          id: newId(),
          stationId: at.stationId!,
          slot,
          module: key,
          shift: false,
        },
      },
    ],
  }),

  stationRule<{ slot: number; candidates: { key: string; name: string }[] }>({
    code: 'station.empty',
    severity: 'blocker',
    find: function* ({ view }) {
      const { device, modules } = view
      if (!device || device.slots.length === 0 || modules.length > 1) return
      const first = device.slots.find(({ allowed }) => allowed.length > 0)
      if (!first) return
      const candidates = first.allowed.slice(0, 3).map((key) => ({
        key,
        name: view.file?.modules.find((module) => module.key === key)?.name ?? key,
      }))
      yield { at: atStation(view), facts: { slot: first.slot, candidates } }
    },
    say: (_, at) => `${at.words} has no module; a modular station needs at least one.`,
    fixes: ({ slot, candidates }, at, { view }) => [
      ...asProposed(view),
      ...candidates.map(({ key, name }): Fix => ({
        label: `Insert ${name} in slot ${slot}`,
        command: {
          type: 'insertModule',
          id: newId(),
          stationId: at.id,
          slot,
          module: key,
          shift: false,
        },
      })),
    ],
  }),

  stationRule<{
    gap: number
    behind: number
    filler: { key: string; name: string } | null
    moves: readonly { id: string; slot: number }[]
  }>({
    code: 'slot.gap',
    severity: 'blocker',
    find: function* ({ view }) {
      const { device, modules } = view
      if (!device || !protocolOf(device).isGapless) return
      const standing = modules
        .filter(({ row }) => row)
        .map(({ id, slot }) => ({ id, slot }))
        .sort((a, b) => a.slot - b.slot)
      const numbers = device.slots.map(({ slot }) => slot)
      const at = standing.findIndex(
        ({ slot }, i) => numbers[i] !== undefined && slot !== numbers[i],
      )
      const gap = numbers[at]
      if (at < 0 || gap === undefined || standing[at]!.slot < gap) return
      const filler =
        view.file?.modules.find(
          ({ key, name, inputBytes, outputBytes }) =>
            inputBytes + outputBytes === 0 &&
            /empty|free|blank|leer/i.test(name) &&
            slotOf(device, gap)?.allowed.includes(key),
        ) ?? null
      yield {
        at: atSlot(view, gap),
        facts: {
          gap,
          behind: standing[at]!.slot,
          filler: filler && { key: filler.key, name: filler.name },
          moves: standing.slice(at).map(({ id }, i) => ({ id, slot: numbers[at + i]! })),
        },
      }
    },
    say: ({ gap, behind }, at) =>
      `Slot ${gap} of ${nameOf(at.station!)} is empty, and a module stands behind it in slot ${behind}: the configuration names modules one after the other, so the device would refuse it.`,
    fixes: ({ gap, filler, moves }, at) => [
      ...(filler
        ? [
            {
              label: `Insert ${filler.name} in slot ${gap}`,
              command: {
                type: 'insertModule',
                id: newId(),
                stationId: at.stationId!,
                slot: gap,
                module: filler.key,
                shift: false,
              },
            } satisfies Fix,
          ]
        : []),
      {
        label: 'Close the gap',
        command: {
          type: 'batch',
          label: `Close the gap at slot ${gap}`,
          commands: moves.map(({ id, slot }) => ({
            type: 'moveModule',
            id,
            stationId: at.stationId!,
            slot,
          })),
        },
      },
    ],
  }),
]

/** All that the description proposes for empty slots, in one step. */
function asProposed(view: DerivedStation): Fix[] {
  const commands = [...proposedModules(view)]
  const label = `Insert the ${commands.length} modules that its description proposes`
  return commands.length > 1 ? [{ label, command: { type: 'batch', label, commands } }] : []
}
