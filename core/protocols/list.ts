import { canRack } from './can-rack'
import { ethercat } from './ethercat'
import { ethernetIp } from './ethernet-ip'
import { gateway } from './gateway'
import { ioLink } from './io-link'
import { local } from './local'
import { modbus } from './modbus'
import { passive } from './passive'
import { profibus } from './profibus'
import { profinet } from './profinet'
import { ring } from './ring'

/** All protocols, in the order in which they are offered. A new one is a folder and a line here. */
export const protocols = [
  profinet,
  profibus,
  ethercat,
  ethernetIp,
  modbus,
  canRack,
  ring,
  local,
  gateway,
  passive,
  ioLink,
] as const
