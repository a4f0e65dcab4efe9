/** What is known of an export apart from how it is written; the page shows it. */
export interface ExportFormat {
  readonly label: string
  readonly what: string
  readonly extension: string
  readonly mediaType: string
  /** Whether open blockers make it a draft. */
  readonly isDeliverable: boolean
  /** Whether it can be read back. */
  readonly comesBack?: true
}

/** From so many channels on an export is written as a job: it takes longer than somebody waits. */
export const channelsOfJob = 20_000

/** A new export is one entry here and its writer in `exports.ts`. */
export const exportFormats = {
  csv: {
    label: 'I/O list, CSV',
    what: 'One row a channel: station, slot, channel, terminal, address, tag, comment, type, and what is known of its signal. RFC 4180, UTF-8.',
    extension: 'csv',
    mediaType: 'text/csv; charset=utf-8',
    isDeliverable: true,
    comesBack: true,
  },
  xlsx: {
    label: 'I/O list, XLSX',
    what: 'The same list as a workbook with a filter row, and a sheet that names plan and revision.',
    extension: 'xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
    comesBack: true,
  },
  declarations: {
    label: 'Declarations, Structured Text',
    what: 'Every named signal by IEC 61131-3: a structure type for each station, and global variables at their addresses.',
    extension: 'st',
    mediaType: 'text/plain; charset=utf-8',
    isDeliverable: true,
  },
  parameters: {
    label: 'Parameter sheet, XLSX',
    what: 'Every parameter as it is set, every record as the device gets it, and what is fail-safe with its check sums.',
    extension: 'parameters.xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
  },
  cables: {
    label: 'Cable list, CSV',
    what: 'One row a link: label, both ends with their ports, medium, length, cable. RFC 4180, UTF-8; what is changed in it can be pasted back.',
    extension: 'cables.csv',
    mediaType: 'text/csv; charset=utf-8',
    isDeliverable: true,
  },
  networks: {
    label: 'Network sheet, XLSX',
    what: 'Cables, load of each link, ways and times of each station, and what every single failure costs.',
    extension: 'networks.xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
  },
  hosts: {
    label: 'Names and addresses, hosts file',
    what: 'Each station and controller with its address, network by network; role names beside them.',
    extension: 'hosts',
    mediaType: 'text/plain; charset=utf-8',
    isDeliverable: true,
  },
  kea: {
    label: 'Address reservations, Kea JSON',
    what: 'For the address server: each station that is served its address under a role name, one subnet a network.',
    extension: 'kea.json',
    mediaType: 'application/json',
    isDeliverable: true,
  },
  kataxis: {
    label: 'Project file',
    what: 'The whole plan as JSON, without loss; description files are named by their hash.',
    extension: 'kataxis.json',
    mediaType: 'application/json',
    isDeliverable: false,
    comesBack: true,
  },
  archive: {
    label: 'Project archive',
    what: 'Project file and description files in one ZIP: everything another machine needs.',
    extension: 'kataxis.zip',
    mediaType: 'application/zip',
    isDeliverable: false,
    comesBack: true,
  },
} as const satisfies Record<string, ExportFormat>

export type ExportName = keyof typeof exportFormats
export const exportNames = Object.keys(exportFormats) as [ExportName, ...ExportName[]]
