import type { Catalog } from '../catalog/catalog'
import { layoutOfSubmodules } from '../catalog/layout'
import type { Parameter, Submodule } from '../catalog/model'
import { signalOn, type DerivedModule, type DerivedStation } from '../derive/derive'
import { encodePlaced, recordsOfPlaced, type PlacedRecord } from '../parameters/placed'
import type { SingleCommand } from '../plan/commands'
import { fromHex } from '../vocabulary/hex'
import { portModeOf, portModes, portNumberIn, type PortMode } from '../vocabulary/port'
import { carriesOctets, setPortCommand, type SubslotView } from './ports'

/** A use of a port, and the change that gives it. */
export interface PortUse {
  readonly mode: PortMode
  /** In the words of the description. */
  readonly words: string
  readonly command: SingleCommand
}

/** How a port is used: by a submodule plugged there, or by a parameter of its module, whichever the
 *  description has. */
export interface PortModeView {
  readonly mode: PortMode | null
  readonly uses: readonly PortUse[]
  /** The parameter that says so, and the octets of its record that hold it. */
  readonly parameter: {
    readonly record: PlacedRecord
    readonly parameter: Parameter
    readonly octets: Uint8Array
  } | null
}

/** The mode of a port; without uses where neither subslot nor parameter sets it. */
export function portMode(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  port: SubslotView,
): PortModeView {
  const found = modeParameter(catalog, view, module, port)
  if (found) return byParameter(view, module, found)
  return bySubmodule(module, port)
}

interface ModeParameter {
  readonly placed: PlacedRecord
  readonly parameter: Parameter
  readonly values: ReadonlyMap<PortMode, number>
}

/** The parameter that sets the use of a port: one of its own subslot or with its number, that is
 *  about a mode, and whose words are uses of ports. */
function modeParameter(
  catalog: Catalog,
  { station }: DerivedStation,
  { described, plugged }: DerivedModule,
  port: SubslotView,
): ModeParameter | null {
  if (!described) return null
  for (const placed of recordsOfPlaced(catalog, station.file, described, plugged)) {
    if (/^p?\d+p\./.test(placed.key)) continue
    const isOwn = port.within === null && placed.subslot === port.subslot
    for (const parameter of placed.record.parameters) {
      const heading = (parameter.menus ?? []).flatMap(({ path }) => path).join(' ')
      const about = `${heading} ${placed.record.name ?? ''} ${parameter.name}`
      const number = portNumberIn(parameter.name) ?? portNumberIn(about)
      if (!(number === port.subslot || (isOwn && number === null))) continue
      if (!/mode|function|config|operation|use\b/i.test(about)) continue
      const values = new Map<PortMode, number>()
      for (const [value, text] of Object.entries(parameter.texts)) {
        const mode = portModeOf(text)
        if (mode && !values.has(mode)) values.set(mode, Number(value))
      }
      if (values.size >= 2) return { placed, parameter, values }
    }
  }
  return null
}

function byParameter(
  view: DerivedStation,
  module: DerivedModule,
  { placed, parameter, values }: ModeParameter,
): PortModeView {
  const chosen = (module.row ?? view.station).values[placed.key]
  const value = chosen?.[parameter.key] ?? parameter.default
  const mode = portModes.find((one) => values.get(one) === value) ?? null
  const octets = fromHex(encodePlaced(placed, chosen).bytes)
  const last = Math.ceil((parameter.offsetBits + parameter.bits) / 8)
  return {
    mode,
    uses: portModes.flatMap((one) => {
      const wanted = values.get(one)
      return wanted === undefined
        ? []
        : [
            {
              mode: one,
              words: parameter.texts[String(wanted)] ?? one,
              command: {
                type: 'setParameters' as const,
                edits: [
                  {
                    moduleId: module.id,
                    record: placed.key,
                    parameter: parameter.key,
                    value: wanted,
                  },
                ],
              },
            },
          ]
    }),
    parameter: {
      record: placed,
      parameter,
      octets: octets.subarray(parameter.offsetBytes, parameter.offsetBytes + last),
    },
  }
}

/** What a submodule makes of its port: what carries plain octets takes a device. */
function useOf(submodule: Submodule): PortMode | null {
  if (carriesOctets(submodule)) return 'device'
  const { channels } = layoutOfSubmodules([submodule])
  if (channels.length === 0 || channels.some(({ kind }) => kind !== 'digital')) return null
  const [first] = channels
  return channels.every(({ direction }) => direction === first!.direction) ? first!.direction : null
}

function bySubmodule(module: DerivedModule, port: SubslotView): PortModeView {
  if (port.isFixed || port.allowed.length === 0)
    return { mode: port.below ? 'device' : null, uses: [], parameter: null }
  const kept = port.allowed.find(({ key }) => key === port.submodule) ?? null
  const byMode = new Map<PortMode, Submodule>()
  for (const submodule of port.allowed) {
    const mode = useOf(submodule)
    // What is plugged stays for the use that it has.
    if (mode && (!byMode.has(mode) || submodule === kept)) byMode.set(mode, submodule)
  }
  const use = (mode: PortMode, words: string, submodule: string): PortUse => ({
    mode,
    words,
    command: setPortCommand(module.id, port, {
      submodule,
      below: mode === 'device' ? port.below : null,
    }),
  })
  return {
    mode: kept ? useOf(kept) : port.submodule === '' ? 'off' : null,
    uses: [
      use('off', 'empty', ''),
      ...[...byMode].map(([mode, { key, name }]) => use(mode, name, key)),
    ],
    parameter: null,
  }
}

/** Whether nothing stands below a port and none of its channels carries a signal. */
export function isUnused(module: DerivedModule, port: SubslotView): boolean {
  if (port.below) return false
  const { channels = [] } = module.layout ?? {}
  return channels.every((channel) => !isOfPort(port, channel) || signalOn(module, channel) === null)
}

/** Whether a channel lies in the octets of a port. */
export function isOfPort(
  { within, subslot, size }: SubslotView,
  channel: { subslot: number; direction: 'in' | 'out'; offsetBits: number },
): boolean {
  if (!within) return channel.subslot === subslot
  const from = within[channel.direction]
  const bytes = channel.direction === 'in' ? size.inputBytes : size.outputBytes
  return from !== null && channel.offsetBits >= from && channel.offsetBits < from + bytes * 8
}

/** The changes that switch off every unused port of a module that is on. */
export function switchOffUnused(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  ports: readonly SubslotView[],
): SingleCommand[] {
  return ports.flatMap((port) => {
    if (!isUnused(module, port)) return []
    const { mode, uses } = portMode(catalog, view, module, port)
    const off = uses.find((use) => use.mode === 'off')
    return off && mode !== 'off' ? [off.command] : []
  })
}
