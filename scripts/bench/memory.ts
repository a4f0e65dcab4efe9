import { readFileSync } from 'node:fs'
import { readDeviceFile } from '@kataxis/core'

/** Peak resident memory above what stood there with the bytes already loaded, while one file is read. */
const bytes = readFileSync(process.argv[2]!)
const before = process.memoryUsage.rss()
const { file } = readDeviceFile(bytes, 'GSDML-V2.35-S-SY-20260101.xml')
const peak = process.resourceUsage().maxRSS * 1024
if (!file) throw new Error('the synthetic file was not read')
process.stdout.write(JSON.stringify({ extraBytes: Math.max(0, peak - before), fileBytes: bytes.length }))
