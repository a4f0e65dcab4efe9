import { parseOctets } from '../../vocabulary/hex'
import { byteAndBit, type DeviceNotation } from '../device-notation'
import { connectionPoints } from './paths'

/** Instance of the assembly that carries it and its place there; the connection's path names them
 *  (CIP Vol. 1, App. C). */
export const assembly: DeviceNotation = {
  name: 'Assembly, byte and bit',
  label: 'assembly 101 2.4',
  format: (view, { module, channel }) => {
    const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
    if (!connection || module.row) return null
    const points = connectionPoints([...(parseOctets(connection.path) ?? [])])
    const instance = channel.direction === 'out' ? points.at(-2) : points.at(-1)
    return instance === undefined || points.length < 2
      ? null
      : `assembly ${instance} ${byteAndBit(channel.offsetBits, channel.bits)}`
  },
  looksLike: /^assembly\d/,
}
