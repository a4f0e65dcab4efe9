import type { Device } from '../../catalog/model'
import type { RealModule, WireStation } from '../wire'

/** The idents that a device answers for itself and for what stands in it, by slot and subslot. */
export function saidBy({
  device,
  modules,
}: WireStation & { readonly device: Extract<Device, { protocol: 'profinet' }> }) {
  const { moduleIdent } = device.identity.profinet
  return {
    moduleIdent,
    modules: modules.flatMap(({ slot, row, described }): RealModule[] => {
      if (!described) return []
      const ident = row ? ('ident' in described ? (described.ident ?? 0) : 0) : moduleIdent
      const submodules = described.submodules.map(({ subslot, ident: own }) => ({
        subslot: subslot ?? 1,
        ident: own ?? 0,
      }))
      return [{ slot, ident, submodules }]
    }),
  }
}
