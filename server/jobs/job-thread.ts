import { workerData } from 'node:worker_threads'
import { connect } from '../db/connect'
import { problemOf } from '../http/problem'
import * as jobsRepository from '../repositories/jobs'
import { putTogether, type PlanServices } from '../services'
import type { ExportReply, ExportTask } from './threads'

const { databaseUrl } = workerData as { databaseUrl: string }
let services: PlanServices | null = null

/** Writes one export and keeps it with its job. */
export default async function writeExport({
  jobId,
  projectId,
  format,
  port,
}: ExportTask): Promise<ExportReply> {
  services ??= putTogether(connect(databaseUrl, 2).db, false)
  try {
    const { bytes, fileName, mediaType } = await services.handover.export(
      projectId,
      format,
      (done, total) => port.postMessage([done, total]),
    )
    await jobsRepository.keepFile(services.db, jobId, bytes)
    return { fileName, mediaType, bytes: bytes.length }
  } catch (error) {
    const problem = problemOf(error)
    if (problem.isFault) throw error
    const { status, code, detail, extra } = problem
    return { refused: { status, code, detail, extra } }
  }
}
