import { byteAndBit, type DeviceNotation } from '../device-notation'

/** Slot and subslot as PROFINET numbers them, then byte and bit in the submodule's data. */
export const slotSubslot: DeviceNotation = {
  name: 'Slot, subslot, byte and bit',
  label: 'in 3/1 0.4',
  format: (_, { module, channel }) =>
    `${channel.direction} ${module.slot}/${channel.subslot} ${byteAndBit(channel.offsetBits, channel.bits)}`,
  looksLike: /^(in|out)\d+\/\d+/,
}
