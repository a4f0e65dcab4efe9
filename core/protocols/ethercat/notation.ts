import type { Channel } from '../../catalog/layout'
import type { Submodule } from '../../catalog/model'
import type { DeviceNotation } from '../device-notation'
import type { WireModule, WireStation } from '../wire'

/** The dictionary object that the PDO maps there (ETG.1000-6, from memory); counted on for modules
 *  by slot. */
export const pdoObject: DeviceNotation = {
  name: 'Object of the PDO',
  label: '0x6000:01',
  format: (view, { module, channel }) => {
    const object = objectOf(module.described?.submodules ?? [], channel, view, module)
    return (
      object &&
      `0x${object.index.toString(16).toUpperCase().padStart(4, '0')}:${object.subindex.toString(16).toUpperCase().padStart(2, '0')}`
    )
  },
  looksLike: /^0x[0-9a-f]+:[0-9a-f]/,
}

function objectOf(
  submodules: readonly Submodule[],
  channel: Channel,
  { device }: WireStation,
  module: WireModule,
) {
  for (const submodule of submodules) {
    const item = submodule[channel.direction === 'in' ? 'inputs' : 'outputs'].find(
      ({ offsetBits, bits }) =>
        channel.offsetBits >= offsetBits && channel.offsetBits < offsetBits + bits,
    )
    for (const one of submodule.pdos ?? []) {
      const i =
        one.direction === channel.direction && one.name === item?.group
          ? one.items.findIndex(({ name }) => name === item.name)
          : -1
      if (i < 0) continue
      const { index, subindex } = one.objects[i]!
      const step =
        module.row && device && 'ethercat' in device ? (device.ethercat.slotIndexIncrement ?? 0) : 0
      return {
        index: index + step * Math.max(0, module.slot - (device?.slots[0]?.slot ?? 1)),
        subindex,
      }
    }
  }
  return null
}
