import { useMessage } from 'naive-ui'
import {
  channelsOfJob,
  exportFormats,
  type ExportFormat,
  type ExportName,
  type ExportOptions,
} from '@kataxis/core'
import { api } from '../api/client'
import { useJobs } from '../stores/jobs'
import { useProject } from '../stores/project'

/** Documents of plans with more channels than this are written as a job. */
const channelsOfDocument = 4000

/** Downloads an export of the open project: at once, or as a job where it takes long. */
export function useExport(): (format: ExportName, options?: Partial<ExportOptions>) => void {
  const project = useProject()
  const jobs = useJobs()
  const message = useMessage()
  return (format, options = {}) => {
    const { group }: ExportFormat = exportFormats[format]
    const most = group === 'documents' ? channelsOfDocument : channelsOfJob
    if ((project.derived?.totals.channels ?? 0) >= most)
      return void jobs.beginExport(project.id, format, options).then(
        () => message.info('It is being written; see Jobs at the top.'),
        (error: unknown) => message.error((error as Error).message),
      )
    void fetchFile(api.exportUrl(project.id, format, options)).catch((error: unknown) =>
      message.error((error as Error).message),
    )
  }
}

/** Saves a file of the server; its sentence where there is none. */
async function fetchFile(url: string): Promise<void> {
  const response = await fetch(url)
  if (!response.ok) {
    const { detail } = (await response.json().catch(() => ({}))) as { detail?: string }
    throw new Error(detail ?? 'The server could not write the file.')
  }
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download =
    /filename="?([^";]+)"?/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? ''
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
