import { filesOfPlan } from '../plan/files'
import type { Derived } from '../derive/derive'
import { writeHosts } from './addresses/hosts'
import { writeKea } from './addresses/kea'
import { writeArchive } from './archive'
import { writeCsv, writeTableCsv } from './csv'
import { writeCaex } from './caex/write'
import { writeChanges, type ChangeEntry } from './changes'
import { writeEthercatNetwork } from './ethercat/network-information'
import {
  documentNames,
  printDocument,
  type DocumentName,
  type Measure,
  type PrintedDocument,
} from './documents'
import { CannotExport, usualOptions, type ExportOptions } from './options'
import { originOf, type Origin } from './origin'
import { writeIec61131 } from './programs/iec61131-10'
import { writePlcopen } from './programs/plcopen'
import { writeDeclarations } from './programs/structured-text'
import { ioList } from './io-list'
import { writeProjectFile, type FileName } from './project-file'
import { identityTable } from './identity-list'
import { parameterTable, portTable, recordTable } from './parameter-list'
import { writeSafetyData } from './safety/data'
import { cipSafetyTable, fParameterTable, safetyReleaseTable, safetyTable } from './safety/tables'
import { cableTable, failureTable, loadTable, supplyTable, wireTable } from './network-list'
import { exportFormats, type ExportFormat, type ExportName } from './formats'
import { safetySignature } from '../safety'
import { ioTable, writeXlsx, type Progress, type SheetTable } from './xlsx'

/** What an export may need beyond the plan. */
export interface ExportInput {
  readonly derived: Derived
  readonly revision: number
  readonly blockers: number
  /** When the revision was made; null or left out where nobody knows. */
  readonly at?: string | null
  readonly options?: Partial<ExportOptions>
  readonly files: readonly FileName[]
  /** Raw bytes of a description file, by hash. */
  readonly loadFile: (sha256: string) => Promise<Uint8Array | null>
  /** Draws a document; left out where the program that asks cannot. */
  readonly draw?: (
    make: (measure: Measure) => PrintedDocument,
    origin: Origin,
    progress?: Progress,
  ) => Promise<Uint8Array>
  /** The change log, oldest first; left out where there is none. */
  readonly history?: () => AsyncIterable<ChangeEntry>
  /** Is told how far it is, where that takes long. */
  readonly progress?: Progress | undefined
}

interface Wanted extends ExportInput {
  readonly origin: Origin
  readonly options: ExportOptions
}

type Writer = (wanted: Wanted) => Uint8Array | Promise<Uint8Array>

const encoded =
  (write: (wanted: Wanted) => string): Writer =>
  (wanted) =>
    new TextEncoder().encode(write(wanted))

const workbook =
  (...tables: readonly ((derived: Derived) => SheetTable)[]): Writer =>
  ({ derived, origin, progress }) =>
    writeXlsx(
      tables.map((of) => of(derived)),
      origin,
      progress,
    )

const chosenController = ({ options }: Wanted) => options.controller || undefined

const printed =
  (name: DocumentName): Writer =>
  ({ derived, origin, options, draw, progress }) => {
    if (!draw) throw new CannotExport('Documents are written by the server and the command line.')
    return draw(
      (measure) => printDocument(name, { derived, origin, options, measure }),
      origin,
      progress,
    )
  }

const writers: Readonly<Record<ExportName, Writer>> = {
  ...(Object.fromEntries(documentNames.map((name) => [name, printed(name)])) as Record<
    DocumentName,
    Writer
  >),
  csv: ({ derived, options }) => writeCsv(ioList(derived), options),
  xlsx: ({ derived, origin, options, progress }) =>
    writeXlsx([ioTable(ioList(derived), options.columns)], origin, progress),
  declarations: encoded((wanted) =>
    writeDeclarations(wanted.derived, wanted.origin, chosenController(wanted)),
  ),
  plcopen: (wanted) => writePlcopen(wanted.derived, wanted.origin, chosenController(wanted)),
  'iec61131-10': (wanted) => writeIec61131(wanted.derived, wanted.origin, chosenController(wanted)),
  caex: ({ derived, origin }) => writeCaex(derived, origin),
  'ethercat-network': encoded((wanted) =>
    writeEthercatNetwork(wanted.derived, wanted.origin, chosenController(wanted)),
  ),
  parameters: workbook(
    parameterTable,
    recordTable,
    portTable,
    safetyTable,
    cipSafetyTable,
    identityTable,
  ),
  safety: ({ derived, origin, progress }) =>
    writeXlsx(
      [
        safetyReleaseTable(derived, origin.safetySignature),
        ...[safetyTable, fParameterTable, cipSafetyTable].map((of) => of(derived)),
      ],
      origin,
      progress,
    ),
  'safety-data': encoded(({ derived, origin }) => writeSafetyData(derived, origin)),
  cables: ({ derived, options }) => writeTableCsv(cableTable(derived), options),
  networks: workbook(cableTable, loadTable, wireTable, supplyTable, failureTable),
  hosts: encoded(({ derived, origin }) => writeHosts(derived, origin)),
  kea: encoded(({ derived, origin }) => writeKea(derived, origin)),
  changes: ({ history }) => (history ? writeChanges(history()) : new Uint8Array()),
  kataxis: ({ derived, revision, files, at }) =>
    new TextEncoder().encode(writeProjectFile(derived.plan, revision, files, at)),
  archive: async ({ derived, revision, files, at, loadFile }) => {
    const used = new Set(filesOfPlan(derived.plan))
    const loaded = await Promise.all(
      files
        .filter(({ sha256 }) => used.has(sha256))
        .map(async (file) => ({ ...file, bytes: await loadFile(file.sha256) })),
    )
    return writeArchive(
      writeProjectFile(derived.plan, revision, files, at),
      loaded.flatMap((file) => (file.bytes ? [{ ...file, bytes: file.bytes }] : [])),
    )
  },
}

/** An export as the bytes of its file. */
export async function writeExport(name: ExportName, input: ExportInput): Promise<Uint8Array> {
  const { derived, revision, blockers, at = null } = input
  return writers[name]({
    ...input,
    options: { ...usualOptions, ...input.options },
    origin: originOf(derived, revision, blockers, at),
  })
}

/** File name of an export: project, revision, the first digits of the fail-safe signature where the
 *  file itself has no room for it, and `draft` while blockers are open. */
export function exportFileName(
  name: ExportName,
  { derived, revision, blockers }: ExportInput,
): string {
  const format: ExportFormat = exportFormats[name]
  const signature = format.isSignedByName ? safetySignature(derived) : null
  const project =
    derived.plan.project.name
      .normalize('NFKD')
      .replace(/[^\w]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase() || 'project'
  return `${project}-r${revision}${signature === null ? '' : `-s${signature.slice(0, 8)}`}${format.isDeliverable && blockers > 0 ? '-draft' : ''}.${format.extension}`
}
