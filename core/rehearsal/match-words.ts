import { parseIp } from '../addressing/ip'
import { positionsFor, wordPositions } from '../addressing/switches'
import { switchAddress } from '../changing/identities'
import type { FoundDevice, IdentifiedBy } from '../protocols/master'
import { kindNamed } from '../protocols/registry'
import { finding, type RehearsalFinding } from './finding'
import { switchesAt, type PlannedNetwork, type PlannedStation } from './planned'

const wordOfNumber = ({ kind }: PlannedStation) => kindNamed(kind).number.word.toLowerCase()

/** What a station's device is spoken to by, in words. */
function wordAddress(station: PlannedStation): string {
  return kindNamed(station.kind).hasIp
    ? station.ip || 'no address'
    : `${wordOfNumber(station)} ${station.number}`
}

export function deviceWords({ typeName, type, key, mac }: FoundDevice): string {
  return `the ${typeName || `device of the type ${type}`} at ${mac ?? key}`
}

export function twice(
  { name, ...rest }: PlannedStation,
  holders: readonly FoundDevice[],
  by: IdentifiedBy,
): RehearsalFinding {
  const what = by === 'name' ? `are called ${rest.wireName}` : `have the address of ${name}`
  return finding(
    'match.twice',
    'blocker',
    name,
    `${holders.length} devices ${what}: ${holders.map(({ key }) => key).join(' and ')}.`,
    by === 'name'
      ? 'Reset all but one to factory state, then scan again.'
      : 'Change the address of all but one, then scan again.',
  )
}

export function missing(station: PlannedStation, by: IdentifiedBy): RehearsalFinding {
  const { name, identity } = station
  const where = by === 'address' ? ` at ${wordAddress(station)}` : ''
  return finding(
    'match.missing',
    'blocker',
    name,
    `${name} (${identity.typeName}) does not answer${where}.`,
    'Check its supply, its cable and its address, then scan again.',
  )
}

/** Type, firmware and address of the device that is a station's. */
export function identity(station: PlannedStation, device: FoundDevice): RehearsalFinding[] {
  const { name } = station
  const planned = station.identity
  if (device.type !== planned.type && device.type !== '')
    return [
      finding(
        'match.type',
        'blocker',
        name,
        `The device of ${name} is a ${device.typeName || 'device'} (${device.type}); planned is a ${planned.typeName} (${planned.type}).`,
        'Put the planned device there, or replace the head of the station on the Board.',
      ),
    ]
  const findings: RehearsalFinding[] = []
  if (device.firmware !== null && !sameFirmware(device.firmware, planned.firmware))
    findings.push(
      finding(
        'match.firmware',
        'warning',
        name,
        planned.firmware === null
          ? `${name} has the firmware ${device.firmware}; its description names none.`
          : `${name} has the firmware ${device.firmware}; its description is for ${planned.firmware}.`,
        'Bring the description of that firmware to the shelf, or update the device.',
      ),
    )
  return [...findings, ...wordIp(station, device)]
}

/** Versions as numbers, so that `V1.4` is `1.4.0`; a revision is one number. */
export function sameFirmware(real: string, planned: string | null): boolean {
  if (planned === null) return false
  const numbers = (text: string) => {
    const parts = (/^0x/i.test(text) ? [String(Number(text))] : (text.match(/\d+/g) ?? [])).map(
      Number,
    )
    while (parts.at(-1) === 0) parts.pop()
    return parts.join('.')
  }
  return numbers(real) === numbers(planned)
}

function wordIp(station: PlannedStation, device: FoundDevice): RehearsalFinding[] {
  const { name, ip, mask, kind } = station
  const isNamed = kindNamed(kind).master?.identifiedBy === 'name'
  if (!isNamed || ip === '' || device.address === ip) return []
  const [real, want, bits] = [device.address ?? '', ip, mask].map(parseIp)
  const isOutside =
    typeof real === 'number' &&
    typeof want === 'number' &&
    typeof bits === 'number' &&
    (real & bits) !== (want & bits)
  return [
    finding(
      isOutside ? 'match.subnet' : 'match.address',
      'warning',
      name,
      `${name} has ${device.address === null ? 'no address' : `the address ${device.address}`}; planned is ${ip}${isOutside ? ' in another subnet' : ''}.`,
      'Assign the planned address; the controller would do so at its start.',
    ),
  ]
}

/** A station whose device has not its name or address yet. */
export function candidates(
  station: PlannedStation,
  possible: readonly FoundDevice[],
  isClear: boolean,
  isByNeighbour: boolean,
  by: IdentifiedBy,
  hasSwitches: boolean,
): RehearsalFinding {
  const { name } = station
  const [best] = possible as [FoundDevice, ...FoundDevice[]]
  const at = isByNeighbour ? ' between the planned neighbours' : ''
  if (by === 'name' && isClear && best.name && best.name.toLowerCase() === station.wireName)
    return finding(
      'match.nameCase',
      'blocker',
      name,
      `${deviceWords(best)} is called ${best.name}; names on the wire are written ${station.wireName}.`,
      `Assign the name ${station.wireName}.`,
    )
  if (!isClear)
    return finding(
      'match.ambiguous',
      'blocker',
      name,
      `${possible.length} devices may be ${name}: ${possible.map(({ mac, key }) => mac ?? key).join(', ')}.`,
      'Blink them one after the other, then assign the right one.',
    )
  if (by === 'name')
    return finding(
      best.name === '' ? 'match.nameless' : 'match.otherName',
      'blocker',
      name,
      best.name === ''
        ? `No device is called ${station.wireName}; ${deviceWords(best)}${at} has no name yet.`
        : `No device is called ${station.wireName}; ${deviceWords(best)}${at} is called ${best.name}.`,
      'Blink it to be sure, then assign the name.',
    )
  if (best.address === null)
    return finding(
      'match.noAddress',
      'blocker',
      name,
      `${name} does not answer at ${wordAddress(station)}; ${deviceWords(best)}${at} asks for an address.`,
      'Assign its address.',
    )
  return hasSwitches ? wordSwitches(station, best) : wordOtherAddress(station, best)
}

function wordOtherAddress(station: PlannedStation, device: FoundDevice): RehearsalFinding {
  return finding(
    'match.otherAddress',
    'blocker',
    station.name,
    `${station.name} does not answer at ${wordAddress(station)}; ${deviceWords(device)} has the address ${device.address}.`,
    'Set the planned address at the device, then power-cycle it.',
  )
}

function wordSwitches(station: PlannedStation, device: FoundDevice): RehearsalFinding {
  const bank = switchesAt(station)!
  const address = switchAddress(bank, station.view.station)
  const positions = address === null ? null : positionsFor(bank, address)
  return finding(
    'match.switches',
    'blocker',
    station.name,
    `The switches of ${station.name} make ${device.address}; planned is ${wordAddress(station)}.`,
    positions
      ? `Set the switches (${wordPositions(bank, positions)}), then power-cycle the device.`
      : 'Set the switches to the planned address, then power-cycle the device.',
  )
}

export function extra({ name: network }: PlannedNetwork, device: FoundDevice): RehearsalFinding {
  const called = device.name ? `${device.name}, ` : ''
  const address = device.address ? ` with the address ${device.address}` : ''
  return finding(
    'match.extra',
    'warning',
    null,
    `On ${network} there is ${called}${deviceWords(device)}${address}; the plan has no such station.`,
    'Add it on the Board, or take it off the wire.',
  )
}
