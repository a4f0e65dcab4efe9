#!/usr/bin/env node
// Runs the TypeScript sources as they are; nothing needs to be built first.
import { register } from 'tsx/esm/api'

register()
// A reader that closes early (`| head`) is no fault.
process.stdout.on('error', () => process.exit(0))
const { main } = await import('./main.ts')
process.exitCode = await main(process.argv)
