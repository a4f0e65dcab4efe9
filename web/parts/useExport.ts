import { useMessage } from 'naive-ui'
import { channelsOfJob, type ExportName } from '@kataxis/core'
import { api } from '../api/client'
import { useJobs } from '../stores/jobs'
import { useProject } from '../stores/project'

/** Downloads an export of the open project: at once, or as a job where the plan is large. */
export function useExport(): (format: ExportName) => void {
  const project = useProject()
  const jobs = useJobs()
  const message = useMessage()
  return (format) => {
    if ((project.derived?.totals.channels ?? 0) >= channelsOfJob)
      return void jobs.beginExport(project.id, format).then(
        () => message.info('It is being written; see Jobs at the top.'),
        (error: unknown) => message.error((error as Error).message),
      )
    const link = document.createElement('a')
    link.href = api.exportUrl(project.id, format)
    link.download = ''
    link.click()
  }
}
