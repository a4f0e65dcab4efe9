import { readList } from '@kataxis/core'

/** Reads a list beside the page: a large workbook takes seconds. */
self.onmessage = async ({
  data: { bytes, name },
}: MessageEvent<{ bytes: Uint8Array; name: string }>) => {
  self.postMessage(await readList(bytes, name))
}
