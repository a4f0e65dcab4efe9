import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { strToU8, zipSync } from 'fflate'
import { exportFileName, writeExport, type ExportInput } from './exports'
import { exportFormats, type ExportName } from './formats'
import { originOf, wordsOfOrigin } from './origin'

/** A file of a package. `content` is the hash it would have at revision 0 and without a date, so that
 *  it shows whether anything but these changed. */
export interface PackageFile {
  readonly format: ExportName
  readonly fileName: string
  readonly bytes: number
  readonly sha256: string
  readonly content: string
  /** `unchanged`: as in the release before, and left out where only what changed was asked for. */
  readonly state: 'ready' | 'draft' | 'unchanged'
}

export interface Release {
  readonly name: string
  readonly author: string
  /** ISO 8601, UTC. */
  readonly at: string
}

export interface PackageWish {
  readonly release: Release
  readonly formats: readonly ExportName[]
  /** Files of the release before, and what it is called. */
  readonly before: { readonly name: string; readonly files: readonly PackageFile[] } | null
  readonly onlyChanged: boolean
}

const hashOf = (bytes: Uint8Array) => bytesToHex(sha256(bytes))
const fixedTime = new Date('2000-01-01T00:00:00Z')

/** Exports of a plan in one ZIP with a table of contents: what each file is, its hash, whether it is a
 *  draft, and whether it changed since the release before. The same to the byte for the same plan and
 *  release. */
export async function writePackage(
  input: ExportInput,
  { release, formats, before, onlyChanged }: PackageWish,
): Promise<{ bytes: Uint8Array; files: PackageFile[] }> {
  const known = new Map(before?.files.map(({ format, content }) => [format, content]))
  const files: PackageFile[] = []
  const entries: Record<string, [Uint8Array, { mtime: Date }]> = {}
  for (const [i, format] of formats.entries()) {
    const content = hashOf(
      await writeExport(format, { ...input, revision: 0, at: null, progress: undefined }),
    )
    const isSame = known.get(format) === content
    const fileName = exportFileName(format, input)
    const isDraft = exportFormats[format].isDeliverable && input.blockers > 0
    if (isSame && onlyChanged)
      files.push({ format, fileName, bytes: 0, sha256: '', content, state: 'unchanged' })
    else {
      const bytes = await writeExport(format, { ...input, progress: undefined })
      entries[fileName] = [bytes, { mtime: fixedTime }]
      files.push({
        ...{ format, fileName, bytes: bytes.length, sha256: hashOf(bytes), content },
        state: isDraft ? 'draft' : 'ready',
      })
    }
    input.progress?.(i + 1, formats.length)
  }
  const contents = contentsOf(input, release, before?.name ?? null, known, files)
  return {
    files,
    bytes: zipSync({ 'CONTENTS.txt': [strToU8(contents), { mtime: fixedTime }], ...entries }),
  }
}

/** The table of contents. */
function contentsOf(
  { derived, revision, blockers, at = null }: ExportInput,
  release: Release,
  before: string | null,
  known: ReadonlyMap<ExportName, string>,
  files: readonly PackageFile[],
): string {
  const oneLine = (text: string) => text.replace(/\s+/g, ' ').trim()
  const origin = originOf(derived, revision, blockers, at)
  const changed = ({ format, content }: PackageFile) =>
    before === null
      ? ''
      : !known.has(format)
        ? `not in ${oneLine(before)}`
        : known.get(format) === content
          ? `unchanged since ${oneLine(before)}`
          : `CHANGED since ${oneLine(before)}`
  return [
    oneLine(origin.project),
    `Release ${oneLine(release.name)}, signed by ${oneLine(release.author)} on ${release.at}`,
    ...wordsOfOrigin(origin),
    '',
    ...files.flatMap((file) => [
      file.state === 'unchanged' ? `(${file.fileName})` : file.fileName,
      `  ${exportFormats[file.format].label}. ${exportFormats[file.format].what}`,
      ...[
        file.state === 'unchanged' ? 'left out' : `${file.bytes} bytes, SHA-256 ${file.sha256}`,
        file.state === 'draft' ? 'DRAFT' : '',
        changed(file),
      ]
        .filter(Boolean)
        .map((line) => `  ${line}`),
      '',
    ]),
  ].join('\r\n')
}
