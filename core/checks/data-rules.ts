import { oneOr, plural } from '../vocabulary/plural'
import { kindOf, protocolOf } from '../protocols/registry'
import { findDevice } from '../catalog/catalog'
import type { Catalog } from '../catalog/catalog'
import { dataBelow, portKey, submodulesOf } from '../catalog/placed'
import { wordBytes } from '../catalog/words'
import { placeKey, type Derived, type DerivedStation } from '../derive/derive'
import { nextPortCycle } from '../parameters/port-cycle'
import { setPortCommand, submoduleFor, subslotsOf } from '../placement/ports'
import { legalTag, tagFault, tagIdentity } from '../tags/identifier'
import { freeTag } from './free'
import { atModule, atStation, nameOf, stationRule, type Fix } from './finding'

/** Subslots and ports, room in the image, tags, and what the file itself has wrong. */
export const dataRules = [
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
        label: 'Remove',
        command: { type: 'setSubslot', moduleId, subslot, submodule: '', file: '', device: '' },
      },
    ],
  }),

  stationRule<PortFault>({
    code: 'port.device',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      for (const { module, key, part, port } of portsInUse(view, catalog)) {
        const { file, device } = part
        const found = findDevice(catalog, file, device)
        const facts = { moduleId: module.id, key, subslot: numberOf(key), ...part }
        const about = (name: string, fault: string, wider: PortFault['wider'] = null) => ({
          at: atModule(view, module),
          facts: { ...facts, name, fault, wider },
        })
        if (!found) yield about(device, 'its description file is not on the Shelf')
        else if (!port) yield about(found.name, 'there is no port any more')
        else {
          const choices = { plugged: module.plugged, values: (module.row ?? view.station).values }
          const needs = dataBelow(catalog, choices, key) ?? { inputBytes: 0, outputBytes: 0 }
          if (needs.inputBytes <= port.inputBytes && needs.outputBytes <= port.outputBytes) continue
          yield about(
            found.name,
            `it has ${wordBytes(needs)}, the port ${wordBytes(port)}`,
            submoduleFor(view.file, module.described!, numberOf(key), needs),
          )
        }
      }
    },
    say: ({ name, key, subslot, fault }, at) =>
      `${name} below ${wordPort(key, subslot)} at ${at.words} does not work there: ${fault}.`,
    fixes: ({ moduleId, key, subslot, submodule, file, device, wider, name }) => [
      ...(wider
        ? [
            {
              label: `Plug ${wider.name}`,
              command: setPortCommand(
                moduleId,
                { key, subslot },
                { submodule: wider.key, below: { file, device } },
              ),
            } satisfies Fix,
          ]
        : []),
      {
        label: `Take ${name} off the port`,
        command: setPortCommand(moduleId, { key, subslot }, { submodule, below: null }),
      },
    ],
  }),

  stationRule<PortCycle>({
    code: 'port.cycle',
    severity: 'blocker',
    find: function* ({ view, catalog }) {
      for (const { module, key, part } of portsInUse(view, catalog)) {
        const { file, device, cycleUs } = part
        const below = cycleUs === undefined ? null : findDevice(catalog, file, device)
        const leastUs = (below && protocolOf(below).leastCycleUs?.(below)) ?? 0
        if (below && cycleUs! < leastUs)
          yield {
            at: atModule(view, module),
            facts: {
              ...part,
              moduleId: module.id,
              key,
              subslot: numberOf(key),
              name: below.name,
              cycleUs: cycleUs!,
              leastUs,
            },
          }
      }
    },
    say: ({ name, key, subslot, cycleUs, leastUs }, at) =>
      `${key === portKey(subslot) ? `Port ${subslot}` : `The port in subslot ${subslot}`} of ${at.words} is planned with a cycle of ${cycleUs / 1000} ms; ${name} needs ${leastUs / 1000} ms at least.`,
    fixes: ({ moduleId, key, subslot, submodule, file, device, leastUs }) => [
      {
        label: `Set ${(nextPortCycle(leastUs) ?? 0) / 1000} ms`,
        command: setPortCommand(
          moduleId,
          { key, subslot },
          { submodule, below: { file, device }, cycleUs: nextPortCycle(leastUs) ?? 0 },
        ),
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
        label: 'Remove from the module',
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
      `The description file of ${at.words} has ${oneOr(errors, 'an error', 'errors')} (${first}) Ask the maker for a newer one.`,
  }),

  stationRule<{ free: number }>({
    code: 'channels.unnamed',
    severity: 'note',
    find: function* ({ view }) {
      if (view.channels > view.named)
        yield { at: atStation(view), facts: { free: view.channels - view.named } }
    },
    say: ({ free }, at) =>
      `${oneOr(free, 'One channel', 'channels')} of ${at.words} ${plural(free, 'carries', 'carry')} no tag.`,
  }),
]

interface UsedPort {
  readonly moduleId: string
  readonly key: string
  readonly subslot: number
  readonly submodule: string
  readonly file: string
  readonly device: string
  readonly name: string
}

interface PortCycle extends UsedPort {
  readonly cycleUs: number
  readonly leastUs: number
}

interface PortFault extends UsedPort {
  readonly fault: string
  readonly wider: { readonly key: string; readonly name: string } | null
}

/** Ports that a device stands below, with the octets that the port has; null where it is gone. */
function* portsInUse(view: DerivedStation, catalog: Catalog) {
  for (const module of view.modules) {
    for (const [key, part] of Object.entries(module.plugged)) {
      if (part.file === '') continue
      const choices = { plugged: module.plugged, values: (module.row ?? view.station).values }
      const port =
        key === portKey(numberOf(key))
          ? (subslotsOf(catalog, view, module).find((one) => one.key === key)?.size ?? null)
          : ((module.described &&
              submodulesOf(catalog, view.station.file, module.described, choices).find(
                (one) => (one.subslot ?? 1) === Number(key),
              )) ??
            null)
      yield { module, key, part, port }
    }
  }
}

const numberOf = (key: string) => Number(key.replace('p', ''))
const wordPort = (key: string, number: number) =>
  key === portKey(number) ? `port ${number}` : `subslot ${number}`

/** Bytes that a controller has room for as its own sheet says; without one, any. */
function roomOf(
  { stations, plan }: Derived,
  controllerId: string,
  direction: 'in' | 'out',
): number {
  const own = [...stations.values()]
    .map((view) => ({ view, network: plan.networks[view.station.networkId] }))
    .find(({ network }) => network?.controllerId === controllerId && kindOf(network).isController)
    ?.view.device
  const traits = own && 'sheet' in own ? own.sheet.controller : null
  return traits ? (direction === 'in' ? traits.inputBytes : traits.outputBytes) : Infinity
}
