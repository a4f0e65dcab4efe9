// `npm run restore -- FILE`: puts a backup in the place of what the database holds. Plain Node, no
// packages.
import { join, resolve } from 'node:path'
import { restoreBackup, withDatabase } from './setup/backup.mjs'
import { root } from './setup/run.mjs'
import { CannotGoOn, failWith, say } from './setup/say.mjs'

const home = resolve(process.env.KATAXIS_HOME ?? join(root, '.kataxis'))

async function main() {
  const file = process.argv[2]
  if (!file) throw new CannotGoOn('Which backup? npm run restore -- FILE')
  await withDatabase(home, async (database) => {
    const { projects, files, madeAt } = await restoreBackup(database, resolve(file))
    say(
      `${projects} projects and ${files} description files of ${madeAt} are in place. Open browsers load them anew.`,
    )
  })
}

main().catch(failWith)
