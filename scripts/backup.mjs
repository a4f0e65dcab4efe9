// `npm run backup [-- FILE]`: database and description files in one file, also while the program
// runs. Plain Node, no packages.
import { join, resolve } from 'node:path'
import { withDatabase, writeBackup } from './setup/backup.mjs'
import { root } from './setup/run.mjs'
import { failWith, say } from './setup/say.mjs'

const home = resolve(process.env.KATAXIS_HOME ?? join(root, '.kataxis'))
const stamp = new Date().toISOString().slice(0, 19).replace(/[T:]/g, '-')
const file = resolve(process.argv[2] ?? `kataxis-${stamp}.backup`)

withDatabase(home, async (database) => {
  const { bytes, projects, files } = await writeBackup(database, file)
  say(`${file}: ${projects} projects and ${files} description files, ${Math.ceil(bytes / 1e6)} MB.`)
}).catch(failWith)
