import { projectTextOf, readList, readProjectFile, type ListTable, type Plan } from '@kataxis/core'

/** Tables of a list; the plan of a project; or a sentence. */
export type ReadList = readonly ListTable[] | { readonly plan: Plan } | string

/** Reads a list beside the page: a large workbook takes seconds. */
self.onmessage = async ({
  data: { bytes, name },
}: MessageEvent<{ bytes: Uint8Array; name: string }>) => {
  self.postMessage(await read(bytes, name))
}

async function read(bytes: Uint8Array, name: string): Promise<ReadList> {
  const text = projectTextOf(bytes)
  if (text === null) return readList(bytes, name)
  const project = readProjectFile(text)
  return 'fault' in project ? `${name}: ${project.fault}` : { plan: project.plan }
}
