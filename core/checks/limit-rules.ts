import { recordsOnWire } from '../derive/wire-records'
import { protocolOf } from '../protocols/registry'
import type { Module } from '../catalog/model'
import { type DerivedStation } from '../derive/derive'
import { standingRow } from '../placement/candidates'
import {
  isOf,
  missingKinds,
  orderFaults,
  wordOrderFault,
  type OrderFault,
} from '../placement/order'
import { fieldSupplySteps, overdrawn, supplySteps, widthOf } from '../placement/supply'
import { newId } from '../plan/new-id'
import { kindOf } from '../protocols/registry'
import { otherFixes } from './free'
import { atModule, atStation, removal, stationRule, type Fix, type StationScope } from './finding'

/** Limits of the description and of frames, supply, and the order on the rail. */
export const limitRules = [
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
      const parameterSize = view.device && protocolOf(view.device).parameterSize
      if (!parameterSize) return
      const size = parameterSize(view.device, recordsOnWire(view, catalog))
      if (size.bytes > size.limit) yield { at: atStation(view), facts: size }
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
]

/** What is more than the head's description or one frame takes. */
function* overLimits(station: StationScope['view']) {
  const { device } = station
  if (!device || station.modules.length === 0) return
  const { limits } = device
  const protocol = protocolOf(device)
  const withStatus = protocol.limitsIncludeStatus?.(device) ?? false
  const input = withStatus ? station.inputFrameBytes : station.inputBytes
  const output = withStatus ? station.outputFrameBytes : station.outputBytes
  const status = withStatus ? ' with status bytes' : ''
  const described = 'its head takes'
  const sizes = [
    { what: `input data${status}`, bytes: input, limit: limits.inputBytes, source: described },
    { what: `output data${status}`, bytes: output, limit: limits.outputBytes, source: described },
    {
      what: `data both ways${status}`,
      bytes: input + output,
      limit: limits.dataBytes,
      source: described,
    },
    ...(protocol.sizes?.(station) ?? []),
  ]
  for (const size of sizes) {
    const { limit } = size
    if (limit !== null && size.bytes > limit) yield { ...size, limit }
  }
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
