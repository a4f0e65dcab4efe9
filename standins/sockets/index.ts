import type { FrameLog } from '@kataxis/core'
import type { World } from '../world'
import { serveAddresses } from './addresses'
import { serveEthernetIp } from './ethernet-ip'
import { serveModbusTcp } from './modbus-tcp'
import type { Served, ServedPort } from './served'

/** Serves every stand-in that is reached over real sockets, on the loopback alone, until it is
 *  closed. Frames go into the log. */
export async function serve(
  world: World,
  log: FrameLog,
): Promise<{ readonly ports: readonly ServedPort[]; close(): Promise<void> }> {
  const served: Served[] = []
  for (const net of world.nets) {
    if (net.planned.kind === 'modbus-tcp')
      for (const device of net.devices)
        if (!device.isAway) served.push(await serveModbusTcp(net, device, log))
    if (net.planned.kind === 'ethernet-ip') {
      for (const device of net.devices)
        if (!device.isAway) served.push(await serveEthernetIp(net, device, log))
      served.push(...(await serveAddresses(net, log)))
    }
  }
  return {
    ports: served.flatMap(({ ports }) => ports),
    close: async () => {
      await Promise.all(served.map((one) => one.close()))
    },
  }
}
