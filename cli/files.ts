import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import {
  catalogFor,
  fileEndings,
  isZip,
  maxFileBytes,
  readArchive,
  readDeviceFile,
  readProjectFile,
  unpack,
  type Catalog,
  type DeviceFile,
  type FileName,
  type NamedBytes,
  type Plan,
} from '@kataxis/core'
import { CannotDo } from './cannot-do'

export function readBytes(path: string): Uint8Array {
  if (!existsSync(path)) throw new CannotDo(`There is no file "${path}".`)
  const { size } = statSync(path)
  if (statSync(path).isDirectory()) throw new CannotDo(`"${path}" is a folder; a file is needed.`)
  if (size > 16 * maxFileBytes)
    throw new CannotDo(`"${path}" has ${Math.round(size / 1e6)} MB; that is more than is read.`)
  return readFileSync(path)
}

export function sha256(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex')
}

/** The one description file that a path holds, alone or in a ZIP. */
export function onlyDescription(path: string): NamedBytes {
  const bytes = readBytes(path)
  if (!isZip(bytes)) return { name: basename(path), bytes }
  const unpacked = unpack(bytes)
  if ('fault' in unpacked) throw new CannotDo(`${basename(path)}: ${unpacked.fault}`)
  if (unpacked.files.length > 1)
    throw new CannotDo(
      `${basename(path)} holds ${unpacked.files.length} description files; name one of them.`,
    )
  return unpacked.files[0]!
}

export interface LoadedFile extends FileName, NamedBytes {
  readonly file: DeviceFile
}

/** Every readable description file of a folder. */
export function loadFolder(folder: string): LoadedFile[] {
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new CannotDo(`There is no folder "${folder}".`)
  return loadFiles(
    readdirSync(folder)
      .map((name) => join(folder, name))
      .filter(
        (path) =>
          fileEndings.some((ending) => path.toLowerCase().endsWith(ending)) &&
          statSync(path).isFile() &&
          statSync(path).size <= maxFileBytes,
      )
      .sort()
      .map((path) => ({ name: basename(path), bytes: readFileSync(path) })),
  )
}

function loadFiles(files: readonly NamedBytes[]): LoadedFile[] {
  return files.flatMap(({ name, bytes }) => {
    const { file } = readDeviceFile(bytes, name)
    return file ? [{ name, bytes, sha256: sha256(bytes), file }] : []
  })
}

export interface LoadedPlan {
  readonly plan: Plan
  readonly revision: number
  readonly at: string | null
  readonly names: FileName[]
  readonly files: LoadedFile[]
}

/** A project file or archive with its description files: inside the archive, beside it, in `files/`
 *  beside it, or in `named` folders. */
export function loadPlan(path: string, named: readonly string[] = []): LoadedPlan {
  const bytes = readBytes(path)
  const archive = isZip(bytes)
    ? readArchive(bytes)
    : { projectText: new TextDecoder().decode(bytes), files: [] }
  if ('fault' in archive) throw new CannotDo(`${path}: ${archive.fault}`)
  const read = readProjectFile(archive.projectText)
  if ('fault' in read) throw new CannotDo(`${path}: ${read.fault}`)
  const beside = dirname(path)
  const folders = [...[beside, join(beside, 'files')].filter(existsSync), ...named]
  return {
    plan: read.plan,
    revision: read.revision,
    at: read.at,
    names: read.files,
    files: [...loadFiles(archive.files), ...folders.flatMap(loadFolder)],
  }
}

/** The files as a catalog, with what sheets of the plan add to them. */
export function catalogOf(files: readonly LoadedFile[], plan?: Plan): Catalog {
  const catalog = new Map(files.map((entry) => [entry.sha256, entry.file]))
  return plan ? catalogFor(plan.project, catalog) : catalog
}
