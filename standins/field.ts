import {
  channelsInData,
  probe,
  rawAtShare,
  readChannel,
  shareAtRaw,
  signalScale,
  signalUnit,
  writeChannel,
  type ChannelInData,
  type Field,
  type SignalScale,
} from '@kataxis/core'
import type { Device } from './device'

/** What is wrong with the wires between field and terminals. */
export interface Wiring {
  /** Tags whose wires end at each other's channels, both ways. */
  readonly crossed: ReadonlyMap<string, string>
  readonly broken: ReadonlySet<string>
  readonly shorted: ReadonlySet<string>
  readonly factors: ReadonlyMap<string, number>
}

interface Terminal {
  readonly device: Device
  readonly one: ChannelInData
  readonly scale: SignalScale
}

/** The field behind all devices: sensors that put a share of their range on their wires, actuators
 *  that get what outputs give. */
export function fieldOf(devices: readonly Device[], wiring: Wiring): Field {
  const terminals = new Map<string, Terminal>()
  for (const device of devices)
    for (const one of channelsInData(device.is.view)) {
      const { catalog, project } = device.is
      if (one.signal.tag !== '')
        terminals.set(one.signal.tag, { device, one, scale: signalScale(one, catalog, project) })
    }
  const otherEnd = (tag: string) => wiring.crossed.get(tag) ?? tag
  return {
    put(tag, share) {
      const sensor = terminals.get(tag)
      const at = terminals.get(otherEnd(tag))
      if (at && at.one.direction === 'in')
        writeChannel(at.device.inputs, at.one, rawAt(at, sensor?.scale ?? at.scale, tag, share))
    },
    seen(tag) {
      const at = terminals.get(otherEnd(tag))
      if (!at || at.one.direction !== 'out') return null
      if (wiring.broken.has(tag) || wiring.shorted.has(tag)) return 0
      const share = shareAtRaw(at.scale, readChannel(at.device.outputs, at.one))
      return share * (wiring.factors.get(tag) ?? 1)
    },
  }

  /** What a channel counts: through the electrical signal, so that a wire that ends at a channel
   *  of another range shows what it would. */
  function rawAt(at: Terminal, sensor: SignalScale, tag: string, share: number): number {
    const isBroken = wiring.broken.has(tag)
    if (isBroken || wiring.shorted.has(tag)) return rawOfFault(at.scale, isBroken)
    const real = share * (wiring.factors.get(tag) ?? 1)
    if (at.scale.kind !== 'chain' || sensor.kind !== 'chain') return rawAtShare(at.scale, real)
    const { low, high } = sensor.chain.process
    const { signal } = probe(sensor.chain, 'process', low + real * (high - low))
    const isSame = signalUnit(sensor.chain.channel) === signalUnit(at.scale.chain.channel)
    return probe(at.scale.chain, 'signal', isSame ? (signal ?? 0) : 0).raw ?? 0
  }
}

/** A broken wire carries nothing; a shorted one as much as the channel can measure. */
function rawOfFault(scale: SignalScale, isBroken: boolean): number {
  if (scale.kind !== 'chain') return 0
  const { format } = scale.chain
  return isBroken
    ? (probe(scale.chain, 'signal', 0).raw ?? format.underflow ?? format.least)
    : (format.overflow ?? format.most)
}
