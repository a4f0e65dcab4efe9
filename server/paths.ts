import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The project's folder, from the sources as from what was built of them. */
export const projectRoot = above(dirname(fileURLToPath(import.meta.url)))
/** Built programs of threads: code is built once and not compiled at run time. */
export const builtFile = (name: string) => join(projectRoot, 'server', 'dist', `${name}.js`)

function above(folder: string): string {
  return existsSync(join(folder, 'package-lock.json')) ? folder : above(dirname(folder))
}
