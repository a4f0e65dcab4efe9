/** Invented description files of about so many bytes, with the parts that real ones repeat. */

function fill(bytes: number, make: (number: number) => string): string[] {
  const parts: string[] = []
  for (let size = 0, number = 0; size < bytes; number++) {
    const part = make(number)
    parts.push(part)
    size += part.length + 1
  }
  return parts
}

export function syntheticEsi(bytes: number): string {
  const entry = (number: number, channel: number) =>
    `<Entry><Index>#x6000</Index><SubIndex>${channel}</SubIndex><BitLen>16</BitLen><Name>Value ${number % 7}</Name><DataType>INT</DataType></Entry>`
  const objects = Array.from(
    { length: 12 },
    (_, i) =>
      `<Object><Index>#x${(0x1000 + i).toString(16)}</Index><Name>Object ${i}</Name><Type>UDINT</Type><BitSize>32</BitSize><Info><DefaultData>00000000</DefaultData></Info><Flags><Access>ro</Access></Flags></Object>`,
  ).join('\n')
  const devices = fill(
    bytes,
    (
      number,
    ) => `<Device Physics="YK"><Type ProductCode="#x${(4096 + number).toString(16)}" RevisionNo="#x00010000">SY${number}</Type>
<Name LcId="1033"><![CDATA[Synthetic terminal ${number}]]></Name><Name LcId="1031"><![CDATA[Erfundene Klemme ${number}]]></Name><Info><Electrical><EBusCurrent>${100 + (number % 50)}</EBusCurrent></Electrical></Info><GroupType>IO</GroupType>
<Sm DefaultSize="128" StartAddress="#x1000" ControlByte="#x26" Enable="1">MBoxOut</Sm><Sm DefaultSize="128" StartAddress="#x1080" ControlByte="#x22" Enable="1">MBoxIn</Sm><Sm StartAddress="#x1180" ControlByte="#x20" Enable="1">Inputs</Sm>
${Array.from({ length: 4 }, (_, pdo) => `<TxPdo Fixed="1" Sm="3"><Index>#x1a0${pdo}</Index><Name>Channel ${pdo + 1}</Name>${[1, 2, 3].map((channel) => entry(number, channel)).join('')}</TxPdo>`).join('\n')}
<Mailbox><CoE SdoInfo="1"><InitCmd><Transition>PS</Transition><Index>#x8000</Index><SubIndex>6</SubIndex><Data>0${number % 10}00</Data></InitCmd></CoE></Mailbox>
<Profile><Dictionary><Objects>${objects}</Objects></Dictionary></Profile></Device>`,
  )
  return `<?xml version="1.0" encoding="utf-8"?>
<EtherCATInfo><Vendor><Id>#xF01</Id><Name>Synthetic</Name></Vendor><Descriptions><Groups><Group><Type>IO</Type><Name>Terminals</Name></Group></Groups><Devices>
${devices.join('\n')}
</Devices></Descriptions></EtherCATInfo>
`
}

export function syntheticIodd(bytes: number): string {
  const texts: string[] = []
  const variables = fill(bytes * 0.75, (number) => {
    texts.push(`<Text id="T_${number}" value="Parameter number ${number}"/>`)
    return `<Variable id="V_${number}" index="${64 + (number % 16_000)}" accessRights="rw" defaultValue="${number % 100}"><Datatype xsi:type="UIntegerT" bitLength="8"><ValueRange lowerValue="0" upperValue="100"/><SingleValue value="255"><Name textId="T_Off"/></SingleValue></Datatype><Name textId="T_${number}"/></Variable>`
  })
  return `<?xml version="1.0" encoding="UTF-8"?>
<IODevice xmlns="http://www.io-link.com/IODD/2010/10" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><ProfileBody><DeviceIdentity vendorId="3841" vendorName="Synthetic" deviceId="1"><DeviceVariantCollection><DeviceVariant productId="SY"><Name textId="T_Off"/></DeviceVariant></DeviceVariantCollection></DeviceIdentity>
<DeviceFunction><VariableCollection>
${variables.join('\n')}
</VariableCollection></DeviceFunction></ProfileBody><ExternalTextCollection><PrimaryLanguage xml:lang="en"><Text id="T_Off" value="off"/>
${texts.join('\n')}
</PrimaryLanguage></ExternalTextCollection></IODevice>
`
}

export function syntheticGsd(bytes: number): string {
  const modules = fill(
    bytes,
    (number) => `Module = "Synthetic module ${number}" 0x50,0x20 ; two octets in, one out
${number + 1}
Ext_Module_Prm_Data_Len = 4
Ext_User_Prm_Data_Const(0) = 0x00,0x01,0x02,0x03
Ext_User_Prm_Data_Ref(0) = 1
Ext_User_Prm_Data_Ref(2) = 2
Info_Text = "Made up to measure reading"
EndModule`,
  )
  return `#Profibus_DP
GSD_Revision = 5
Vendor_Name = "Synthetic"
Model_Name = "SY"
Ident_Number = 0x0F01
Modular_Station = 1
Max_Module = 32
PrmText = 1
Text(0) = "off"
Text(1) = "on"
EndPrmText
ExtUserPrmData = 1 "Wire break"
Bit(0) 0 0-1
Prm_Text_Ref = 1
EndExtUserPrmData
ExtUserPrmData = 2 "Filter"
Unsigned16 500 1-1000
EndExtUserPrmData
${modules.join('\n')}
`
}

export function syntheticEds(bytes: number): string {
  const parameters = fill(
    bytes * 0.7,
    (
      number,
    ) => `  Param${number + 1} = 0, ,"20 0F 24 ${(number % 256).toString(16).padStart(2, '0')} 30 01", 0x0000, 0xC7, 2, $ invented
    "Parameter ${number + 1}", "ms", "Made up to measure reading", 0, 1000, ${number % 1000}, , , , , , , , , 0;`,
  )
  const assemblies = fill(
    bytes * 0.3,
    (number) =>
      `  Assem${number + 1} = "Assembly ${number + 1}", "20 04 25 00 ${(number & 255).toString(16).padStart(2, '0')} ${((number >> 8) & 255).toString(16).padStart(2, '0')} 30 03", , 0x0000, , , ${Array.from({ length: 8 }, (_, i) => `16, Param${((number * 8 + i) % parameters.length) + 1}`).join(', ')};`,
  )
  return `[File]
  DescText = "Synthetic"; Revision = 1.0;
[Device]
  VendCode = 3841; VendName = "Synthetic"; ProdType = 12; ProdCode = 1; MajRev = 1; MinRev = 1; ProdName = "SY"; Catalog = "SY-1";
[Params]
${parameters.join('\n')}
[Assembly]
${assemblies.join('\n')}
[Connection Manager]
  Connection1 = 0x04010002, 0x44640405, 10000, , Assem1, 10000, , Assem2, , , , Assem3, "All", "", "20 04 24 03 2C 01 2C 02";
`
}
