/** Every terminal of an invented series, each in several issues: an ESI text of more than 5 MB,
 *  made at set-up so that it needs no place in the repository. */
export const largeEsiName = 'Quillane-QE900-series.xml'

const kinds = [
  {
    letters: 'DI',
    words: 'inputs',
    german: 'Eingänge',
    pdo: 'TxPdo',
    type: 'BOOL',
    bits: 1,
    index: 0x1a00,
  },
  {
    letters: 'DO',
    words: 'outputs',
    german: 'Ausgänge',
    pdo: 'RxPdo',
    type: 'BOOL',
    bits: 1,
    index: 0x1600,
  },
  {
    letters: 'AI',
    words: 'analog inputs',
    german: 'analoge Eingänge',
    pdo: 'TxPdo',
    type: 'INT',
    bits: 16,
    index: 0x1a00,
  },
  {
    letters: 'AO',
    words: 'analog outputs',
    german: 'analoge Ausgänge',
    pdo: 'RxPdo',
    type: 'INT',
    bits: 16,
    index: 0x1600,
  },
] as const
const grades = [
  'standard',
  'fast',
  'long cable',
  'low power',
  'wide temperature',
  'ship',
  'rail',
  'ozone-proof',
]

export function largeEsi(): string {
  const devices: string[] = []
  for (const [k, kind] of kinds.entries()) {
    for (const count of [2, 4, 8, 16]) {
      for (const [g, grade] of grades.entries()) {
        for (let issue = 1; issue <= 8; issue++)
          devices.push(device(kind, count, 0x9000 + k * 0x400 + count * 0x10 + g, grade, issue))
      }
    }
  }
  return `<?xml version="1.0" encoding="utf-8"?>
<!-- Invented for the demo project of Kataxis: maker, numbers and devices do not exist. -->
<EtherCATInfo Version="1.6"><Vendor><Id>#x00000F01</Id><Name>Quillane</Name></Vendor>
<Descriptions><Groups><Group><Type>QE900</Type><Name LcId="1033">QE900 terminals</Name></Group></Groups><Devices>
${devices.join('\n')}
</Devices></Descriptions></EtherCATInfo>
`
}

function device(
  kind: (typeof kinds)[number],
  count: number,
  code: number,
  grade: string,
  issue: number,
): string {
  const hex = (value: number) => `#x${value.toString(16).padStart(8, '0')}`
  const entry = (channel: number, subindex: number, name: string, type: string, bits: number) =>
    `  <Entry><Index>#x${(0x6000 + 16 * channel).toString(16)}</Index><SubIndex>${subindex}</SubIndex><BitLen>${bits}</BitLen><Name>${name}</Name><DataType>${type}</DataType></Entry>`
  const pdos = Array.from(
    { length: count },
    (
      _,
      channel,
    ) => ` <${kind.pdo} Fixed="1" Sm="${kind.pdo === 'TxPdo' ? 3 : 2}"><Index>#x${(kind.index + channel).toString(16)}</Index><Name>Channel ${channel + 1}</Name>
${kind.bits === 1 ? entry(channel, 1, 'State', 'BOOL', 1) : [entry(channel, 1, 'Underrange', 'BOOL', 1), entry(channel, 2, 'Overrange', 'BOOL', 1), '  <Entry><Index>#x0</Index><BitLen>14</BitLen></Entry>', entry(channel, 17, 'Value', kind.type, kind.bits)].join('\n')}
 </${kind.pdo}>`,
  )
  const objects = Array.from(
    { length: count },
    (_, channel) =>
      `  <Object><Index>#x${(0x8000 + 16 * channel).toString(16)}</Index><Name>Settings of channel ${channel + 1}</Name><Type>UDINT</Type><BitSize>32</BitSize><Info><DefaultData>0${issue}000000</DefaultData></Info><Flags><Access>rw</Access></Flags></Object>`,
  )
  const older = issue > 1 ? `<HideType RevisionNo="${hex((issue - 1) * 0x10000)}"/>` : ''
  return `<Device Physics="KK"><Type ProductCode="${hex(code)}" RevisionNo="${hex(issue * 0x10000)}">QE9-${kind.letters}${count}-${code.toString(16).toUpperCase()}</Type>${older}
 <Name LcId="1033"><![CDATA[${count} ${kind.words}, ${grade}]]></Name><Name LcId="1031"><![CDATA[${count} ${kind.german}, ${grade}]]></Name>
 <Info><Electrical><EBusCurrent>${60 + count * 8}</EBusCurrent></Electrical></Info><GroupType>QE900</GroupType>
 <Sm DefaultSize="128" StartAddress="#x1000" ControlByte="#x26" Enable="1">MBoxOut</Sm><Sm DefaultSize="128" StartAddress="#x1080" ControlByte="#x22" Enable="1">MBoxIn</Sm><Sm StartAddress="#x1100" ControlByte="#x24" Enable="1">Outputs</Sm><Sm StartAddress="#x1180" ControlByte="#x20" Enable="1">Inputs</Sm>
${pdos.join('\n')}
 <Mailbox><CoE SdoInfo="1"><InitCmd><Transition>PS</Transition><Index>#x8000</Index><SubIndex>6</SubIndex><Data>0${issue}00</Data><Comment>Filter</Comment></InitCmd></CoE></Mailbox>
 <Profile><Dictionary><Objects>
${objects.join('\n')}
 </Objects></Dictionary></Profile></Device>`
}
