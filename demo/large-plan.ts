import {
  readDeviceFile,
  newPlan,
  planFromRows,
  tables,
  rowsOfPlan,
  stationSettingsFor,
  type Catalog,
  type ModuleRow,
  type Plan,
  type SignalRow,
  type StationRow,
} from '@kataxis/core'

/** A GSDML text of about so many bytes: one head, as many 16-channel modules with parameters as it
 *  takes. */
export function syntheticGsdml(bytes: number): string {
  const modules: string[] = []
  const references: string[] = []
  const texts: string[] = []
  let size = 0
  for (let number = 0; size < bytes; number++) {
    const bits = Array.from(
      { length: 8 },
      (_, bit) => `<BitDataItem BitOffset="${bit}" TextId="T_C${bit}"/>`,
    ).join('')
    const module = `<ModuleItem ID="M${number}" ModuleIdentNumber="0x${(4096 + number).toString(16)}">
<ModuleInfo CategoryRef="C1"><Name TextId="T_M${number}"/><InfoText TextId="T_I${number}"/><OrderNumber Value="SY-${number}"/></ModuleInfo>
<VirtualSubmoduleList><VirtualSubmoduleItem ID="S${number}" SubmoduleIdentNumber="0x1"><IOData><Input Consistency="All items consistency">
<DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_D">${bits}</DataItem>
<DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_D">${bits}</DataItem>
</Input></IOData><RecordDataList><ParameterRecordDataItem Index="1" Length="4"><Name TextId="T_D"/><Const Data="0x00,0x01,0x02,0x03"/>
<Ref ByteOffset="0" BitOffset="0" BitLength="2" DataType="BitArea" DefaultValue="1" AllowedValues="0..3" ValueItemTarget="V1" TextId="T_D"/>
<Ref ByteOffset="2" DataType="Unsigned16" DefaultValue="500" AllowedValues="1..1000" TextId="T_D"/></ParameterRecordDataItem></RecordDataList>
<ModuleInfo><Name TextId="T_M${number}"/><InfoText TextId="T_I${number}"/></ModuleInfo></VirtualSubmoduleItem></VirtualSubmoduleList></ModuleItem>`
    const reference = `<ModuleItemRef ModuleItemTarget="M${number}" AllowedInSlots="1..32"/>`
    const text = `<Text TextId="T_M${number}" Value="Sixteen inputs, variant ${number}"/><Text TextId="T_I${number}" Value="Made up to measure reading, number ${number}"/>`
    modules.push(module)
    references.push(reference)
    texts.push(text)
    size += module.length + reference.length + text.length + 3
  }
  const channels = Array.from(
    { length: 8 },
    (_, bit) => `<Text TextId="T_C${bit}" Value="Channel ${bit}"/>`,
  ).join('')
  return `<?xml version="1.0" encoding="utf-8"?>
<ISO15745Profile xmlns="http://www.profibus.com/GSDML/2003/11/DeviceProfile"><ProfileBody>
<DeviceIdentity VendorID="0x0F01" DeviceID="0x0001"><VendorName Value="Synthetic"/></DeviceIdentity>
<DeviceFunction><Family MainFamily="I/O" ProductFamily="SY"/></DeviceFunction><ApplicationProcess><DeviceAccessPointList>
<DeviceAccessPointItem ID="DAP" ModuleIdentNumber="0x1" PhysicalSlots="0..32" FixedInSlots="0" MinDeviceInterval="32" DNS_CompatibleName="sy">
<ModuleInfo><Name TextId="T_D"/></ModuleInfo><IOConfigData MaxInputLength="1440" MaxOutputLength="1440"/><UseableModules>
${references.join('\n')}
</UseableModules></DeviceAccessPointItem></DeviceAccessPointList><ModuleList>
${modules.join('\n')}
</ModuleList><ValueList><ValueItem ID="V1"><Assignments><Assign Content="0" TextId="T_D"/></Assignments></ValueItem></ValueList>
<CategoryList><CategoryItem ID="C1" TextId="T_D"/></CategoryList><ExternalTextList><PrimaryLanguage><Text TextId="T_D" Value="Something"/>${channels}
${texts.join('\n')}
</PrimaryLanguage></ExternalTextList></ApplicationProcess></ProfileBody></ISO15745Profile>
`
}

export interface LargePlan {
  readonly plan: Plan
  readonly catalog: Catalog
  /** The plan's rows as JSON, which the reference parses. */
  readonly json: string
}

/** The description file that it stands on. */
export const largePlanFile = {
  name: 'GSDML-V2.35-Synthetic-SY-20260101.xml',
  bytes: new TextEncoder().encode(syntheticGsdml(20_000)),
}

/** A plan of `stationCount` stations with 16 modules of 16 named channels each. */
export function largePlan(stationCount: number, hash = 'f'.repeat(64)): LargePlan {
  const file = readDeviceFile(largePlanFile.bytes, largePlanFile.name).file!
  const base = newPlan('large', 'Large')
  const stations: StationRow[] = []
  const modules: ModuleRow[] = []
  const signals: SignalRow[] = []
  for (let s = 0; s < stationCount; s++) {
    const stationId = `s${s}`
    stations.push({
      id: stationId,
      networkId: `n${s >> 7}`,
      position: s,
      name: `station-${s}`,
      settings: stationSettingsFor('profinet', { ip: `10.${s >> 7}.0.${(s & 127) + 2}` }),
      deviceNumber: (s & 127) + 1,
      file: hash,
      device: 'DAP',
      connection: '',
      comment: '',
      railMm: 0,
      plugged: {},
      layouts: {},
      reported: null,
      packsBits: null,
      switches: null,
      links: {
        1: {
          to: s & 127 ? { node: `s${s - 1}`, port: 2 } : { node: `n${s >> 7}`, port: 1 },
          medium: 'copper',
          lengthM: 20,
          cable: '',
          label: '',
          connectors: 0,
        },
      },
      ports: {},
      feed: null,
      secondFeed: null,
      orders: {},
      values: {},
      iParameterSums: {},
      monitored: {},
      addresses: {},
    })
    for (let slot = 1; slot <= 16; slot++) {
      const moduleId = `${stationId}.${slot}`
      modules.push({
        id: moduleId,
        stationId,
        slot,
        module: `M${slot % file.modules.length}`,
        plugged: {},
        layouts: {},
        identity: null,
        feed: null,
        sendsEveryS: null,
        orders: {},
        values: {},
        iParameterSums: {},
        monitored: {},
        addresses: { 1: { in: (s * 16 + slot - 1) * 2 } },
      })
      for (let offsetBits = 0; offsetBits < 16; offsetBits++) {
        signals.push({
          id: `${moduleId}-${offsetBits}`,
          place: { moduleId, subslot: 1, direction: 'in', offsetBits },
          tag: `S${s}_M${slot}_C${offsetBits}`,
          comment: `Signal ${offsetBits} of module ${slot}`,
          terminal: '',
          facts: {},
        })
      }
    }
  }
  const rows = {
    controllers: [
      tables.controllers.parse({
        id: 'k1',
        name: 'K1',
        position: 1,
        inputBytes: 65_536,
        outputBytes: 65_536,
        aligned: true,
      }),
    ],
    networks: Array.from({ length: (stationCount >> 7) + 1 }, (_, n) =>
      tables.networks.parse({
        id: `n${n}`,
        controllerId: 'k1',
        name: `N${n}`,
        position: n,
        settings: { kind: 'profinet', controllerIp: `10.${n}.0.1`, prefixLength: 24 },
      }),
    ),
    stations,
    modules,
    signals,
  }
  const plan = planFromRows(base.project, rows)
  return { plan, catalog: new Map([[hash, file]]), json: JSON.stringify(rowsOfPlan(plan)) }
}

/** The same plan in objects of its own, so that nothing computed before can be used again. */
export function freshCopy({ plan, json }: LargePlan): Plan {
  return planFromRows(plan.project, JSON.parse(json) as Parameters<typeof planFromRows>[1])
}
