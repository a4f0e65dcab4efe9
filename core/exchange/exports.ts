import { filesOfPlan } from '../plan/files'
import type { Derived } from '../derive/derive'
import { writeHosts } from './addresses/hosts'
import { writeKea } from './addresses/kea'
import { writeArchive } from './archive'
import { writeCsv, writeTableCsv } from './csv'
import { writeDeclarations } from './declarations'
import { ioList } from './io-list'
import { writeProjectFile, type FileName } from './project-file'
import { safetySignature } from '../safety'
import { identityTable } from './identity-list'
import {
  cipSafetyTable,
  parameterTable,
  portTable,
  recordTable,
  safetyTable,
} from './parameter-list'
import { cableTable, failureTable, loadTable, supplyTable, wireTable } from './network-list'
import { exportFormats, type ExportName } from './formats'
import { ioTable, writeXlsx, type ExportFacts, type Progress } from './xlsx'

/** What an export may need beyond the plan. */
export interface ExportInput {
  readonly derived: Derived
  readonly revision: number
  readonly blockers: number
  readonly files: readonly FileName[]
  /** Raw bytes of a description file, by hash. */
  readonly loadFile: (sha256: string) => Promise<Uint8Array | null>
  /** Is told how far it is, where that takes long. */
  readonly progress?: Progress | undefined
}

const factsOf = (derived: Derived, revision: number, blockers: number): ExportFacts => ({
  project: derived.plan.project.name,
  revision,
  blockers,
  safetySignature: safetySignature(derived),
})

const writers: Readonly<
  Record<ExportName, (input: ExportInput) => Uint8Array | Promise<Uint8Array>>
> = {
  csv: ({ derived }) => writeCsv(ioList(derived)),
  xlsx: ({ derived, revision, blockers, progress }) =>
    writeXlsx([ioTable(ioList(derived))], factsOf(derived, revision, blockers), progress),
  declarations: ({ derived }) => new TextEncoder().encode(writeDeclarations(derived)),
  parameters: ({ derived, revision, blockers, progress }) =>
    writeXlsx(
      [
        parameterTable(derived),
        recordTable(derived),
        portTable(derived),
        safetyTable(derived),
        cipSafetyTable(derived),
        identityTable(derived),
      ],
      factsOf(derived, revision, blockers),
      progress,
    ),
  cables: ({ derived }) => writeTableCsv(cableTable(derived)),
  networks: ({ derived, revision, blockers, progress }) =>
    writeXlsx(
      [cableTable, loadTable, wireTable, supplyTable, failureTable].map((of) => of(derived)),
      factsOf(derived, revision, blockers),
      progress,
    ),
  hosts: ({ derived, revision, blockers }) =>
    new TextEncoder().encode(writeHosts(derived, revision, blockers)),
  kea: ({ derived, revision, blockers }) =>
    new TextEncoder().encode(writeKea(derived, revision, blockers)),
  kataxis: ({ derived, revision, files }) =>
    new TextEncoder().encode(writeProjectFile(derived.plan, revision, files)),
  archive: async ({ derived, revision, files, loadFile }) => {
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
}

/** An export as the bytes of its file. */
export async function writeExport(name: ExportName, input: ExportInput): Promise<Uint8Array> {
  return writers[name](input)
}

/** File name of an export: project, revision, and `draft` while blockers are open. */
export function exportFileName(
  name: ExportName,
  { derived, revision, blockers }: ExportInput,
): string {
  const format = exportFormats[name]
  const project =
    derived.plan.project.name
      .normalize('NFKD')
      .replace(/[^\w]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase() || 'project'
  return `${project}-r${revision}${format.isDeliverable && blockers > 0 ? '-draft' : ''}.${format.extension}`
}
