import { readDeviceFile } from '@kataxis/core'
import { syntheticGsdml } from './synthetic'

/** Peak resident memory above what stood there before, while one file is read. */
let bytes: Uint8Array = new TextEncoder().encode(syntheticGsdml(1000))
readDeviceFile(bytes, 'GSDML-V2.35-S-SY-20260101.xml')
bytes = new TextEncoder().encode(syntheticGsdml(Number(process.argv[2])))
const before = process.memoryUsage.rss()
const { file } = readDeviceFile(bytes, 'GSDML-V2.35-S-SY-20260101.xml')
const peak = process.resourceUsage().maxRSS * 1024
if (!file) throw new Error('the synthetic file was not read')
process.stdout.write(JSON.stringify({ extraBytes: Math.max(0, peak - before), fileBytes: bytes.length }))
