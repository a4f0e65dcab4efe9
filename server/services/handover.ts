import {
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
  unsignedPlan,
  withoutSafety,
  type ExportName,
  type Plan,
  type ProjectRow,
} from '@kataxis/core'
import type { Database } from '../db/connect'
import { Refused } from './refused'
import { refusal, refusalWith } from './refusals'
import type { Plans } from './plans'
import type { Shelf } from './shelf'

interface Importer {
  readonly name: string
  readonly mayChangeSafety: boolean
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
    progress?: (done: number, total: number) => void,
  ): Promise<{ bytes: Uint8Array; fileName: string; mediaType: string }> {
    const { plan, revision, catalog } = await this.plans.loadWithCatalog(projectId)
    const derived = derive(plan, catalog)
    const files = await this.shelf.names(filesOfPlan(plan))
    const input = {
      derived,
      revision,
      blockers: check(derived).blockers,
      files,
      loadFile: async (hash: string) => (await this.shelf.content(hash)).content,
      progress,
    }
    const bytes = await writeExport(name, input)
    return {
      bytes,
      fileName: exportFileName(name, input),
      mediaType: exportFormats[name].mediaType,
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
    return this.begin(read.plan, { id }, importer, read.revision)
  }

  /** A new project with the plan of another one as it stands, under another name; what is fail-safe
   *  as on import. */
  async copy(projectId: string, name: string, copier: Importer): Promise<{ id: string }> {
    const { plan } = await this.plans.load(projectId)
    return this.begin(plan, { id: newId('p-'), name }, copier, 0, projectId)
  }

  private async begin(
    plan: Plan,
    as: Partial<ProjectRow> & { readonly id: string },
    { name, mayChangeSafety }: Importer,
    revision: number,
    like: string | null = null,
  ): Promise<{ id: string }> {
    const taken = mayChangeSafety
      ? unsignedPlan(plan, name)
      : withoutSafety(plan, await this.plans.catalogs.load(this.db, filesOfPlan(plan)))
    await this.plans.import({ ...taken, project: { ...taken.project, ...as } }, revision, like)
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
