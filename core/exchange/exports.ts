import { filesOfPlan } from '../plan/files'
import type { Derived } from '../derive/derive'
import { writeArchive } from './archive'
import { writeCsv } from './csv'
import { writeDeclarations } from './declarations'
import { ioList } from './io-list'
import { writeProjectFile, type FileName } from './project-file'
import { safetySignature } from '../safety'
import { parameterTable, portTable, recordTable, safetyTable } from './parameter-list'
import { ioTable, writeXlsx, type ExportFacts } from './xlsx'

/** What an export may need beyond the plan. */
export interface ExportInput {
  readonly derived: Derived
  readonly revision: number
  readonly blockers: number
  readonly files: readonly FileName[]
  /** Raw bytes of a description file, by hash. */
  readonly loadFile: (sha256: string) => Promise<Uint8Array | null>
}

interface ExportFormat {
  readonly label: string
  readonly what: string
  readonly extension: string
  readonly mediaType: string
  /** Whether open blockers make it a draft. */
  readonly isDeliverable: boolean
  readonly write: (input: ExportInput) => Uint8Array | Promise<Uint8Array>
}

const factsOf = (derived: Derived, revision: number, blockers: number): ExportFacts => ({
  project: derived.plan.project.name,
  revision,
  blockers,
  safetySignature: safetySignature(derived),
})

/** A new export is one entry here. */
export const exportFormats = {
  csv: {
    label: 'I/O list, CSV',
    what: 'One row a channel: station, slot, channel, terminal, address, tag, comment, type, and what is known of its signal. RFC 4180, UTF-8.',
    extension: 'csv',
    mediaType: 'text/csv; charset=utf-8',
    isDeliverable: true,
    write: ({ derived }) => writeCsv(ioList(derived)),
  },
  xlsx: {
    label: 'I/O list, XLSX',
    what: 'The same list as a workbook with a filter row, and a sheet that names plan and revision.',
    extension: 'xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
    write: ({ derived, revision, blockers }) =>
      writeXlsx([ioTable(ioList(derived))], factsOf(derived, revision, blockers)),
  },
  declarations: {
    label: 'Declarations, Structured Text',
    what: 'Every named signal by IEC 61131-3: a structure type for each station, and global variables at their addresses.',
    extension: 'st',
    mediaType: 'text/plain; charset=utf-8',
    isDeliverable: true,
    write: ({ derived }) => new TextEncoder().encode(writeDeclarations(derived)),
  },
  parameters: {
    label: 'Parameter sheet, XLSX',
    what: 'Every parameter as it is set, every record as the device gets it, and what is fail-safe with its check sums.',
    extension: 'parameters.xlsx',
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    isDeliverable: true,
    write: ({ derived, revision, blockers }) =>
      writeXlsx(
        [parameterTable(derived), recordTable(derived), portTable(derived), safetyTable(derived)],
        factsOf(derived, revision, blockers),
      ),
  },
  kataxis: {
    label: 'Project file',
    what: 'The whole plan as JSON, without loss; description files are named by their hash.',
    extension: 'kataxis.json',
    mediaType: 'application/json',
    isDeliverable: false,
    write: ({ derived, revision, files }) =>
      new TextEncoder().encode(writeProjectFile(derived.plan, revision, files)),
  },
  archive: {
    label: 'Project archive',
    what: 'Project file and description files in one ZIP: everything another machine needs.',
    extension: 'kataxis.zip',
    mediaType: 'application/zip',
    isDeliverable: false,
    write: async ({ derived, revision, files, loadFile }) => {
      const used = new Set(filesOfPlan(derived.plan))
      const loaded = await Promise.all(
        files
          .filter(({ sha256 }) => used.has(sha256))
          .map(async (file) => ({ ...file, bytes: await loadFile(file.sha256) })),
      )
      return writeArchive(
        writeProjectFile(derived.plan, revision, files),
        loaded.flatMap((file) => (file.bytes ? [{ ...file, bytes: file.bytes }] : [])),
      )
    },
  },
} satisfies Record<string, ExportFormat>

export type ExportName = keyof typeof exportFormats

/** File name of an export: project, revision, and `draft` while blockers are open. */
export function exportFileName(
  name: ExportName,
  { derived, revision, blockers }: ExportInput,
): string {
  const format: ExportFormat = exportFormats[name]
  const project =
    derived.plan.project.name
      .normalize('NFKD')
      .replace(/[^\w]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase() || 'project'
  return `${project}-r${revision}${format.isDeliverable && blockers > 0 ? '-draft' : ''}.${format.extension}`
}
