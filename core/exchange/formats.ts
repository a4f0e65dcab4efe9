/** Exports by what they are for. */
export const exportGroups = {
  documents: 'Documents',
  lists: 'Lists',
  exchange: 'For other programs',
  project: 'The project itself',
} as const
export type ExportGroup = keyof typeof exportGroups

/** What is known of an export apart from how it is written; the page shows it. */
export interface ExportFormat {
  readonly group: ExportGroup
  readonly label: string
  readonly what: string
  readonly extension: string
  readonly mediaType: string
  /** Whether open blockers make it a draft. */
  readonly isDeliverable: boolean
  /** Whether it has no room for the fail-safe signature, so that its name says it. */
  readonly isSignedByName?: true
  /** Whether it can be read back. */
  readonly comesBack?: true
}

/** From so many channels on an export is written as a job: it takes longer than somebody waits. */
export const channelsOfJob = 20_000

/** A new export is one entry here and its writer in `exports.ts`. */
export const exportFormats = {
  csv: {
    group: 'lists',
    label: 'I/O list, CSV',
    what: 'One row a channel: station, slot, channel, terminal, address, tag, comment, type, and what is known of its signal. RFC 4180, UTF-8.',
    extension: 'csv',
    isSignedByName: true,
    mediaType: 'text/csv; charset=utf-8',
    isDeliverable: true,
    comesBack: true,
  },
  xlsx: {
    group: 'lists',
    label: 'I/O list, XLSX',
    what: 'The same list as a workbook with a filter row, and a sheet that names plan and revision.',
    extension: 'xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
    comesBack: true,
  },
  declarations: {
    group: 'exchange',
    label: 'Declarations, Structured Text',
    what: 'Every named signal by IEC 61131-3: a structure type for each station, global variables at their addresses, and scaling blocks called with the right numbers.',
    extension: 'st',
    mediaType: 'text/plain; charset=utf-8',
    isDeliverable: true,
  },
  plcopen: {
    group: 'exchange',
    label: 'Variables, PLCopen XML',
    what: 'TC6 version 2.01: global variables at their addresses, a structure type for each station, and scaling blocks called with the right numbers.',
    extension: 'plcopen.xml',
    mediaType: 'application/xml',
    isDeliverable: true,
    comesBack: true,
  },
  'iec61131-10': {
    group: 'exchange',
    label: 'Variables, IEC 61131-10',
    what: 'The same in the XML of IEC 61131-10:2019.',
    extension: 'iec61131-10.xml',
    mediaType: 'application/xml',
    isDeliverable: true,
    comesBack: true,
  },
  caex: {
    group: 'exchange',
    label: 'Project configuration, CAEX 3.0',
    what: 'IEC 62424 with the roles of IEC 62714: controllers, networks, stations, modules, channels, and which tag is on which channel.',
    extension: 'aml',
    mediaType: 'application/xml',
    isDeliverable: true,
    comesBack: true,
  },
  'ethercat-network': {
    group: 'exchange',
    label: 'EtherCAT network information',
    what: 'ETG.2100, one part for each EtherCAT network: slaves with init commands, cyclic frames, process image.',
    extension: 'ethercat.xml',
    mediaType: 'application/xml',
    isDeliverable: true,
  },
  parameters: {
    group: 'lists',
    label: 'Parameter sheet, XLSX',
    what: 'Every parameter as it is set, every record as the device gets it, and what is fail-safe with its check sums.',
    extension: 'parameters.xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
  },
  safety: {
    group: 'lists',
    label: 'Fail-safe hand-over, XLSX',
    what: 'Signature and release, addresses, F parameters, check sums and configuration signatures; what is stale is named.',
    extension: 'safety.xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
  },
  'safety-data': {
    group: 'exchange',
    label: 'Fail-safe hand-over, JSON',
    what: 'The same as data.',
    extension: 'safety.json',
    mediaType: 'application/json',
    isDeliverable: true,
  },
  cables: {
    group: 'lists',
    label: 'Cable list, CSV',
    what: 'One row a link: label, both ends with their ports, medium, length, cable. RFC 4180, UTF-8; what is changed in it can be pasted back.',
    extension: 'cables.csv',
    isSignedByName: true,
    mediaType: 'text/csv; charset=utf-8',
    isDeliverable: true,
  },
  networks: {
    group: 'lists',
    label: 'Network sheet, XLSX',
    what: 'Cables, load of each link, ways and times of each station, and what every single failure costs.',
    extension: 'networks.xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
  },
  hosts: {
    group: 'exchange',
    label: 'Names and addresses, hosts file',
    what: 'Each station and controller with its address, network by network; role names beside them.',
    extension: 'hosts',
    mediaType: 'text/plain; charset=utf-8',
    isDeliverable: true,
  },
  kea: {
    group: 'exchange',
    label: 'Address reservations, Kea JSON',
    what: 'For the address server: each station that is served its address under a role name, one subnet a network.',
    extension: 'kea.json',
    mediaType: 'application/json',
    isDeliverable: true,
  },
  'io-list-pdf': {
    group: 'documents',
    label: 'I/O list, PDF',
    what: 'Every channel with its terminal, address, tag and comment.',
    extension: 'io-list.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'addresses-pdf': {
    group: 'documents',
    label: 'Address plan, PDF',
    what: 'Identities of all stations, and where each block of data stands in its controller’s image.',
    extension: 'addresses.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'switches-pdf': {
    group: 'documents',
    label: 'Switch cards, PDF',
    what: 'A card for each cabinet: the switches as they have to stand, or how else the address gets into the device.',
    extension: 'switches.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'terminals-pdf': {
    group: 'documents',
    label: 'Terminal plan, PDF',
    what: 'Station by station: which signal is on which terminal of which module.',
    extension: 'terminals.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'circuits-pdf': {
    group: 'documents',
    label: 'Circuits, PDF',
    what: 'The circuit of each named signal: device, channel, supply, and who feeds whom.',
    extension: 'circuits.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'parameters-pdf': {
    group: 'documents',
    label: 'Parameter sheets, PDF',
    what: 'Module by module: parameters as they are set, records as the device gets them.',
    extension: 'parameters.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'safety-pdf': {
    group: 'documents',
    label: 'Fail-safe hand-over, PDF',
    what: 'Addresses, times, check sums and signatures of all that is fail-safe, and who released it.',
    extension: 'safety.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'cables-pdf': {
    group: 'documents',
    label: 'Cables and networks, PDF',
    what: 'Each network drawn, its cables, and the identities of its stations.',
    extension: 'cables.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'findings-pdf': {
    group: 'documents',
    label: 'Network findings, PDF',
    what: 'All findings, load of each link, times of each station, and what every failure costs.',
    extension: 'findings.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'labels-pdf': {
    group: 'documents',
    label: 'Label strips, PDF',
    what: 'Labels for modules and terminals in the size chosen, with marks to cut by.',
    extension: 'labels.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  'protocol-pdf': {
    group: 'documents',
    label: 'Check before start-up, PDF',
    what: 'A form: what is to be seen at each signal, and room for what was seen.',
    extension: 'protocol.pdf',
    mediaType: 'application/pdf',
    isDeliverable: true,
  },
  changes: {
    group: 'project',
    label: 'Change log, NDJSON',
    what: 'Who changed what and when: one JSON object a line, oldest first.',
    extension: 'changes.ndjson',
    isSignedByName: true,
    mediaType: 'application/x-ndjson',
    isDeliverable: false,
  },
  kataxis: {
    group: 'project',
    label: 'Project file',
    what: 'The whole plan as JSON, without loss; description files are named by their hash.',
    extension: 'kataxis.json',
    isSignedByName: true,
    mediaType: 'application/json',
    isDeliverable: false,
    comesBack: true,
  },
  archive: {
    group: 'project',
    label: 'Project archive',
    what: 'Project file and description files in one ZIP: everything another machine needs.',
    extension: 'kataxis.zip',
    isSignedByName: true,
    mediaType: 'application/zip',
    isDeliverable: false,
    comesBack: true,
  },
} as const satisfies Record<string, ExportFormat>

export type ExportName = keyof typeof exportFormats
export const exportNames = Object.keys(exportFormats) as [ExportName, ...ExportName[]]
