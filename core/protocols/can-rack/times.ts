import type { WireFault, WireTimes } from '../traffic'
import type { WireStation } from '../wire'

/** The longest line at a bit rate in kbit/s, in metres (CiA 301, from memory). */
const lengths: readonly (readonly [number, number])[] = [
  [1000, 25],
  [800, 50],
  [500, 100],
  [250, 250],
  [125, 500],
  [50, 1000],
  [20, 2500],
  [10, 5000],
]
/** Bit rates that a line can have, kbit/s. */
export const canRates = lengths.map(([rate]) => rate).sort((a, b) => a - b)
/** Nodes that the drivers of a line carry (ISO 11898-2 transceivers, common practice). */
const mostNodes = 110

interface Settings {
  readonly canKbit: number | null
}

export const canTimes = {
  bitRate: ({ canKbit }: Settings) => (canKbit === null ? null : canKbit * 1000),
  networkFaults: ({ canKbit }: Settings, stations: readonly WireStation[]): WireFault[] =>
    canKbit !== null || stations.length === 0
      ? []
      : [
          {
            code: 'noBitRate',
            what: 'The bit rate',
            is: 'not chosen yet',
            wants: 'racks and controller have to have the same one',
            severity: 'warning',
            fixes: [
              {
                label: 'Set the bit rate to 125 kbit/s',
                of: 'network',
                settings: { canKbit: 125 },
              },
            ],
          },
        ],
  segmentM: ({ canKbit }: Settings) => lengths.find(([rate]) => rate === canKbit)?.[1] ?? null,
  segmentNodes: mostNodes,
} satisfies WireTimes
