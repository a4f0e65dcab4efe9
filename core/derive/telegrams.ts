import { referenceOf, requestPdu } from '../addressing/modbus'
import { modbusTables } from '../vocabulary/modbus-table'
import type { Catalog } from '../catalog/catalog'
import { connectionPoints } from '../device-files/eds/paths'
import { parseOctets, toHex } from '../vocabulary/hex'
import { checkConfiguration, setPrmTelegram, userParameters } from './set-prm'
import type { Derived, DerivedNetwork, DerivedStation } from './derive'
import { logicalImage, requestsOf, stationFrame } from './frames'

/** What goes over the wire by the plan, network by network: what `npx kataxis telegrams` prints.
 *  Octets in hex. */
export function telegramList({ controllers, catalog }: Derived) {
  return controllers.flatMap(({ controller, networks }) =>
    networks.map((band) => ({
      controller: controller.name,
      name: band.network.name,
      kind: band.network.kind,
      ...(band.network.kind === 'ethercat' && { logicalImage: logicalImageOf(band) }),
      stations: band.stations.map((view) => ({
        name: view.station.name,
        ...telegramsOf(view, catalog),
      })),
    })),
  )
}

function telegramsOf(station: DerivedStation, catalog: Catalog) {
  const { device } = station
  switch (device?.protocol) {
    case 'profibus':
      return {
        setPrm: toHex(
          setPrmTelegram(
            device.identity.profibus.identNumber,
            Uint8Array.from(userParameters(station, catalog).flatMap(({ bytes }) => [...bytes])),
          ),
        ),
        chkCfg: toHex(checkConfiguration(station)),
      }
    case 'ethernet-ip':
      return { connection: connectionOf(station), frame: frameOf(station) }
    case 'modbus':
      return {
        requests: requestsOf(station).map((request) => ({
          function: request.functionCode,
          table: request.table,
          start: request.start,
          count: request.count,
          reference: referenceOf(request.table, request.start),
          words: `${request.isWrite ? 'write' : 'read'} ${modbusTables[request.table].words}`,
          values: request.names,
          pdu: toHex(requestPdu(request)),
          writes: request.writes && {
            start: request.writes.start,
            count: request.writes.count,
            values: request.writes.names,
          },
          requestBytes: request.requestBytes,
          responseBytes: request.responseBytes,
        })),
      }
    case 'profinet':
      return { frame: frameOf(station) }
    default:
      return {}
  }
}

/** The connection with the assemblies that it carries (CIP Vol. 1, App. C). */
function connectionOf({ device, station }: DerivedStation) {
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

function frameOf(view: DerivedStation) {
  const side = (direction: 'in' | 'out') =>
    stationFrame(view, direction).map(({ what, module, block, offsetBytes, bytes }) => ({
      what,
      slot: module?.slot ?? null,
      subslot: block?.subslot ?? null,
      offsetBytes,
      bytes,
    }))
  return { in: side('in'), out: side('out') }
}

export function logicalImageOf({ stations }: DerivedNetwork) {
  const { parts, ...sums } = logicalImage(stations)
  return {
    ...sums,
    parts: parts.map((part) => ({ station: part.view.station.name, in: part.in, out: part.out })),
  }
}
