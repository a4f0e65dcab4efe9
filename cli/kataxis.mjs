#!/usr/bin/env node
// Runs the command line as it was built last; at the first call after the sources changed it is
// built anew. Plain Node, no packages.
import { createHash } from 'node:crypto'
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

const here = fileURLToPath(new URL('.', import.meta.url))
const built = join(here, 'dist')
const marker = join(built, '.sources')

/** Names, sizes and times of the sources: reading them all would take longer than most calls. */
function stateOfSources() {
  const hash = createHash('sha256')
  const visit = (path) => {
    for (const entry of readdirSync(path, { withFileTypes: true })) {
      if (/^(node_modules|dist.*|test)$|\.test\.ts$/.test(entry.name)) continue
      const inside = join(path, entry.name)
      if (entry.isDirectory()) visit(inside)
      else {
        const { size, mtimeMs } = statSync(inside)
        hash.update(`${inside} ${size} ${mtimeMs}\n`)
      }
    }
  }
  for (const name of ['core', 'pdf', 'standins']) visit(join(here, '..', name))
  visit(here)
  return hash.digest('hex')
}

const isBuilt = (state) => existsSync(marker) && readFileSync(marker, 'utf8') === state

/** What only the sources decide is printed once, and from then on only read. */
async function printAhead(made) {
  const { printedSchemas } = await import(pathToFileURL(join(made, 'schema.js')).href)
  mkdirSync(join(made, 'printed'))
  for (const [args, text] of await printedSchemas()) writeFileSync(printedBy(made, args), text)
}
const printedBy = (folder, args) =>
  join(folder, 'printed', `${args.replaceAll(/[^\w-]/g, '_')}.json`)

/** Another call may build at the same time; whoever is first stays. */
async function build(state) {
  const { build: bundle } = await import('vite')
  const made = join(here, `dist-${process.pid}`)
  const configFile = join(here, 'vite.config.ts')
  await bundle({ configFile, logLevel: 'silent', build: { outDir: made } })
  await printAhead(made)
  writeFileSync(join(made, '.sources'), state)
  try {
    if (isBuilt(state)) throw new Error('built meanwhile')
    rmSync(built, { recursive: true, force: true })
    renameSync(made, built)
  } catch {
    rmSync(made, { recursive: true, force: true })
  }
}

const state = stateOfSources()
if (!isBuilt(state)) await build(state)
// A reader that closes early (`| head`) is no fault.
process.stdout.on('error', () => process.exit(0))
const args = process.argv.slice(2)
const printed = args[0] === 'schema' ? printedBy(built, args.join(' ')) : null
if (printed !== null && existsSync(printed)) process.stdout.write(readFileSync(printed))
else {
  const { main } = await import(pathToFileURL(join(built, 'main.js')).href)
  process.exitCode = await main(process.argv)
}
