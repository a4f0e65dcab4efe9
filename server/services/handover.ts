import {
  CannotExport,
  check,
  derive,
  exportFileName,
  exportFormats,
  writeExport,
  filesOfPlan,
  isZip,
  newId,
  readArchive,
  readProjectFile,
  safetySignature,
  unsignedPlan,
  withoutSafety,
  writePackage,
  type ExportInput,
  type ExportName,
  type ExportOptions,
  type Plan,
  type ProjectRow,
  type releaseWish,
  type ReleaseView,
} from '@kataxis/core'
import type { z } from 'zod'
import type { Database } from '../db/connect'
import { changeLog, momentOf } from '../repositories/history'
import * as releasesRepository from '../repositories/releases'
import { insertVersion } from '../repositories/versions'
import { notFound, Refused } from './refused'
import { refusal, refusalWith } from './refusals'
import type { Plans } from './plans'
import type { Shelf } from './shelf'

interface Importer {
  readonly name: string
  readonly mayChangeSafety: boolean
}

type Progress = (done: number, total: number) => void

export interface WrittenFile {
  readonly bytes: Uint8Array
  readonly fileName: string
  readonly mediaType: string
}

export type ReleaseWish = z.output<typeof releaseWish>

const packageName = (name: string) =>
  `${
    name
      .normalize('NFKD')
      .replace(/[^\w]+/g, '-')
      .replace(/^-+|-+$/g, '') || 'release'
  }.zip`

/** What an export cannot be written for is told to whoever asked. */
async function sayingWhy<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    throw error instanceof CannotExport ? refusal('export.impossible', error.message) : error
  }
}

/** What leaves the program, and whole projects coming back in. */
export class Handover {
  constructor(
    private readonly db: Database,
    private readonly plans: Plans,
    private readonly shelf: Shelf,
  ) {}

  async export(
    projectId: string,
    name: ExportName,
    options: Partial<ExportOptions> = {},
    progress?: Progress,
  ): Promise<WrittenFile> {
    const input = { ...(await this.inputOf(projectId)), options, progress }
    return {
      bytes: await sayingWhy(() => writeExport(name, input)),
      fileName: exportFileName(name, input),
      mediaType: exportFormats[name].mediaType,
    }
  }

  /** Hands the plan over as it is now: a package of files, kept with its name and who signed it; the
   *  revision gets that name too. */
  async release(
    projectId: string,
    { name, formats, options, onlyChanged }: ReleaseWish,
    signer: { readonly userId: string; readonly author: string },
    progress?: Progress,
  ): Promise<WrittenFile> {
    const input = { ...(await this.inputOf(projectId)), options, progress }
    const [before] = await releasesRepository.listReleases(this.db, projectId)
    const at = new Date()
    const { bytes, files } = await sayingWhy(() =>
      writePackage(input, {
        release: { name, author: signer.author, at: at.toISOString() },
        formats,
        before: before ?? null,
        onlyChanged,
      }),
    )
    const { derived, revision, blockers } = input
    await this.db.transaction(async (tx) => {
      const row = { projectId, name, revision, ...signer, at, blockers, files, content: bytes }
      const isNew =
        (await insertVersion(tx, { projectId, name, revision, author: signer.author, at })) &&
        (await releasesRepository.insertRelease(tx, {
          ...row,
          safetySignature: safetySignature(derived),
        }))
      if (!isNew) throw refusal('version.exists', name)
    })
    return { bytes, fileName: packageName(name), mediaType: 'application/zip' }
  }

  async releases(projectId: string): Promise<ReleaseView[]> {
    return (await releasesRepository.listReleases(this.db, projectId)).map((row) => ({
      ...row,
      at: row.at.toISOString(),
    }))
  }

  async releasePackage(projectId: string, name: string): Promise<WrittenFile> {
    const found = await releasesRepository.findRelease(this.db, projectId, name)
    if (!found) throw notFound('release')
    return { bytes: found.content, fileName: packageName(name), mediaType: 'application/zip' }
  }

  private async inputOf(projectId: string): Promise<ExportInput> {
    const { plan, revision, catalog } = await this.plans.loadWithCatalog(projectId)
    const derived = derive(plan, catalog)
    return {
      derived,
      revision,
      blockers: check(derived).blockers,
      at: await momentOf(this.db, projectId, revision),
      files: await this.shelf.names(filesOfPlan(plan)),
      loadFile: async (hash: string) => (await this.shelf.content(hash)).content,
      history: () => changeLog(this.db, projectId),
      // Loaded once somebody wants a document.
      draw: async (...wanted) => (await import('@kataxis/pdf')).drawDocument(...wanted),
    }
  }

  /** A project file or archive becomes a new project; where its id is taken it gets another one.
   *  What is fail-safe comes in unsigned, and of somebody who may not change it not at all. */
  async import(bytes: Uint8Array, importer: Importer): Promise<{ id: string }> {
    const archive = isZip(bytes)
      ? readArchive(bytes)
      : { projectText: new TextDecoder().decode(bytes), files: [] }
    if ('fault' in archive) throw refusal('import.archive', archive.fault)
    const read = readProjectFile(archive.projectText)
    if ('fault' in read) throw refusal('import.project', read.fault)
    for (const { name, bytes: content } of archive.files) {
      const refused = (await this.shelf.add(name, content)).find(({ state }) => state === 'refused')
      if (refused)
        throw refusalWith('file.unreadable', { problems: refused.problems }, refused.sentence)
    }
    const id = (await this.isTaken(read.plan.project.id)) ? newId('p-') : read.plan.project.id
    return this.begin(read.plan, { id }, importer, read.revision, { at: read.at })
  }

  /** A new project with the plan of another one as it stands, under another name; what is fail-safe
   *  as on import. */
  async copy(projectId: string, name: string, copier: Importer): Promise<{ id: string }> {
    const { plan } = await this.plans.load(projectId)
    return this.begin(plan, { id: newId('p-'), name }, copier, 0, { like: projectId })
  }

  private async begin(
    plan: Plan,
    as: Partial<ProjectRow> & { readonly id: string },
    { name, mayChangeSafety }: Importer,
    revision: number,
    more: { readonly at?: string | null; readonly like?: string | null },
  ): Promise<{ id: string }> {
    const taken = mayChangeSafety
      ? unsignedPlan(plan, name)
      : withoutSafety(plan, await this.plans.catalogs.load(this.db, filesOfPlan(plan)))
    await this.plans.import({ ...taken, project: { ...taken.project, ...as } }, revision, more)
    return { id: as.id }
  }

  private async isTaken(id: string): Promise<boolean> {
    return this.plans.load(id).then(
      () => true,
      (error: unknown) => {
        if (error instanceof Refused && error.reason === 'missing') return false
        throw error
      },
    )
  }
}
