import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { readDeviceFile } from '@kataxis/core'

/** Peak resident memory above what stood there with the bytes already loaded, while one file is
 *  read. */
const bytes = readFileSync(process.argv[2]!)
const before = process.memoryUsage.rss()
const { file } = readDeviceFile(bytes, basename(process.argv[2]!))
const peak = process.resourceUsage().maxRSS * 1024
if (!file) throw new Error('the synthetic file was not read')
process.stdout.write(
  JSON.stringify({ extraBytes: Math.max(0, peak - before), fileBytes: bytes.length }),
)
