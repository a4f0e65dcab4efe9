import {
  networkKinds,
  protocolTitle,
  type Device,
  type NetworkKindName,
  type PowerNeed,
} from '@kataxis/core'

type Fact = readonly [label: string, value: string]

const hex = (value: number, digits: number) => `0x${value.toString(16).padStart(digits, '0')}`
const milliseconds = (us: number | null) => (us === null ? [] : [`${us / 1000} ms`])

/** What only a head's own network knows of it, in words. */
const protocolFacts: {
  [P in 'profinet' | 'profibus' | 'ethercat' | 'ethernet-ip' | 'io-link']: (
    device: Extract<Device, { protocol: P }>,
  ) => Fact[]
} = {
  profinet: ({ identity: { profinet: id }, profinet }) => [
    ['Vendor', hex(id.vendorId, 4)],
    ['Device', hex(id.deviceId, 4)],
    ['Ident', hex(id.moduleIdent, 8)],
    ...milliseconds(profinet.minDeviceIntervalUs).map((value): Fact => [
      'Shortest interval',
      value,
    ]),
    ...(profinet.conformanceClass
      ? [['Conformance class', profinet.conformanceClass] as const]
      : []),
    ...(profinet.sendClocksUs.length > 0
      ? [
          [
            'Send clocks',
            `${profinet.sendClocksUs
              .slice(0, 6)
              .map((us) => us / 1000)
              .join(', ')}${profinet.sendClocksUs.length > 6 ? ' …' : ''} ms`,
          ] as const,
        ]
      : []),
    ...(profinet.realTimeClasses.length > 0
      ? [['Real-time classes', profinet.realTimeClasses.join(', ')] as const]
      : []),
    ...(profinet.mediaRedundancyRoles.length > 0
      ? [['In a ring', profinet.mediaRedundancyRoles.join(', ')] as const]
      : []),
    ...(profinet.systemRedundancy === null
      ? []
      : [['System redundancy', profinet.systemRedundancy] as const]),
    ...(profinet.applicationRelations === null
      ? []
      : [['Relations', String(profinet.applicationRelations)] as const]),
    ['Address by', profinet.addressAssignment.join(', ')],
    ['Shared device', profinet.isShareable ? 'yes' : 'no'],
  ],
  profibus: ({ identity, profibus }) => [
    ['Ident', hex(identity.profibus.identNumber, 4)],
    [
      'Rates',
      `${profibus.transmissionRates.map((rate) => (rate >= 1000 ? `${rate / 1000} M` : rate)).join(', ')}bit/s`.replace(
        /(\d)bit/,
        '$1 kbit',
      ),
    ],
    ...milliseconds(profibus.minSlaveIntervalUs).map((value): Fact => ['Shortest interval', value]),
    ...(profibus.maxDiagnosisBytes === null
      ? []
      : [['Diagnosis', `up to ${profibus.maxDiagnosisBytes} bytes`] as const]),
  ],
  ethercat: ({ identity: { ethercat: id }, ethercat }) => [
    ['Vendor', hex(id.vendorId, 8)],
    ['Product', hex(id.productCode, 8)],
    ['Revision', hex(id.revision, 8)],
    ['Ports', ethercat.physics || 'not stated'],
    ['Mailbox', ethercat.mailboxProtocols.join(', ') || 'none'],
    ['Clocks', ethercat.operationModes.map(({ name }) => name).join(', ') || 'free run only'],
  ],
  'ethernet-ip': ({ identity: { 'ethernet-ip': id }, ethernetIp }) => [
    ['Vendor', String(id.vendorCode)],
    ['Type', `${id.productType} ${ethernetIp.productType}`.trim()],
    ['Code', String(id.productCode)],
    ['Revision', `${id.majorRevision}.${id.minorRevision}`],
    ...(ethernetIp.maxConnections === null
      ? []
      : [['Connections', `up to ${ethernetIp.maxConnections}`] as const]),
  ],
  'io-link': ({ identity: { 'io-link': id }, ioLink }) => [
    ['Vendor', String(id.vendorId)],
    ['Device', String(id.deviceId)],
    ['Rate', ioLink.transmissionRate ?? 'not stated'],
    ...milliseconds(ioLink.minCycleTimeUs).map((value): Fact => ['Shortest cycle', value]),
    ['Switching mode', ioLink.hasSioMode ? 'yes' : 'no'],
  ],
}

function sheetFacts({ sheet }: Extract<Device, { sheet: unknown }>): Fact[] {
  return [
    ['Address', sheet.addressing || 'not stated'],
    ...(sheet.registers.length > 0 ? [['Registers', String(sheet.registers.length)] as const] : []),
    ...(sheet.controller?.interfaces.map(({ name, kind, maxStations }): Fact => [
      name,
      `${networkKinds[kind as NetworkKindName].name}${maxStations === null ? '' : `, up to ${maxStations} stations`}`,
    ]) ?? []),
  ]
}

type FactsOf = (device: Device) => Fact[]
const factsByProtocol = protocolFacts as unknown as Readonly<Record<string, FactsOf>>

const wordNeed = ({ currentMa, inrushMa, minVolts, maxVolts }: PowerNeed) =>
  `${currentMa} mA${inrushMa ? `, ${inrushMa} mA at start` : ''}, ${minVolts} to ${maxVolts} V`

/** Facts of a head: its network's, then its limits. */
export function factsOf(device: Device): Fact[] {
  const { inputBytes, outputBytes, dataBytes, modules, parameterBytes } = device.limits
  const limit = (label: string, value: number | null, unit: string): Fact[] =>
    value === null ? [] : [[label, `${value} ${unit}`]]
  return [
    ['Network', protocolTitle(device.protocol)],
    ...(factsByProtocol[device.protocol] ?? (sheetFacts as FactsOf))(device),
    ...(device.slots.length > 0 ? [['Slots', String(device.slots.length)] as const] : []),
    ...limit('Most modules', modules === device.slots.length ? null : modules, ''),
    ...limit('Most input', inputBytes, 'bytes'),
    ...limit('Most output', outputBytes, 'bytes'),
    ...limit('Both ways', dataBytes, 'bytes'),
    ...limit('Parameters', parameterBytes, 'bytes'),
    ...(device.currentMa === null
      ? []
      : [
          [
            device.currentMa < 0 ? 'Backplane, supplies' : 'Backplane, takes',
            `${Math.abs(device.currentMa)} mA`,
          ] as const,
        ]),
    ...(device.power ? [['Takes of its supply', wordNeed(device.power)] as const] : []),
    ...(device.source
      ? [['Gives', `${device.source.currentMa} mA at ${device.source.volts} V`] as const]
      : []),
  ]
}
