import { workerData } from 'node:worker_threads'
import { connect } from '../db/connect'
import { problemOf } from '../http/problem'
import * as jobsRepository from '../repositories/jobs'
import { putTogether, type PlanServices } from '../services'
import type { WritingReply, WritingTask } from './threads'

const { databaseUrl } = workerData as { databaseUrl: string }
let services: PlanServices | null = null

/** Writes one export, or the package of a release, and keeps it with its job. */
export default async function write(task: WritingTask): Promise<WritingReply> {
  const { jobId, projectId, port } = task
  services ??= putTogether(connect(databaseUrl, 2).db, false)
  try {
    const { handover } = services
    const progress = (done: number, total: number) => port.postMessage([done, total])
    const { bytes, fileName, mediaType } = await (task.kind === 'export'
      ? handover.export(projectId, task.format, task.options, progress)
      : handover.release(projectId, task.wish, task.signer, progress))
    await jobsRepository.keepFile(services.db, jobId, bytes)
    return { fileName, mediaType, bytes: bytes.length }
  } catch (error) {
    const problem = problemOf(error)
    if (problem.isFault) throw error
    const { status, code, detail, extra } = problem
    return { refused: { status, code, detail, extra } }
  }
}
