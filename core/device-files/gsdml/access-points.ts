import { makeDevice } from '../../catalog/blank'
import type { Device, Slot, Subslot } from '../../catalog/model'
import { inRanges } from '../../vocabulary/value-list'
import { child, listed, type XmlElement } from '../xml-records'
import { valueOf, wantInfo } from './modules'
import type { Reading } from './reading'
import { addSubslots, readReference } from './sockets'
import { readPorts } from './ports'
import { builtIn, systemDefined } from './submodules'

/** A DeviceAccessPointItem: the head of a station. */
export function readAccessPoint(reading: Reading, element: XmlElement): Device {
  const { attributes, vendor, sockets } = reading
  const info = child(element, 'ModuleInfo')
  const io = child(element, 'IOConfigData')
  const inputBytes = attributes.number(io, 'MaxInputLength')
  const outputBytes = attributes.number(io, 'MaxOutputLength')
  const interval = attributes.number(element, 'MinDeviceInterval')
  const physical = attributes.list(element, 'PhysicalSlots') ?? []
  const own = attributes.list(element, 'FixedInSlots') ?? [[0, 0]]
  const slotNumbers = reading.numbersOf(physical, element).filter((slot) => !inRanges(own, slot))
  const device = makeDevice({
    key: reading.uniqueKey(element),
    name: '',
    orderNumber: valueOf(info, 'OrderNumber'),
    firmware: valueOf(info, 'SoftwareRelease'),
    hardware: valueOf(info, 'HardwareRelease'),
    protocol: 'profinet' as const,
    identity: {
      profinet: {
        vendorId: 0,
        deviceId: 0,
        moduleIdent: attributes.required(element, 'ModuleIdentNumber'),
      },
    },
    limits: {
      inputBytes,
      outputBytes,
      // Left out, the total is the sum of both directions (GSDML specification, IOConfigData;
      // from memory).
      dataBytes:
        attributes.number(io, 'MaxDataLength') ??
        (inputBytes !== null && outputBytes !== null ? inputBytes + outputBytes : null),
      modules: slotNumbers.length,
      parameterBytes: null,
    },
    slots: [] as Slot[],
    subslots: [] as Subslot[],
    submodules: [...builtIn(reading, element), ...systemDefined(reading, element)],
    profinet: {
      dnsCompatibleName: element.attributes['DNS_CompatibleName'] ?? null,
      minDeviceIntervalUs: interval === null ? null : interval * 31.25,
      conformanceClass: child(element, 'CertificationInfo')?.attributes['ConformanceClass'] ?? null,
      maxRecordBytes: attributes.number(element, 'MaxSupportedRecordSize'),
      limitsIncludeStatus: attributes.boolean(io, 'ApplicationLengthIncludesIOxS'),
      ...readCapabilities(reading, element),
    },
  })
  device.identity.profinet.vendorId = vendor.id ?? 0
  device.identity.profinet.deviceId = reading.deviceId
  wantInfo(reading, device, info, element)
  sockets.push({
    owner: device,
    numbers: slotNumbers,
    kind: 'slot',
    references: listed(element, 'UseableModules', 'ModuleItemRef').map((reference) =>
      readReference(reading, reference, 'ModuleItemTarget', 'Slots'),
    ),
  })
  addSubslots(reading, device, element)
  return device
}

/** What the access point and its interface can do (GSDML specification, DeviceAccessPointItem and
 *  InterfaceSubmoduleItem; from memory). */
function readCapabilities(reading: Reading, element: XmlElement) {
  const { attributes } = reading
  const interfaceItem = child(
    child(element, 'SystemDefinedSubmoduleList'),
    'InterfaceSubmoduleItem',
  )
  const properties =
    child(interfaceItem, 'ApplicationRelations') ?? child(element, 'ApplicationRelations')
  const timing = child(properties, 'TimingProperties')
  const redundancy = child(interfaceItem, 'MediaRedundancy')
  const system = child(element, 'SystemRedundancy')
  const clock = (factor: number) => factor * 31.25
  return {
    addressAssignment: words(element.attributes['AddressAssignment'] ?? 'DCP'),
    applicationRelations: attributes.number(element, 'NumberOfAR', [1, 65_535]),
    isShareable: attributes.boolean(element, 'SharedDeviceSupported'),
    checksDeviceId: attributes.boolean(element, 'CheckDeviceID_Allowed'),
    reportsNeighbours: attributes.boolean(element, 'LLDP_NoD_Supported'),
    ports: readPorts(reading, element),
    sendClocksUs: timing
      ? reading.numbersOf(attributes.list(timing, 'SendClock') ?? [[32, 32]], timing).map(clock)
      : [],
    reductionRatios: timing
      ? reading.numbersOf(attributes.list(timing, 'ReductionRatio') ?? [], timing)
      : [],
    realTimeClasses: words(
      interfaceItem?.attributes['SupportedRT_Classes'] ??
        interfaceItem?.attributes['SupportedRT_Class'] ??
        '',
    ),
    mediaRedundancyRoles: redundancy
      ? words(redundancy.attributes['SupportedRole'] ?? 'Client')
      : [],
    systemRedundancy: system ? (system.attributes['DeviceType'] ?? 'supported') : null,
    isochronous: attributes.boolean(interfaceItem, 'IsochroneModeSupported'),
    pictures: wantPictures(
      reading,
      listed(element, 'Graphics', 'GraphicItemRef').map(
        (reference) => reference.attributes['GraphicItemTarget'] ?? '',
      ),
    ),
  }
}

/** Their names stand at the end of the file. */
function wantPictures(reading: Reading, ids: string[]): string[] {
  const { pictureWishes } = reading
  pictureWishes.push(ids)
  return ids
}

/** A list of words as the schema's token lists are written: by semicolons. */
function words(text: string): string[] {
  return text.split(/[;\s]+/).filter((word) => word !== '')
}
