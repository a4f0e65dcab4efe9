import type { Device } from '../../catalog/model'
import { parseOctets, toHex } from '../../vocabulary/hex'
import { wordProfibusTelegram } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { profibusMaster } from './master'
import { softwareOnWire } from '../software-revision'
import {
  checkConfiguration,
  parameterSize,
  setPrmTelegram,
  telegramSizes,
  userParameters,
  usualPrmSettings,
} from './set-prm'
import { profibusNetworkTimes, profibusStationTimes, profibusTimes } from './times'

const configurationIdent = (text: string | null) => {
  const octets = Uint8Array.from(parseOctets(text ?? '') ?? [])
  return toHex(octets, octets.length, '')
}

type ProfibusDevice = Extract<Device, { protocol: 'profibus' }>

export const profibus = {
  name: 'profibus',
  title: 'PROFIBUS DP',
  kinds: {
    profibus: {
      name: 'PROFIBUS DP',
      // EN 50170: 126 means not yet set, 127 broadcast. That controllers take the low addresses 1
      // and 2 is common practice.
      master: profibusMaster,
      wordFrame: wordProfibusTelegram,
      number: { word: 'Bus address', first: 0, last: 125, start: 3 },
      ownNumber: ({ masterAddress }: { readonly masterAddress: number }) => masterAddress,
      settings: { network: profibusNetworkTimes, station: profibusStationTimes },
      wiring: { shape: 'bus', medium: 'rs-485', ports: 2, controllerPorts: 2 },
      times: profibusTimes,
    },
  },
  byteOrder: 'big', // by habit only
  // A GSD proposes an example as often as what everybody has; that is offered, not done.
  placesProposed: false,
  // Chk_Cfg names the modules one after the other, without their slots (EN 50170, IEC 61158-6-3;
  // from memory).
  isGapless: true,
  leastCycleUs: ({ profibus: { minSlaveIntervalUs } }) => minSlaveIntervalUs,
  sizes: telegramSizes,
  parameterSize,
  setBy: ({ device }) =>
    device.profibus.takesAddressOverBus
      ? 'Written over the bus while the device still has the address 126 (Set_Slave_Add), or set on the device.'
      : 'Set on the device; it takes no address over the bus.',
  telegrams: (station, records) => ({
    setPrm: toHex(
      setPrmTelegram(
        station.device.identity.profibus.identNumber,
        Uint8Array.from(userParameters(records).flatMap(({ bytes }) => [...bytes])),
        {
          ...usualPrmSettings,
          watchdogMs:
            (station.station.settings as { watchdogMs?: number }).watchdogMs ??
            usualPrmSettings.watchdogMs,
        },
      ),
    ),
    chkCfg: toHex(checkConfiguration(station)),
  }),
  identity: ({ name, firmware, identity: { profibus: id } }) => ({
    type: id.identNumber.toString(16).padStart(4, '0'),
    typeName: name,
    firmware: softwareOnWire(firmware),
  }),
  identOf: ({ configuration }) => configurationIdent(configuration),
  // What a compact device is configured with stands in its one module.
  headIdent: () => '',
} satisfies NetworkProtocol<ProfibusDevice>
