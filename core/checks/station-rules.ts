import { legalStationName, stationNameFault } from '../addressing/station-name'
import { findDevice } from '../catalog/catalog'
import type { Module } from '../catalog/model'
import { dataBelow, submodulesOf } from '../catalog/placed'
import { wordBytes } from '../catalog/words'
import { placeKey, type Derived, type DerivedStation } from '../derive/derive'
import { allowedSlots, moduleInSlot, slotOf } from '../placement/slots'
import { proposedModules, standingRow } from '../placement/candidates'
import {
  isOf,
  missingKinds,
  orderFaults,
  wordOrderFault,
  type OrderFault,
} from '../placement/order'
import { mostUserParameters, userParameters } from '../derive/set-prm'
import { nextPortCycle } from '../parameters/port-cycle'
import { submoduleFor } from '../placement/ports'
import { fieldSupplySteps, overdrawn, supplySteps, widthOf } from '../placement/supply'
import { newId } from '../plan/new-id'
import { kindOf } from '../protocols/network-kinds'
import { legalTag, tagFault, tagIdentity } from '../tags/identifier'
import { freeNameFor, freeTag, otherFixes } from './free'
import {
  atModule,
  atSlot,
  atStation,
  nameOf,
  stationRule,
  type FindingPlace,
  type Fix,
  type StationScope,
} from './finding'

/** Rules that need nothing but one station, its network and its controller. */
export const stationRules = [
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
      // Chk_Cfg names the modules one after the other, without their slots (EN 50170, IEC
      // 61158-6-3; from memory).
      if (device?.protocol !== 'profibus') return
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

  stationRule<{
    what: string
    bytes: number
    limit: number
    lastModule: string | null
    source: string
  }>({
    code: 'station.dataLength',
    severity: 'blocker',
    find: function* ({ view }) {
      for (const found of overLimits(view))
        yield {
          at: atStation(view),
          facts: {
            ...found,
            lastModule:
              view.modules.findLast(({ row, layout }) => row && layout && layout.blocks.length > 0)
                ?.id ?? null,
          },
        }
    },
    say: ({ what, bytes, limit, source }, at) =>
      `${at.words} has ${bytes} bytes of ${what}; ${source} at most ${limit}.`,
    fixes: ({ lastModule }, at) =>
      lastModule === null
        ? []
        : [{ ...removal({ ...at, id: lastModule }), label: 'Remove its last module' }],
  }),

  stationRule<{ bytes: number; limit: number; source: string }>({
    code: 'station.userParameters',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      if (view.device?.protocol !== 'profibus') return
      const bytes = userParameters(view, catalog).reduce((sum, part) => sum + part.bytes.length, 0)
      const stated = view.device.limits.parameterBytes
      const limit = Math.min(stated ?? mostUserParameters, mostUserParameters)
      if (bytes > limit)
        yield {
          at: atStation(view),
          facts: {
            bytes,
            limit,
            source:
              stated === limit
                ? 'its description allows (Max_User_Prm_Data_Len)'
                : 'one Set_Prm telegram carries',
          },
        }
    },
    say: ({ bytes, limit, source }, at) =>
      `${at.words} has ${bytes} octets of user parameters; ${source} at most ${limit}.`,
  }),

  stationRule<{ number: number; word: string; range: string; network: string }>({
    code: 'station.number',
    severity: 'blocker',
    find: function* ({ view, network }) {
      if (!network) return
      const { word, first, last } = kindOf(network).number
      const { deviceNumber: number } = view.station
      if (number < first || number > last)
        yield {
          at: atStation(view),
          facts: { number, word, range: `${first} to ${last}`, network: kindOf(network).name },
        }
    },
    say: ({ number, word, range, network }, at) =>
      `${at.words} has the ${word.toLowerCase()} ${number}; on ${network} it lies from ${range}.`,
    fixes: (_, { id }, __, now) => otherFixes(now, id, 'deviceNumber'),
  }),

  stationRule<{ modules: number; limit: number; last: string }>({
    code: 'station.moduleCount',
    severity: 'blocker',
    find: function* ({ view }) {
      const limit = view.device?.limits.modules ?? null
      const modules = view.modules.filter(({ row }) => row)
      if (limit !== null && modules.length > limit)
        yield {
          at: atStation(view),
          facts: { modules: modules.length, limit, last: modules.at(-1)!.id },
        }
    },
    say: ({ modules, limit }, at) =>
      `${at.words} has ${modules} modules; its head takes at most ${limit}.`,
    fixes: ({ last }, at) => [{ ...removal({ ...at, id: last }), label: 'Remove its last module' }],
  }),

  stationRule<{ drawnMa: number; suppliedMa: number; isHead: boolean }>({
    code: 'station.supply',
    severity: 'blocker',
    find: function* ({ view, network }) {
      if (network && kindOf(network).sharesBackplane) return
      for (const { module, drawnMa, suppliedMa } of overdrawn(supplySteps(view.modules)))
        yield {
          at: atModule(view, module),
          facts: { drawnMa, suppliedMa, isHead: module.row === null },
        }
    },
    say: ({ drawnMa, suppliedMa }, at) =>
      `With ${at.words} the backplane gives ${drawnMa} mA, but its supply only lasts for ${suppliedMa} mA; a feed is needed before it.`,
    fixes: ({ isHead }, at) => (isHead ? [] : [removal(at)]),
  }),

  stationRule<{ drawnMa: number; suppliedMa: number; isHead: boolean }>({
    code: 'station.fieldSupply',
    severity: 'blocker',
    find: function* ({ view }) {
      for (const { module, drawnMa, suppliedMa } of overdrawn(fieldSupplySteps(view.modules)))
        yield {
          at: atModule(view, module),
          facts: { drawnMa, suppliedMa, isHead: module.row === null },
        }
    },
    say: ({ drawnMa, suppliedMa }, at) =>
      `With ${at.words} its potential group draws ${drawnMa} mA, but the field supply of the group lasts for ${suppliedMa} mA; a feed is needed before it.`,
    fixes: ({ isHead }, at) => (isHead ? [] : [removal(at)]),
  }),

  stationRule<{
    fault: OrderFault
    to: number | null
    helper: { slot: number; key: string; name: string } | null
  }>({
    code: 'module.order',
    severity: 'blocker',
    find: function* ({ view }) {
      if (!view.device) return
      const row = standingRow(view)
      for (const fault of orderFaults(view.device, row)) {
        const module = view.modules.find(({ row: own, slot }) => own && slot === fault.slot)!
        yield { at: atModule(view, module), facts: { fault, ...wayOut(view, fault) } }
      }
    },
    say: ({ fault }, at) => `${at.words} is out of order: ${wordOrderFault(fault)}.`,
    fixes: ({ to, helper }, at) => [
      ...(helper
        ? [
            {
              label: `Insert ${helper.name} in slot ${helper.slot}`,
              command: {
                type: 'insertModule',
                id: newId(),
                stationId: at.stationId!,
                slot: helper.slot,
                module: helper.key,
                shift: true,
              },
            } satisfies Fix,
          ]
        : []),
      ...(to === null
        ? []
        : [
            {
              label: `Move it to slot ${to}`,
              command: { type: 'moveModule', id: at.id, stationId: at.stationId!, slot: to },
            } satisfies Fix,
          ]),
      removal(at),
    ],
  }),

  stationRule<{ kind: string; helper: { slot: number; key: string; name: string } | null }>({
    code: 'station.requires',
    severity: 'blocker',
    find: function* ({ view }) {
      if (!view.device) return
      const row = standingRow(view)
      for (const kind of missingKinds(view.device, row))
        yield {
          at: atStation(view),
          facts: {
            kind,
            helper: moduleFor(view, (module) => isOf(module, kind), (row.at(-1)?.slot ?? 0) + 1),
          },
        }
    },
    say: ({ kind }, at) => `${at.words} has no module of the kind "${kind}"; its head needs one.`,
    fixes: ({ helper }, at) =>
      helper
        ? [
            {
              label: `Insert ${helper.name} in slot ${helper.slot}`,
              command: {
                type: 'insertModule',
                id: newId(),
                stationId: at.id,
                slot: helper.slot,
                module: helper.key,
                shift: false,
              },
            },
          ]
        : [],
  }),

  stationRule<{ widthMm: number; railMm: number; last: string | null }>({
    code: 'station.width',
    severity: 'blocker',
    find: function* ({ view, project }) {
      const railMm = view.station.railMm || project.railMm
      const widthMm = widthOf(view)
      if (railMm > 0 && widthMm > railMm)
        yield {
          at: atStation(view),
          facts: { widthMm, railMm, last: view.modules.findLast(({ row }) => row)?.id ?? null },
        }
    },
    say: ({ widthMm, railMm }, at) =>
      `${at.words} is ${widthMm} mm wide; its rail has ${railMm} mm.`,
    fixes: ({ last, widthMm }, at) => [
      ...(last === null
        ? []
        : [{ ...removal({ ...at, id: last }), label: 'Remove its last module' }]),
      {
        label: `Plan a rail of ${Math.ceil(widthMm)} mm`,
        command: { type: 'updateStation', id: at.id, set: { railMm: Math.ceil(widthMm) } },
      },
    ],
  }),

  stationRule<{ subslot: number; module: string; submodule: string; moduleId: string }>({
    code: 'module.subslot',
    severity: 'blocker',
    find: function* ({ view }) {
      for (const module of view.modules) {
        if (!module.described) continue
        for (const [subslot, { submodule }] of Object.entries(module.plugged)) {
          if (
            submodule === '' ||
            module.described.subslots.some(
              (one) => one.subslot === Number(subslot) && one.allowed.includes(submodule),
            )
          )
            continue
          yield {
            at: atModule(view, module),
            facts: {
              subslot: Number(subslot),
              module: module.described.name,
              submodule,
              moduleId: module.id,
            },
          }
        }
      }
    },
    say: ({ subslot, module, submodule }, at) =>
      `Subslot ${subslot} at ${at.words} holds ${submodule}, which the description of ${module} does not allow there.`,
    fixes: ({ subslot, moduleId }) => [
      {
        label: 'Take it out',
        command: { type: 'setSubslot', moduleId, subslot, submodule: '', file: '', device: '' },
      },
    ],
  }),

  stationRule<PortFault>({
    code: 'port.device',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      for (const module of view.modules) {
        const choices = { plugged: module.plugged, values: (module.row ?? view.station).values }
        for (const [subslot, { submodule, file, device }] of Object.entries(module.plugged)) {
          if (file === '') continue
          const facts = { moduleId: module.id, subslot: Number(subslot), submodule, file, device }
          const found = findDevice(catalog, file, device)
          const port =
            module.described &&
            submodulesOf(catalog, view.station.file, module.described, choices).find(
              (one) => (one.subslot ?? 1) === Number(subslot),
            )
          if (!found)
            yield {
              at: atModule(view, module),
              facts: {
                ...facts,
                name: device,
                fault: 'its description file is not on the Shelf',
                wider: null,
              },
            }
          else if (!port)
            yield {
              at: atModule(view, module),
              facts: {
                ...facts,
                name: found.name,
                fault: 'there is no port any more',
                wider: null,
              },
            }
          else {
            const needs = dataBelow(catalog, choices, subslot) ?? { inputBytes: 0, outputBytes: 0 }
            if (needs.inputBytes <= port.inputBytes && needs.outputBytes <= port.outputBytes)
              continue
            yield {
              at: atModule(view, module),
              facts: {
                ...facts,
                name: found.name,
                fault: `it has ${wordBytes(needs)}, the port ${wordBytes(port)}`,
                wider: submoduleFor(view.file, module.described!, Number(subslot), needs),
              },
            }
          }
        }
      }
    },
    say: ({ name, subslot, fault }, at) =>
      `${name} below subslot ${subslot} at ${at.words} does not work there: ${fault}.`,
    fixes: ({ wider, name, fault: _fault, ...port }) => [
      ...(wider
        ? [
            {
              label: `Plug ${wider.name}`,
              command: { ...port, type: 'setSubslot', submodule: wider.key },
            } satisfies Fix,
          ]
        : []),
      {
        label: `Take ${name} off the port`,
        command: {
          type: 'setSubslot',
          moduleId: port.moduleId,
          subslot: port.subslot,
          submodule: port.submodule,
          file: '',
          device: '',
        },
      },
    ],
  }),

  stationRule<{
    moduleId: string
    subslot: number
    submodule: string
    file: string
    device: string
    name: string
    cycleUs: number
    leastUs: number
  }>({
    code: 'port.cycle',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      for (const module of view.modules) {
        for (const [subslot, { submodule, file, device, cycleUs }] of Object.entries(
          module.plugged,
        )) {
          const below = cycleUs === undefined ? null : findDevice(catalog, file, device)
          const leastUs = below?.protocol === 'io-link' ? (below.ioLink.minCycleTimeUs ?? 0) : 0
          if (below && cycleUs! < leastUs)
            yield {
              at: atModule(view, module),
              facts: {
                moduleId: module.id,
                subslot: Number(subslot),
                submodule,
                file,
                device,
                name: below.name,
                cycleUs: cycleUs!,
                leastUs,
              },
            }
        }
      }
    },
    say: ({ name, subslot, cycleUs, leastUs }, at) =>
      `The port in subslot ${subslot} of ${at.words} is planned with a cycle of ${cycleUs / 1000} ms; ${name} needs ${leastUs / 1000} ms at least.`,
    fixes: ({ name: _name, leastUs, ...port }) => [
      {
        label: `Set ${(nextPortCycle(leastUs) ?? 0) / 1000} ms`,
        command: { ...port, type: 'setSubslot', cycleUs: nextPortCycle(leastUs) ?? 0 },
      },
    ],
  }),

  stationRule<{
    direction: 'in' | 'out'
    last: number
    size: number
    controllerId: string
    controller: string
  }>({
    code: 'image.overrun',
    severity: 'blocker',
    find: function* ({ view, controller }) {
      if (!controller) return
      for (const { module, block, byte } of view.blocks) {
        const size = block.direction === 'in' ? controller.inputBytes : controller.outputBytes
        if (byte + block.bytes > size)
          yield {
            at: atModule(view, module),
            facts: {
              direction: block.direction,
              last: byte + block.bytes - 1,
              size,
              controllerId: controller.id,
              controller: controller.name,
            },
          }
      }
    },
    say: ({ direction, last, size, controller }, at) =>
      `${at.words} reaches ${direction === 'in' ? 'input' : 'output'} byte ${last}; ${controller} has ${size} (bytes 0 to ${size - 1}).`,
    fixes: ({ direction, last, controllerId, controller }, at, _, now) => [
      { label: 'Move it to free bytes', command: { type: 'readdress', moduleId: at.id } },
      ...(last < 1_048_576 && last < roomOf(now, controllerId, direction)
        ? [
            {
              label: `Enlarge ${controller} to ${last + 1}`,
              command: {
                type: 'updateController',
                id: controllerId,
                set: direction === 'in' ? { inputBytes: last + 1 } : { outputBytes: last + 1 },
              },
            } satisfies Fix,
          ]
        : []),
    ],
  }),

  stationRule<{ tag: string; fault: string; legal: string }>({
    code: 'tag.illegal',
    severity: 'blocker',
    find: function* ({ view, project }) {
      for (const module of view.modules) {
        for (const signal of module.signals.values()) {
          const fault = signal.tag === '' ? null : tagFault(signal.tag, project)
          if (fault)
            yield {
              at: { ...atModule(view, module), kind: 'signal', id: signal.id },
              facts: { tag: signal.tag, fault, legal: legalTag(signal.tag, project) },
            }
        }
      }
    },
    say: ({ tag, fault }) => `The tag "${tag}" is no IEC 61131-3 identifier: ${fault}.`,
    fixes: ({ legal }, { id }, { project }, { plan }) => {
      const tags = new Set(
        [plan.unplaced, ...Object.values(plan.stations).map(({ signals }) => signals)].flatMap(
          (signals) =>
            Object.values(signals).flatMap((one) => (one.id === id ? [] : tagIdentity(one.tag))),
        ),
      )
      const free =
        legal === '' ? null : freeTag(legal, (tag) => tags.has(tagIdentity(tag)), project)
      return free === null
        ? []
        : [
            {
              label: `Call it ${free}`,
              command: { type: 'editSignals', edits: [{ id, tag: free }] },
            },
          ]
    },
  }),

  stationRule<{ tag: string }>({
    code: 'signal.noChannel',
    severity: 'blocker',
    find: function* ({ view }) {
      for (const module of view.modules) {
        if (!module.layout || module.signals.size === 0) continue
        let placed = 0
        for (const channel of module.layout.channels)
          if (module.signals.has(placeKey(channel))) placed++
        if (placed === module.signals.size) continue
        const channels = new Set(module.layout.channels.map(placeKey))
        for (const [key, { id, tag }] of module.signals) {
          if (!channels.has(key))
            yield { at: { ...atModule(view, module), kind: 'signal', id }, facts: { tag } }
        }
      }
    },
    say: ({ tag }, at) =>
      `The signal ${nameOf(tag)} sits at ${at.words} on a place where that module has no channel.`,
    fixes: (_, { id }) => [
      {
        label: 'Take it off the module',
        command: { type: 'editSignals', edits: [{ id, place: null }] },
      },
    ],
  }),

  stationRule<{ errors: number; first: string }>({
    code: 'file.problems',
    severity: 'warning',
    find: function* ({ view }) {
      const errors = view.file?.problems.filter(({ severity }) => severity === 'error') ?? []
      const [first] = errors
      if (first)
        yield {
          at: atStation(view),
          facts: { errors: errors.length, first: `line ${first.line}: ${first.message}` },
        }
    },
    say: ({ errors, first }, at) =>
      `The description file of ${at.words} has ${errors === 1 ? 'an error' : `${errors} errors`} (${first}) Ask the maker for a newer one.`,
  }),

  stationRule<{ free: number }>({
    code: 'channels.unnamed',
    severity: 'note',
    find: function* ({ view }) {
      if (view.channels > view.named)
        yield { at: atStation(view), facts: { free: view.channels - view.named } }
    },
    say: ({ free }, at) =>
      `${free === 1 ? 'One channel' : `${free} channels`} of ${at.words} ${free === 1 ? 'carries' : 'carry'} no tag.`,
  }),
]

/** Most user data in one frame each way: C_SDU of 1440 octets with status octets (IEC 61158-6-10,
 *  from memory). */
const maxFrameBytes = 1440
/** PROFIBUS DP, EN 50170: data of one telegram each way. */
const maxTelegramBytes = 244

function* overLimits({ device, modules, ...view }: StationScope['view']) {
  if (!device || modules.length === 0) return
  const { limits } = device
  const withStatus = device.protocol === 'profinet' && device.profinet.limitsIncludeStatus
  const input = withStatus ? view.inputFrameBytes : view.inputBytes
  const output = withStatus ? view.outputFrameBytes : view.outputBytes
  const status = withStatus ? ' with status bytes' : ''
  const described = 'its head takes'
  const framed = 'one frame takes'
  const frames = {
    profinet: [
      {
        what: 'input data and status',
        bytes: view.inputFrameBytes,
        limit: maxFrameBytes,
        source: framed,
      },
      {
        what: 'output data and status',
        bytes: view.outputFrameBytes,
        limit: maxFrameBytes,
        source: framed,
      },
    ],
    profibus: [
      { what: 'input data', bytes: view.inputBytes, limit: maxTelegramBytes, source: framed },
      { what: 'output data', bytes: view.outputBytes, limit: maxTelegramBytes, source: framed },
    ],
  }
  const sizes = [
    { what: `input data${status}`, bytes: input, limit: limits.inputBytes, source: described },
    { what: `output data${status}`, bytes: output, limit: limits.outputBytes, source: described },
    {
      what: `data both ways${status}`,
      bytes: input + output,
      limit: limits.dataBytes,
      source: described,
    },
    ...(device.protocol === 'profinet' || device.protocol === 'profibus'
      ? frames[device.protocol]
      : []),
  ]
  for (const size of sizes) {
    const { limit } = size
    if (limit !== null && size.bytes > limit) yield { ...size, limit }
  }
}

interface PortFault {
  readonly moduleId: string
  readonly subslot: number
  readonly submodule: string
  readonly file: string
  readonly device: string
  readonly name: string
  readonly fault: string
  readonly wider: { readonly key: string; readonly name: string } | null
}

/** A module of the file that a rule asks for, for the first slot from there on that takes it. */
function moduleFor(view: DerivedStation, fits: (module: Module) => boolean, from: number) {
  for (const module of view.file?.modules ?? []) {
    if (!fits(module)) continue
    const slot = view.device?.slots.find(
      (one) => one.slot >= from && one.allowed.includes(module.key),
    )
    if (slot) return { slot: slot.slot, key: module.key, name: module.name }
  }
  return null
}

/** How a row comes into order again: where the module could stand, or what could be put before
 *  it. */
function wayOut(view: DerivedStation, { code, slot }: OrderFault) {
  const slots = standingRow(view).map((one) => one.slot)
  if (code === 'lastOfKind') return { to: slots.at(-1)!, helper: null }
  if (code === 'firstOfKind' || code === 'nextToHead') return { to: slots[0]!, helper: null }
  if (code === 'extension')
    return {
      to: null,
      helper: moduleFor(
        view,
        ({ placement }) => (placement?.maxAfterExtension ?? null) !== null,
        slot,
      ),
    }
  if (code === 'maxModules') return { to: null, helper: null }
  const asked = (view.modules.find((one) => one.row && one.slot === slot)?.described as Module)
    .placement!.requiresBefore
  const before = standingRow(view).filter((one) => one.slot < slot)
  const missing = asked.find((kind) => !before.some(({ module }) => isOf(module, kind)))!
  return { to: null, helper: moduleFor(view, (module) => isOf(module, missing), slot) }
}

/** Bytes that a controller has room for as its own sheet says; without one, any. */
function roomOf(
  { stations, plan }: Derived,
  controllerId: string,
  direction: 'in' | 'out',
): number {
  const own = [...stations.values()]
    .map((view) => ({ view, network: plan.networks[view.station.networkId] }))
    .find(({ network }) => network?.controllerId === controllerId && network.kind === 'local')
    ?.view.device
  const traits = own?.protocol === 'local' ? own.sheet.controller : null
  return traits ? (direction === 'in' ? traits.inputBytes : traits.outputBytes) : Infinity
}

/** All that the description proposes for empty slots, in one step. */
function asProposed(view: DerivedStation): Fix[] {
  const commands = [...proposedModules(view)]
  const label = `Insert the ${commands.length} modules that its description proposes`
  return commands.length > 1 ? [{ label, command: { type: 'batch', label, commands } }] : []
}

function removal(at: FindingPlace): Fix {
  return { label: 'Remove it', command: { type: 'removeModules', ids: [at.id] } }
}
