import { z } from 'zod'
import type { Medium } from '../vocabulary/medium'

/** How the nodes of a network are joined.
 *  `switched`: each node passes frames on to where they go, any tree will do.
 *  `chain`: each frame runs through all nodes, one after the other.
 *  `bus`: all nodes hang on one wire, which stays whole when a node is lost. */
export interface Wiring {
  readonly shape: 'switched' | 'chain' | 'bus'
  readonly medium: Medium
  /** Ports of a device whose description does not say it; on a bus the two ends of the cable at its
   *  plug. */
  readonly ports: number
  /** Ports of the controller's interface. */
  readonly controllerPorts: number
  /** Its rings, where nodes can close one. */
  readonly ring?: RingRule
}

/** A ring that opens again where it is cut. */
export interface RingRule {
  /** Who watches over it. */
  readonly managerWord: string
  readonly maxNodes: number
  /** The longest that frames find no way, in µs. */
  readonly reconfigurationUs: number
  readonly source: string
  /** Whether a frame runs both ways round at once, so that no port is kept closed. */
  readonly runsBothWays?: boolean
}

/** Ethernet by copper, devices with a switch of two ports. */
export const switchedWiring = {
  shape: 'switched',
  medium: 'copper',
  ports: 2,
  controllerPorts: 2,
} as const satisfies Wiring

/** A port as a description names it. */
export interface PortDescription {
  readonly name: string
  /** Left out: the usual one of its network. */
  readonly medium?: Medium
  /** Repeaters: ports with one number are one line, with ends of its own. */
  readonly segment?: number
  /** It has a terminating resistor that is always on. */
  readonly terminates?: true
}

/** What networks keep that may be closed to a ring: whether it is planned as one, and which node
 *  watches over it: the id of a station; empty: the controller. */
export const ringNetwork = {
  ring: z.boolean().default(false),
  ringManager: z.string().max(64).default(''),
} as const
