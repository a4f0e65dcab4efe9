import type { Device, Module, ModulePlacement } from '../catalog/model'

/** A module in its slot, as far as the row's order is concerned. */
export interface Standing {
  readonly slot: number
  readonly module: Module
}

/** What is wrong with the order of a row, and with which module. `other` names what it is about. */
export interface OrderFault {
  readonly code:
    'firstOfKind' | 'lastOfKind' | 'nextToHead' | 'requiresBefore' | 'maxModules' | 'extension'
  readonly slot: number
  readonly module: string
  readonly other: string
}

const say: Record<OrderFault['code'], (fault: OrderFault) => string> = {
  firstOfKind: ({ module, other }) => `${module} has to stand before ${other}`,
  lastOfKind: ({ module, other }) => `${module} has to stand behind ${other}`,
  nextToHead: ({ module, other }) =>
    `${module} has to stand next to the head; ${other} is between them`,
  requiresBefore: ({ module, other }) => `${module} needs ${other} before it`,
  maxModules: ({ module, other }) => `a station takes at most ${other} of ${module}`,
  extension: ({ module, other }) =>
    `${module} is one too many: ${other} modules, then an extension is needed`,
}

/** The fault as a clause for a sentence. */
export function wordOrderFault(fault: OrderFault): string {
  return say[fault.code](fault)
}

/** Checks a row of modules, in slot order, against what their sheets ask: common practice of
 *  modular stations (supply before the first inputs and outputs, end module last, communication
 *  next to the head, extension after so many modules). */
export function orderFaults(
  device: Pick<Device, 'placement'>,
  row: readonly Standing[],
): OrderFault[] {
  const faults: OrderFault[] = []
  row.forEach(({ slot, module }, i) => {
    const { placement } = module
    if (!placement) return
    const before = row.slice(0, i)
    const fault = (code: OrderFault['code'], other: string) =>
      faults.push({ code, slot, module: module.name, other })
    if (placement.firstOfKind) {
      const wrong = before.find((one) => isRival(placement, one, 'firstOfKind'))
      if (wrong) fault('firstOfKind', wrong.module.name)
    }
    if (placement.lastOfKind) {
      const wrong = row.slice(i + 1).find((one) => isRival(placement, one, 'lastOfKind'))
      if (wrong) fault('lastOfKind', wrong.module.name)
    }
    if (placement.nextToHead) {
      const between = before.find((one) => !one.module.placement?.nextToHead)
      if (between) fault('nextToHead', between.module.name)
    }
    for (const kind of placement.requiresBefore)
      if (!before.some((one) => isOf(one.module, kind))) fault('requiresBefore', wordKind(kind))
    if (
      placement.maxModules !== null &&
      before.filter((one) => one.module.key === module.key).length === placement.maxModules
    )
      fault('maxModules', String(placement.maxModules))
  })
  return [...faults, ...extensionFaults(device, row)]
}

/** Kinds that the head asks for and the row lacks; none while there is no module at all. */
export function missingKinds(
  { placement }: Pick<Device, 'placement'>,
  row: readonly Standing[],
): string[] {
  return row.length === 0
    ? []
    : (placement?.requires ?? []).filter((kind) => !row.some(({ module }) => isOf(module, kind)))
}

/** What would be newly wrong if the module stood in that slot, which others make room for; null
 *  where nothing would. */
export function whyOutOfOrder(
  device: Pick<Device, 'placement'>,
  row: readonly Standing[],
  slot: number,
  module: Module,
): string | null {
  const known = new Set(orderFaults(device, row).map(wordOrderFault))
  const isTaken = row.some((one) => one.slot === slot)
  const moved = isTaken
    ? row.map((one) => (one.slot >= slot ? { ...one, slot: one.slot + 1 } : one))
    : row
  const next = [...moved, { slot, module }].sort((a, b) => a.slot - b.slot)
  const fault = orderFaults(device, next)
    .map(wordOrderFault)
    .find((words) => !known.has(words))
  return fault ?? null
}

/** Whether another module may not stand on that side: one of the same kind, or any where no kind is
 *  named; its likes may. */
function isRival(
  { kind }: ModulePlacement,
  { module }: Standing,
  side: 'firstOfKind' | 'lastOfKind',
): boolean {
  return (kind === '' || module.placement?.kind === kind) && !module.placement?.[side]
}

/** Whether rules that name a kind mean this module; a module's key names it alone. */
export function isOf({ key, placement }: Module, kind: string): boolean {
  return key === kind || placement?.kind === kind
}

/** The first module too many on the head and behind each extension. */
function extensionFaults(
  { placement }: Pick<Device, 'placement'>,
  row: readonly Standing[],
): OrderFault[] {
  const faults: OrderFault[] = []
  let room = placement?.maxBeforeExtension ?? null
  let stands = 0
  for (const { slot, module } of row) {
    const most = module.placement?.maxAfterExtension ?? null
    if (most !== null) {
      room = most
      stands = 0
    } else if (room !== null && ++stands === room + 1) {
      faults.push({ code: 'extension', slot, module: module.name, other: String(room) })
    }
  }
  return faults
}

function wordKind(kind: string): string {
  return `a module of the kind "${kind}"`
}
