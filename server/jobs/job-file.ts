import type { Database } from '../db/connect'
import * as jobsRepository from '../repositories/jobs'
import { notFound } from '../services/refused'

/** The file that a job of somebody has made. */
export async function fileOfJob(db: Database, userId: string, id: string) {
  const row = await jobsRepository.findJob(db, userId, id)
  const content =
    row?.state === 'done' && row.fileName !== null ? await jobsRepository.loadFile(db, id) : null
  if (!row || !content) throw notFound('file of a job')
  return {
    content,
    fileName: row.fileName!,
    mediaType: row.mediaType ?? 'application/octet-stream',
  }
}
