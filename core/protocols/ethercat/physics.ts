import type { PortDescription } from '../wiring'

/** Ports of a slave by the letters of its `Physics`, one each from A on: `Y` copper, `H` copper at
 *  100BASE-TX, `K` backplane; a blank is no port (ETG.2000, from memory). */
export function portsOfPhysics(physics: string): PortDescription[] {
  return [...physics].flatMap((letter, i) =>
    letter.trim() === ''
      ? []
      : [
          {
            name: `Port ${'ABCD'[i] ?? i + 1}`,
            medium: letter === 'K' ? ('backplane' as const) : ('copper' as const),
          },
        ],
  )
}
