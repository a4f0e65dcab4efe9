import type { Database } from '../db/connect'
import * as versionsRepository from '../repositories/versions'
import type { Plans } from './plans'
import { notFound } from './refused'
import { refusal } from './refusals'

/** Revisions that somebody gave a name. */
export class Versions {
  constructor(
    private readonly db: Database,
    private readonly plans: Plans,
  ) {}

  /** Gives the plan as it is now a name. */
  async name(projectId: string, author: string, name: string): Promise<void> {
    const { revision } = await this.plans.load(projectId)
    if (!(await versionsRepository.insertVersion(this.db, { projectId, name, revision, author })))
      throw refusal('version.exists', name)
  }

  async list(projectId: string): Promise<versionsRepository.Version[]> {
    return versionsRepository.listVersions(this.db, projectId)
  }

  async forget(projectId: string, name: string): Promise<void> {
    if (!(await versionsRepository.deleteVersion(this.db, projectId, name)))
      throw notFound('version')
  }
}
