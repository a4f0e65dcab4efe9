import { z } from 'zod'
import { mediumNames } from '../vocabulary/medium'
import { byKey, id } from './keys'

const portNumber = z.number().int().min(1).max(64)
const byPort = z.string().regex(/^\d{1,2}$/)

/** A port of a station, or of the interface by which a controller stands on a network. */
export const linkEnd = z.object({ node: id, port: portNumber }).strict()

/** Where the cable of a port goes, and what it is; a length of null: nobody said. */
export const portLink = z
  .object({
    to: linkEnd,
    medium: z.enum(mediumNames),
    lengthM: z.number().min(0).max(100_000).nullable().default(null),
    /** Its type or order number, and what is written on it. */
    cable: z.string().max(100).default(''),
    label: z.string().max(100).default(''),
    /** Pairs of plugs and sockets between both ends, the ends' own not counted. */
    connectors: z.number().int().min(0).max(20).default(0),
  })
  .strict()
/** Links of a station by its port. Each link stands at one of its two ends only: at the one that was
 *  linked later, which mostly is further from the controller. */
export const portLinks = byKey(z.record(byPort, portLink))

/** What is decided of a port itself; left out: as usual. */
export const portSettings = z
  .object({
    off: z.literal(true),
    /** Whether its terminating resistor is on; left out: at the ends of a line. */
    terminated: z.boolean(),
    /** Length of the spur on which it hangs off a line, in metres. */
    spurM: z.number().min(0).max(1000),
    /** A lost link is reported. */
    alarm: z.literal(true),
  })
  .partial()
  .strict()
export const ports = byKey(z.record(byPort, portSettings))

export type LinkEnd = z.infer<typeof linkEnd>
export type PortLink = z.infer<typeof portLink>
export type PortLinks = z.infer<typeof portLinks>
export type PortSettings = z.infer<typeof portSettings>
export type Ports = z.infer<typeof ports>
