import type { FoundDevice } from '../protocols/master'
import { differentFailSafe, type SlotComparison, type SlotState } from './compare'
import { finding, type RehearsalFinding } from './finding'
import type { PlannedStation } from './planned'

const slotWords: Record<
  Exclude<SlotState, 'same' | 'swapped'>,
  (station: string, slot: SlotComparison) => { message: string; remedy: string }
> = {
  wrong: (station, { slot, planned, found }) => ({
    message: `Slot ${slot} of ${station} holds ${found}; planned is ${planned}.`,
    remedy: `Plug ${planned} into slot ${slot}, or replace the module on the Board.`,
  }),
  missing: (station, { slot, planned }) => ({
    message: `Slot ${slot} of ${station} is empty; planned is ${planned}.`,
    remedy: `Plug ${planned} into slot ${slot}.`,
  }),
  surplus: (station, { slot, found }) => ({
    message: `Slot ${slot} of ${station} holds ${found}; the plan has nothing there.`,
    remedy: `Pull it, or insert ${found} on the Board.`,
  }),
}

const subslotWords: Record<Exclude<SlotState, 'same' | 'swapped'>, string> = {
  wrong: 'holds another submodule than planned',
  missing: 'is empty; the plan has a submodule there',
  surplus: 'holds a submodule; the plan has none there',
}

/** What differs between planned and real modules, two that are swapped as one finding. */
export function wordSlots(
  { name }: PlannedStation,
  slots: readonly SlotComparison[],
): RehearsalFinding[] {
  const findings: RehearsalFinding[] = []
  const told = new Set<number>()
  for (const slot of slots) {
    if (told.has(slot.slot)) continue
    if (slot.state === 'same')
      for (const { subslot, state } of slot.submodules)
        findings.push(
          finding(
            'compare.submodule',
            'blocker',
            name,
            `Subslot ${subslot} in slot ${slot.slot} of ${name} ${subslotWords[state]}.`,
            'Plug what is planned there, or change it on the Board.',
            slot,
          ),
        )
    else if (slot.state === 'swapped') {
      const partner = partnerOf(slot, slots)
      if (partner) {
        told.add(partner.slot)
        findings.push(wordSwapped(name, slot, partner))
      } else {
        const { message, remedy } = slotWords.wrong(name, slot)
        findings.push(finding('compare.wrong', 'blocker', name, message, remedy, slot))
      }
    } else {
      const { message, remedy } = slotWords[slot.state](name, slot)
      findings.push(finding(`compare.${slot.state}`, 'blocker', name, message, remedy, slot))
    }
  }
  return findings
}

/** Fail-safe destination addresses that a device has otherwise than planned. */
export function wordFailSafe(
  { name, failSafe }: PlannedStation,
  device: FoundDevice,
): RehearsalFinding[] {
  return differentFailSafe(failSafe, device).map(({ slot, destination, real }) =>
    finding(
      'compare.failSafe',
      'blocker',
      name,
      `Slot ${slot} of ${name} has ${real === 0 ? 'no fail-safe destination address' : `the fail-safe destination address ${real}`}; planned is ${destination}.`,
      'Identify the device, then write its addresses.',
      { slot },
    ),
  )
}

function partnerOf(slot: SlotComparison, slots: readonly SlotComparison[]) {
  return slots.find(
    (other) =>
      other.slot !== slot.slot &&
      other.state === 'swapped' &&
      other.planned === slot.found &&
      other.found === slot.planned,
  )
}

function wordSwapped(name: string, slot: SlotComparison, partner: SlotComparison) {
  return finding(
    'compare.swapped',
    'blocker',
    name,
    `Slots ${slot.slot} and ${partner.slot} of ${name} are swapped: ${slot.found} stands in ${slot.slot}, ${partner.found} in ${partner.slot}.`,
    'Exchange the two modules, or change the order on the Board.',
    slot,
  )
}
