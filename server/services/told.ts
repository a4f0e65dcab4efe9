import type { Connection } from '../db/connect'
import { notFound } from './refused'
import * as changesRepository from '../repositories/changes'
import type { ChangeEntry } from '../repositories/changes'
import * as plansRepository from '../repositories/plans'

/** What happened since the sender last looked, and in which database. */
export interface Told {
  readonly epoch: string
  readonly entries: readonly ChangeEntry[]
}

/** More is not told one by one: who is so far behind loads the plan. */
export const mostTold = 500

/** What happened after a revision, in whichever database this is; the newest where it is more than
 *  is told. */
export async function toldSince(
  db: Connection,
  projectId: string,
  revision: number,
): Promise<Told> {
  const head = await plansRepository.findProject(db, projectId)
  if (!head) throw notFound('project')
  return {
    epoch: head.epoch,
    entries: await changesRepository.changesSince(db, projectId, revision, mostTold),
  }
}

const known = new WeakMap<ChangeEntry, string>()

/** As JSON. Each entry is written once and told to everybody who works on the plan. */
export function written({ epoch, entries }: Told): string {
  return `{"epoch":${JSON.stringify(epoch)},"entries":[${entries.map(writtenEntry).join()}]}`
}

function writtenEntry(entry: ChangeEntry): string {
  const text = known.get(entry) ?? JSON.stringify(entry)
  known.set(entry, text)
  return text
}
