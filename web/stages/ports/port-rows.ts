import {
  isOfPort,
  portMode,
  signalOn,
  subslotsOf,
  type Derived,
  type DerivedModule,
  type DerivedStation,
  type PortModeView,
  type SubslotView,
} from '@kataxis/core'

/** A port as the table shows it. */
export interface PortRow extends PortModeView {
  readonly key: string
  readonly view: DerivedStation
  readonly module: DerivedModule
  readonly port: SubslotView
  readonly station: string
  readonly place: string
  readonly type: string
  readonly name: string
  readonly number: string
  /** Of the device below; empty where none is. */
  readonly device: string
  /** Signals on its channels. */
  readonly signals: number
  /** The record that its mode is sent in. */
  readonly sent: string
}

/** Every port of a plan, in the order of the Board. */
export function portRows({ catalog, controllers }: Derived): PortRow[] {
  const rows: PortRow[] = []
  for (const { networks } of controllers)
    for (const { stations } of networks)
      for (const view of stations)
        for (const module of view.modules)
          for (const port of subslotsOf(catalog, view, module))
            if (port.isPort || port.below || port.allowed.length > 0)
              rows.push(rowOf(view, module, port, portMode(catalog, view, module, port)))
  return rows
}

function rowOf(
  view: DerivedStation,
  module: DerivedModule,
  port: SubslotView,
  mode: PortModeView,
): PortRow {
  const record = mode.parameter?.record.record
  return {
    ...mode,
    key: `${module.id}/${port.key}`,
    view,
    module,
    port,
    station: view.station.name,
    place: module.row ? `slot ${module.slot}` : 'head',
    type: module.described?.name ?? '',
    name: port.name,
    number: String(port.subslot),
    device: port.device?.name ?? port.below?.device ?? '',
    signals: (module.layout?.channels ?? []).filter(
      (channel) => isOfPort(port, channel) && (signalOn(module, channel)?.tag ?? '') !== '',
    ).length,
    sent: !record
      ? ''
      : record.subindex === undefined
        ? `record ${record.index ?? '–'}`
        : `0x${(record.index ?? 0).toString(16)}:${record.subindex}`,
  }
}
