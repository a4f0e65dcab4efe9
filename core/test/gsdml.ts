/** Builds small GSDML texts for tests; every part can be replaced. */
export interface GsdmlParts {
  readonly accessPoint?: string
  readonly useable?: string
  readonly modules?: string
  readonly lists?: string
  readonly texts?: string
  readonly languages?: string
}

export const moduleItem = (id: string, ident: string, submodules: string) =>
  `<ModuleItem ID="${id}" ModuleIdentNumber="${ident}"><ModuleInfo><Name TextId="T_${id}"/><OrderNumber Value="X-${id}"/></ModuleInfo><VirtualSubmoduleList>${submodules}</VirtualSubmoduleList></ModuleItem>`

export const submoduleItem = (id: string, ioData: string, more = '') =>
  `<VirtualSubmoduleItem ID="${id}" SubmoduleIdentNumber="0x1"><IOData>${ioData}</IOData>${more}<ModuleInfo><Name TextId="T_S"/></ModuleInfo></VirtualSubmoduleItem>`

export const bits = (count: number) =>
  Array.from({ length: count }, (_, bit) => `<BitDataItem BitOffset="${bit}" TextId="T_S"/>`).join(
    '',
  )

const twoModules =
  moduleItem(
    'DI',
    '0x10',
    submoduleItem(
      'DI_1',
      `<Input><DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_S">${bits(8)}</DataItem></Input>`,
    ),
  ) +
  moduleItem(
    'AO',
    '0x20',
    submoduleItem(
      'AO_1',
      '<Output><DataItem DataType="Integer16" TextId="T_S"/><DataItem DataType="Integer16" TextId="T_S"/></Output>',
    ),
  )

export function gsdml(parts: GsdmlParts = {}): string {
  const {
    accessPoint = 'PhysicalSlots="0..4" FixedInSlots="0"',
    useable = '<ModuleItemRef ModuleItemTarget="DI" AllowedInSlots="1..3"/><ModuleItemRef ModuleItemTarget="AO" AllowedInSlots="2..4"/>',
    modules = twoModules,
    lists = '',
    texts = ['DAP', 'DI', 'AO', 'M', 'S']
      .map((id) => `<Text TextId="T_${id}" Value="Name of ${id}"/>`)
      .join(''),
    languages = '',
  } = parts
  return `<?xml version="1.0" encoding="utf-8"?>
<ISO15745Profile xmlns="http://www.profibus.com/GSDML/2003/11/DeviceProfile" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" xsi:schemaLocation="x GSDML-DeviceProfile-v2.35.xsd">
<ProfileBody><DeviceIdentity VendorID="0x0F01" DeviceID="0x0002"><VendorName Value="Tarn &amp; Vey"/></DeviceIdentity>
<DeviceFunction><Family MainFamily="I/O" ProductFamily="TV"/></DeviceFunction>
<ApplicationProcess>
<DeviceAccessPointList><DeviceAccessPointItem ID="DAP" ModuleIdentNumber="0x1" MinDeviceInterval="32" DNS_CompatibleName="tv" ${accessPoint}>
<ModuleInfo><Name TextId="T_DAP"/><OrderNumber Value="TV-1"/><SoftwareRelease Value="V1.0"/></ModuleInfo><IOConfigData MaxInputLength="4" MaxOutputLength="8"/>
<UseableModules>
${useable}
</UseableModules>
<SystemDefinedSubmoduleList><InterfaceSubmoduleItem ID="IF" SubmoduleIdentNumber="0x2" TextId="T_S"/><PortSubmoduleItem ID="P1" SubmoduleIdentNumber="0x3" SubslotNumber="32769" TextId="T_S"/><PortSubmoduleItem ID="P2" SubmoduleIdentNumber="0x3" SubslotNumber="32770" TextId="T_S"/></SystemDefinedSubmoduleList>
</DeviceAccessPointItem></DeviceAccessPointList>
<ModuleList>
${modules}
</ModuleList>
${lists}
<ExternalTextList><PrimaryLanguage>${texts}</PrimaryLanguage>${languages}</ExternalTextList>
</ApplicationProcess></ProfileBody></ISO15745Profile>
`
}
