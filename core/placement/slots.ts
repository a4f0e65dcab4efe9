import type { Device, Module } from '../catalog/model'
import { formatValueList, type ValueRange } from '../vocabulary/value-list'
import type { ModuleRow } from '../plan/model'
import type { Refusal } from '../plan/refusals'

/** What a slot of a head takes, as the description file says. */
export function slotOf(device: Device, slot: number) {
  return device.slots.find((candidate) => candidate.slot === slot) ?? null
}

/** The slots a module may stand in, as a value list such as `1..7 9`. */
export function allowedSlots(device: Device, moduleKey: string): string {
  return listOf(
    device.slots.filter(({ allowed }) => allowed.includes(moduleKey)).map(({ slot }) => slot),
  )
}

/** Why a module may not stand in a slot; null where it may. */
export function whyNotInSlot(
  device: Device,
  stationName: string,
  slotNumber: number,
  module: Pick<Module, 'key' | 'name'>,
): Refusal | null {
  const slot = slotOf(device, slotNumber)
  if (!slot) {
    return {
      code: 'slot.unknown',
      station: stationName,
      slot: slotNumber,
      slots: listOf(device.slots.map(({ slot: number }) => number)),
    }
  }
  if (!slot.allowed.includes(module.key)) {
    return {
      code: 'slot.notAllowed',
      station: stationName,
      slot: slotNumber,
      module: module.name,
      slots: allowedSlots(device, module.key),
    }
  }
  return null
}

export function moduleInSlot(
  modules: Readonly<Record<string, ModuleRow>>,
  slot: number,
): ModuleRow | null {
  for (const id in modules) if (modules[id]!.slot === slot) return modules[id]!
  return null
}

function listOf(numbers: readonly number[]): string {
  const ranges: ValueRange[] = []
  for (const number of [...numbers].sort((a, b) => a - b)) {
    const last = ranges.at(-1)
    if (last && last[1] === number - 1) ranges[ranges.length - 1] = [last[0], number]
    else ranges.push([number, number])
  }
  return formatValueList(ranges)
}
