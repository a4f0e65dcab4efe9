import type { StartFault } from '../protocols/master'
import { channelsInData } from './channel-places'
import { finding, type RehearsalFinding } from './finding'
import type { PlannedStation } from './planned'

/** Whether data are exchanged in spite of it: a diagnosis is no more than that. */
export function exchangesWith({ code }: StartFault): boolean {
  return code === 'start.diagnosis'
}

/** A fault in the words of the device's description, where it has some: module, channel, error,
 *  help. */
export function wordFault(station: PlannedStation, fault: StartFault): RehearsalFinding {
  const { name, view, slotNames } = station
  const signal = fault.channel === null ? null : signalAt(station, fault)
  const described = view.file?.diagnoses.find(
    ({ kind, code }) => kind === 'channel' && code === fault.error,
  )
  const where = [
    name,
    ...(fault.slot === null ? [] : [`slot ${fault.slot} (${slotNames[fault.slot] ?? 'module'})`]),
    ...(signal ? [`channel ${signal.channel}`] : []),
  ].join(', ')
  const what = described?.name || fault.words
  return finding(
    fault.code,
    exchangesWith(fault) ? 'warning' : 'blocker',
    name,
    `${where}: ${what}.`,
    described?.help || remedies[fault.code] || 'Check the device and its cables.',
    { slot: fault.slot, tag: signal?.tag ?? null },
  )
}

const remedies: Readonly<Record<string, string>> = {
  'start.silent': 'Check its supply, its cable and its address.',
  'start.refused': 'Compare type and modules with the plan.',
  'start.missing': 'Plug the planned module.',
  'start.wrong': 'Plug the planned module, or replace it on the Board.',
  'start.submodule': 'Plug the planned submodule.',
  'start.parameter': 'Check the value on the Parameters page.',
  'start.configuration': 'Compare its modules with the plan.',
  'start.state': 'Compare its modules with the plan.',
  'start.stopped': 'Switch the device to run.',
  'start.noData': 'Compare its answer time with the watchdog in the plan.',
  'start.noAddress': 'Assign an address on the Board.',
  'start.noConnection': 'Choose a connection on the Parameters page.',
  'start.diagnosis': 'Check the wires of this channel.',
}

/** The signal on a channel that a device has something to say about. */
function signalAt({ view }: PlannedStation, { slot, subslot, channel }: StartFault) {
  const found = channelsInData(view).find(
    ({ module, channel: of, number }) =>
      module.slot === slot && number === channel && (subslot === null || of.subslot === subslot),
  )
  return found ? { tag: found.signal.tag, channel: found.channel.name } : null
}
