import type { Channel } from '../catalog/layout'
import { kindOfChannel } from '../catalog/words'
import type { Electrical, Terminal } from '../catalog/model'
import type { SignalFacts } from '../plan/model'
import { readRange } from '../vocabulary/electrical-range'

export type WiringBox = 'device' | 'channel' | 'supply'
export interface WiringEnd {
  readonly box: WiringBox
  readonly pin: string
}
export interface Conductor {
  readonly from: WiringEnd
  readonly to: WiringEnd
  /** What it carries. */
  readonly words: string
  /** Nobody said where it comes from. */
  readonly isOpen?: true
}

/** A signal's circuit as it is to be wired. */
export interface Wiring {
  readonly pins: Readonly<Record<WiringBox, readonly string[]>>
  readonly conductors: readonly Conductor[]
  /** Who feeds whom, in a sentence. */
  readonly fed: string
  /** What was taken for granted. */
  readonly assumed: readonly string[]
  readonly faults: readonly string[]
}

const end = (box: WiringBox, pin: string): WiringEnd => ({ box, pin })
const wire = (from: WiringEnd, to: WiringEnd, words: string): Conductor => ({ from, to, words })
const open = (from: WiringEnd, to: WiringEnd, words: string): Conductor => ({
  from,
  to,
  words,
  isOpen: true,
})

interface Plan {
  readonly conductors: readonly Conductor[]
  readonly fed: string
}

/** Current, by number of wires and who feeds the loop (common practice). */
const loops: Readonly<Record<string, Plan>> = {
  '2 channel': {
    fed: 'The channel feeds the loop; the transmitter lives on it.',
    conductors: [
      wire(end('channel', 'supply +'), end('device', '+'), '24 V'),
      wire(end('device', '−'), end('channel', 'in +'), 'signal'),
    ],
  },
  '2 external': {
    fed: 'A supply in series feeds the loop; the channel only measures.',
    conductors: [
      wire(end('supply', '+'), end('device', '+'), '24 V'),
      wire(end('device', '−'), end('channel', 'in +'), 'signal'),
      wire(end('channel', 'in −'), end('supply', '−'), 'back'),
    ],
  },
  '3 channel': {
    fed: 'The channel feeds the transmitter; minus is common.',
    conductors: [
      wire(end('channel', 'supply +'), end('device', '+'), '24 V'),
      wire(end('device', 'out'), end('channel', 'in +'), 'signal'),
      wire(end('device', '−'), end('channel', 'in −'), 'common'),
    ],
  },
  '3 external': {
    fed: 'A supply feeds the transmitter; minus is common to it, the transmitter and the channel.',
    conductors: [
      wire(end('supply', '+'), end('device', '+'), '24 V'),
      wire(end('device', 'out'), end('channel', 'in +'), 'signal'),
      wire(end('device', '−'), end('channel', 'in −'), 'common'),
      wire(end('channel', 'in −'), end('supply', '−'), 'common'),
    ],
  },
  '2 unknown': {
    fed: 'Not entered: what feeds the loop.',
    conductors: [
      open(end('supply', '?'), end('device', '+'), '24 V'),
      wire(end('device', '−'), end('channel', 'in +'), 'signal'),
    ],
  },
  '3 unknown': {
    fed: 'Not entered: what feeds the transmitter.',
    conductors: [
      open(end('supply', '?'), end('device', '+'), '24 V'),
      wire(end('device', 'out'), end('channel', 'in +'), 'signal'),
      wire(end('device', '−'), end('channel', 'in −'), 'common'),
    ],
  },
  '4 device': {
    fed: 'The transmitter has a supply of its own and drives the loop; the channel must be passive.',
    conductors: [
      wire(end('device', 'out +'), end('channel', 'in +'), 'signal'),
      wire(end('channel', 'in −'), end('device', 'out −'), 'back'),
    ],
  },
}
/** Switching sensors. */
const switches: Readonly<Record<'pnp' | 'npn' | 'contact', Plan>> = {
  pnp: {
    fed: 'The sensor sources: it puts plus on the input, which must sink.',
    conductors: [
      wire(end('supply', '+'), end('device', '+'), '24 V'),
      wire(end('device', 'out'), end('channel', 'in'), 'signal'),
      wire(end('device', '−'), end('supply', '−'), '0 V'),
    ],
  },
  npn: {
    fed: 'The sensor sinks: it pulls the input to minus, which must source.',
    conductors: [
      wire(end('supply', '+'), end('device', '+'), '24 V'),
      wire(end('channel', 'in'), end('device', 'out'), 'signal'),
      wire(end('device', '−'), end('supply', '−'), '0 V'),
    ],
  },
  contact: {
    fed: 'The contact passes plus on to the input.',
    conductors: [
      wire(end('supply', '+'), end('device', '1'), '24 V'),
      wire(end('device', '2'), end('channel', 'in'), 'signal'),
    ],
  },
}
const sensors: Readonly<Record<2 | 3 | 4, readonly Conductor[]>> = {
  2: [
    wire(end('channel', 'I +'), end('device', '1'), 'current'),
    wire(end('device', '2'), end('channel', 'I −'), 'back'),
  ],
  3: [
    wire(end('channel', 'I +'), end('device', '1'), 'current'),
    wire(end('device', '2'), end('channel', 'I −'), 'back'),
    wire(end('device', '2'), end('channel', 'U −'), 'sense'),
  ],
  4: [
    wire(end('channel', 'I +'), end('device', '1'), 'current'),
    wire(end('device', '1'), end('channel', 'U +'), 'sense'),
    wire(end('device', '2'), end('channel', 'U −'), 'sense'),
    wire(end('device', '2'), end('channel', 'I −'), 'back'),
  ],
}

/** How a signal is wired to its channel by what is known of it; common practice where nothing
 *  is. */
export function wiringOf(
  channel: Pick<Channel, 'kind' | 'direction'>,
  facts: SignalFacts,
  electrical: Electrical = {},
): Wiring {
  const assumed: string[] = []
  const plan = planOf(channel, facts, electrical, assumed)
  const pins = (box: WiringBox) => [
    ...new Set(
      plan.conductors
        .flatMap(({ from, to }) => [from, to])
        .filter((one) => one.box === box)
        .map(({ pin }) => pin),
    ),
  ]
  return {
    ...plan,
    pins: { device: pins('device'), channel: pins('channel'), supply: pins('supply') },
    assumed,
    faults: faultsOf(channel, facts, electrical),
  }
}

function planOf(
  channel: Pick<Channel, 'kind' | 'direction'>,
  facts: SignalFacts,
  { feeds }: Electrical,
  assumed: string[],
): Plan {
  const kind = kindOfChannel(channel as Channel)
  if (kind === 'DO')
    return {
      fed: 'The channel switches the load on; minus is common.',
      conductors: [
        wire(end('channel', 'out'), end('device', '+'), 'load'),
        wire(end('device', '−'), end('supply', '−'), '0 V'),
      ],
    }
  if (kind === 'AO')
    return {
      fed: 'The channel drives the actuator.',
      conductors: [
        wire(end('channel', 'out +'), end('device', '+'), 'signal'),
        wire(end('device', '−'), end('channel', 'out −'), 'back'),
      ],
    }
  if (kind === 'DI') {
    if (facts.switching === undefined)
      assumed.push('Not entered how the sensor switches: a contact is assumed.')
    return switches[facts.switching ?? 'contact']
  }
  const range = facts.transmitter === undefined ? null : readRange(facts.transmitter)
  if (range?.kind === 'resistance') {
    if (facts.wires === undefined)
      assumed.push('Not entered how many wires the sensor has: three are assumed.')
    const wires = facts.wires ?? 3
    return {
      fed: `The channel measures with its own current, over ${wires} wires${wires === 2 ? '; the cable counts as temperature' : ''}.`,
      conductors: sensors[wires],
    }
  }
  if (range?.kind === 'thermocouple')
    return {
      fed: `The couple makes its own voltage; the cable to the channel is compensating cable of type ${range.type}.`,
      conductors: [
        wire(end('device', '+'), end('channel', 'in +'), 'signal'),
        wire(end('device', '−'), end('channel', 'in −'), 'back'),
      ],
    }
  if (facts.wires === undefined)
    assumed.push('Not entered how many wires the transmitter has: two are assumed.')
  const wires = facts.wires ?? 2
  const usual =
    wires === 4 ? 'device' : facts.supply !== undefined || feeds === true ? 'channel' : 'unknown'
  if (facts.supply === undefined && usual !== 'unknown')
    assumed.push(
      `Not entered what feeds it; assumed: the ${usual === 'device' ? 'transmitter itself' : 'channel, which can'}.`,
    )
  if (facts.supply === undefined && feeds === false && usual === 'unknown')
    assumed.push('The channel feeds nothing; the loop needs a supply in series.')
  return loops[`${wires} ${facts.supply ?? usual}`] ?? loops[`${wires} ${usual}`]!
}

function faultsOf(
  { kind, direction }: Pick<Channel, 'kind' | 'direction'>,
  { wires, supply, hart, transmitter, switching }: SignalFacts,
  electrical: Electrical,
): string[] {
  const faults: string[] = []
  if (kind !== 'analog' && direction === 'in' && takesNot(electrical, switching))
    faults.push(
      `The channel takes ${electrical.takes === 'pnp' ? 'sensors that source (pnp)' : 'sensors that sink (npn)'} only.`,
    )
  if (kind === 'analog' && direction === 'in' && supply === 'channel' && electrical.feeds === false)
    faults.push('The channel feeds nothing; the loop needs a supply of its own.')
  if (hart && electrical.hart === false) faults.push('The channel carries no HART.')
  if (kind === 'analog' && direction === 'in') {
    if (wires === 2 && supply === 'device')
      faults.push('There is no supply in the loop: a two-wire transmitter brings none.')
    if (wires === 4 && supply !== undefined && supply !== 'device')
      faults.push('There are two supplies in the loop: a four-wire transmitter drives it itself.')
  }
  const range = transmitter === undefined ? null : readRange(transmitter)
  if (hart && range && !(range.kind === 'current' && range.low === 4))
    faults.push('HART runs over 4…20 mA only.')
  if (hart && kind !== 'analog') faults.push('HART needs an analog channel.')
  return faults
}

/** Whether inputs take no sensor that switches so; a contact goes with either. */
export function takesNot({ takes }: Electrical, switching: SignalFacts['switching']): boolean {
  return (
    takes !== undefined &&
    takes !== 'both' &&
    (switching === 'pnp' || switching === 'npn') &&
    switching !== takes
  )
}

/** The terminals of the channel's pins: those whose functions end in the same sign, else one after
 *  the other if there are as many. */
export function pinTerminals(
  { pins }: Pick<Wiring, 'pins'>,
  terminals: readonly Terminal[],
): ReadonlyMap<string, string> {
  const bySign = pins.channel.map(
    (pin) =>
      terminals.find((one) => /[+−-]$/.test(pin) && one.function.trim().endsWith(pin.slice(-1)))
        ?.terminal,
  )
  const isClear = bySign.every(Boolean) && new Set(bySign).size === pins.channel.length
  return new Map(
    pins.channel.map((pin, i) => [
      pin,
      isClear ? bySign[i]! : terminals.length === pins.channel.length ? terminals[i]!.terminal : '',
    ]),
  )
}
