import type { Direction } from '../../vocabulary/direction'
import { parseOctets } from '../../vocabulary/hex'
import { frameWords, plainFrame, type FramePart } from '../frame'
import type { WireModule, WireStation } from '../wire'
import { connectionPoints } from './paths'

const runIdleHeaderBytes = 4

/** Four octets run/idle before the output data where the connection has them (CIP Vol. 1,
 *  3-6.1). */
export function frameWithHeader<M extends WireModule>(
  view: WireStation<M>,
  direction: Direction,
): FramePart<M>[] {
  const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
  const hasHeader =
    direction === 'out' && connection?.hasRunIdleHeader === true && connection.outputBytes > 0
  return plainFrame(view, direction, hasHeader ? runIdleHeaderBytes : 0)
}

export function telegramsOf(view: WireStation) {
  const side = (direction: Direction) => frameWords(frameWithHeader(view, direction))
  return { connection: connectionOf(view), frame: { in: side('in'), out: side('out') } }
}

/** The connection with the assemblies that it carries (CIP Vol. 1, App. C). */
function connectionOf({ device, station }: WireStation) {
  const connection = device?.connections.find(({ key }) => key === station.connection)
  if (!connection) return null
  const points = connectionPoints([...(parseOctets(connection.path) ?? [])])
  return {
    name: connection.name,
    path: connection.path,
    hasRunIdleHeader: connection.hasRunIdleHeader,
    configurationBytes: connection.configBytes,
    assemblies:
      points.length < 2
        ? []
        : [
            { direction: 'out', instance: points.at(-2)!, bytes: connection.outputBytes },
            { direction: 'in', instance: points.at(-1)!, bytes: connection.inputBytes },
          ],
  }
}
