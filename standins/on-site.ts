import { switchAddress, switchesAt, type OnSite, type SiteDifference } from '@kataxis/core'
import type { Device } from './device'
import { makeFactoryNew, type World } from './world'

/** What somebody does with the hands at a station. Nothing happens where nothing is to be done. */
export function doOnSite(world: World, stationId: string, what: OnSite): void {
  const device = world.deviceOf(stationId)
  if (device) hands[what](world, device)
}

const hands: Record<OnSite, (world: World, device: Device) => void> = {
  /** Off and on: switches that were turned count, the connection is gone. */
  powerCycle(_, device) {
    device.session = null
    if (!device.turnedTo) return
    device.ip = device.turnedTo.ip
    device.number = device.turnedTo.number
    device.turnedTo = null
  },
  /** As the card shows. The device keeps its old address until it is power-cycled. */
  setSwitches(world, device) {
    const { is } = device
    const bank = switchesAt(is)
    if (!bank || switchAddress(bank, is.view.station) === null) return
    device.turnedTo = { ip: is.ip, number: is.number }
    world.mend(of(world, device, ['switches']))
  },
  plugModules(world, device) {
    world.mend(of(world, device, ['swapped', 'wrongModule', 'missingModule', 'surplusModule']))
  },
  /** Another of the same type, as it comes out of its box, with the firmware that is planned. */
  replaceDevice(world, device) {
    world.mend(
      of(world, device, [
        ...(['wrongType', 'wrongFirmware', 'missing', 'duplicateName', 'slow', 'stopped'] as const),
      ]),
    )
    device.firmware = device.is.identity.firmware
    world.reach()
    device.slowMs = 0
    device.isStopped = false
    makeFactoryNew(device)
  },
  switchToRun(world, device) {
    device.isStopped = false
    world.mend(of(world, device, ['stopped']))
  },
  /** Supply and cables. */
  connect(world, device) {
    world.mend([
      ...of(world, device, ['missing']),
      ...world.differences.filter(({ kind }) => kind === 'cut'),
    ])
    world.reach()
  },
  mendWires(world, device) {
    const tags = new Set(Object.values(device.is.view.group.signals).map(({ tag }) => tag))
    world.mend(
      world.differences.filter((one) =>
        'tag' in one ? tags.has(one.tag) : 'tags' in one && one.tags.some((tag) => tags.has(tag)),
      ),
    )
  },
}

function of(
  { differences }: World,
  device: Device,
  kinds: readonly SiteDifference['kind'][],
): SiteDifference[] {
  return differences.filter(
    (one) => 'station' in one && one.station === device.is.name && kinds.includes(one.kind),
  )
}
